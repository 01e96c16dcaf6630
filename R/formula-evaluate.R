# Evaluates a formula over columns. `at` says where: value(name) gives a column with NA where
# it has no valid answer, kind(name, reason) the rows missing for that reason, rows their number,
# stand_for how many rows of the data each of them is, if not one, met(name) the distinct values with
# their rows, and memo keeps what was learned of a variable.
evaluate <- function(node, at) {
  if (is.symbol(node)) return(at$value(as.character(node)))
  if (!is.call(node)) return(node)
  word <- formula_words[[as.character(node[[1]])]]
  done <- in_blocks(node, at, evaluate)
  if (!is.null(done)) return(done)
  if (word$special) return(evaluate_full(node, at)$x)
  out <- do.call(word$run, lapply(as.list(node)[-1], evaluate, at = at))
  if (is.list(out)) out$x else out
}

# The same for the outermost node, with what it knows about its rows: `branch` of a choose,
# the number of `valid` items of a row function.
evaluate_full <- function(node, at) {
  word <- if (is.call(node)) formula_words[[as.character(node[[1]])]]
  if (is.null(word)) return(list(x = evaluate(node, at)))
  done <- in_blocks(node, at, evaluate)
  if (!is.null(done)) return(list(x = done))
  out <- if (word$special) {
    word$run(node, at, evaluate)
  } else {
    do.call(word$run, lapply(as.list(node)[-1], evaluate, at = at))
  }
  if (is.list(out)) out else list(x = out)
}

# A whole column: recycled to the rows, truth as 0 and 1, codes as integers, nothing infinite.
evaluate_column <- function(node, at) {
  out <- evaluate_full(node, at)
  x <- if (length(out$x) == 1) rep(out$x, at$rows) else out$x
  if (is.logical(x)) x <- as.integer(x)
  if (is.double(x) && !inherits(x, "Date") && any_endless(x)) x[!is.finite(x)] <- NA
  out$x <- x
  out
}
