# Evaluates a formula over columns. `context` says where: value(name) gives a column with NA where
# it has no valid answer, cells(name) its index where its answers are few (see new_indexed()),
# kind(name, reason) the rows missing for that reason, rows their number,
# times how many rows of the data each of them is, if not one,
# and memo keeps what was worked out on the way and may be asked for again.
evaluate <- function(node, context) {
  if (is.symbol(node)) return(context$value(as.character(node)))
  if (!is.call(node)) return(node)
  word <- formula_words[[as.character(node[[1]])]]
  done <- in_blocks(node, context, evaluate)
  if (!is.null(done)) return(done)
  if (word$special) return(evaluate_full(node, context)$x)
  out <- do.call(word$run, lapply(as.list(node)[-1], evaluate, context = context))
  if (is.list(out)) out$x else out
}

# The same for the outermost node, with what it knows about its rows: `branch` of a choose, the
# number of `valid` items of a row function, `facts` where they were found on the way.
evaluate_full <- function(node, context) {
  word <- if (is.call(node)) formula_words[[as.character(node[[1]])]]
  if (is.null(word)) return(list(x = evaluate(node, context)))
  done <- in_blocks(node, context, evaluate, told = TRUE)
  if (!is.null(done)) return(if (is.list(done)) done else list(x = done))
  out <- if (word$special) {
    word$run(node, context, evaluate)
  } else {
    do.call(word$run, lapply(as.list(node)[-1], evaluate, context = context))
  }
  if (is.list(out)) out else list(x = out)
}

# A whole column: recycled to the rows, truth as 0 and 1, codes as integers, nothing infinite.
evaluate_column <- function(node, context) {
  out <- evaluate_full(node, context)
  x <- if (length(out$x) == 1) rep(out$x, context$rows) else out$x
  if (is.logical(x)) x <- as.integer(x)
  known <- !is.null(out$cells) || !is.null(out$facts)
  endless <- is.double(x) && !inherits(x, "Date") && !known && any_endless(x)
  if (endless) x[!is.finite(x)] <- NA
  out$x <- x
  out
}

# Arithmetic, comparisons and logic over long columns go a block of rows at a time (src/blocks.cpp).
# NULL where R itself has to do it: for few rows, texts, dates, and arithmetic of integers alone,
# which stay integers. With `told`, of numbers a list: `x`, and their `facts`, see
# facts_of_column().
in_blocks <- function(node, context, value_of, told = FALSE) {
  if (!isTRUE(context$rows >= 20000) || !call_head(node) %in% block_words()) return(NULL)
  if (!all(vapply(formula_vars(node), is_block_column, NA, context = context))) return(NULL)
  program <- new.env()
  program$steps <- list()
  type <- add_steps(node, context, program, value_of)
  if (!is.null(type) && any(lengths(program$steps) > 1)) {
    run_in_blocks(program$steps, context$rows, type == "truth", told)
  }
}

# The words that can be run in blocks: those that src/blocks.cpp knows, and brackets.
block_words <- function() {
  if (is.null(words_by_trait$block)) words_by_trait$block <- c(words_in_blocks(), "(")
  words_by_trait$block
}

is_block_column <- function(name, context) {
  x <- context$value(name)
  (is.numeric(x) || is.logical(x)) && !is.object(x) && length(x) %in% c(1, context$rows)
}

# The steps of a node after those before it, and the type it gives: truth, whole or real; NULL where
# it cannot be done.
add_steps <- function(node, context, program, value_of) {
  if (is.symbol(node)) return(add_column(context$value(as.character(node)), program))
  if (!is.call(node)) return(add_column(node, program))
  head <- call_head(node)
  if (head == "(") return(add_steps(node[[2]], context, program, value_of))
  if (has_word_trait(head, "whole column")) return(add_column(value_of(node, context), program))
  if (!is_block_call(node, head)) return(NULL)
  types <- lapply(as.list(node)[-1], add_steps, context = context, program = program,
    value_of = value_of)
  if (any(vapply(types, is.null, NA))) return(NULL)
  program$steps <- c(program$steps, if (head == "-" && length(types) == 1) "negative" else head)
  steps_type(head, unlist(types))
}

is_block_call <- function(node, head) {
  head %in% block_words() && is.null(names(node)) && !(head == "+" && length(node) == 2)
}

add_column <- function(x, program) {
  if (!(is.numeric(x) || is.logical(x)) || is.object(x) || !length(x)) return(NULL)
  program$steps <- c(program$steps, list(x))
  if (is.double(x)) "real" else "whole"
}

steps_type <- function(head, types) {
  if (formula_words[[head]]$gives == "truth") return("truth")
  exact <- has_word_trait(head, "keeps whole") && all(types != "real")
  if (!exact) "real"
}
