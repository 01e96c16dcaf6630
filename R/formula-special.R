# Words that get the call itself rather than its values; `value_of` evaluates a part of it.

run_block <- function(node, at, value_of) {
  temporary <- new.env()
  inner <- at
  inner$value <- function(name) {
    if (exists(name, temporary, inherits = FALSE)) get(name, temporary) else at$value(name)
  }
  for (step in as.list(node)[-1]) {
    out <- if (is_assignment(step)) {
      assign(as.character(step[[2]]), value_of(step[[3]], inner), temporary)
    } else {
      value_of(step, inner)
    }
  }
  list(x = out)
}

is_assignment <- function(node) is.call(node) && identical(node[[1]], as.name("<-"))

run_unanswered <- function(node, at, value_of) {
  if (length(node) == 3) return(list(x = at$kind(as.character(node[[2]]), node[[3]])))
  list(x = is.na(value_of(node[[2]], at)))
}

run_paren <- function(node, at, value_of) list(x = value_of(node[[2]], at))

run_if <- function(node, at, value_of) choose_value(if_to_choose(node), at, value_of)
