# Arithmetic, comparisons and logic over long columns go a block of rows at a time (src/blocks.cpp).
# NULL where R itself has to do it: for few rows, texts, dates, and arithmetic of integers alone,
# which stay integers.
in_blocks <- function(node, at, value_of) {
  if (!isTRUE(at$rows >= 20000) || !call_head(node) %in% block_words) return(NULL)
  if (!all(vapply(formula_vars(node), is_block_column, NA, at = at))) return(NULL)
  program <- new.env()
  program$steps <- list()
  type <- add_steps(node, at, program, value_of)
  if (!is.null(type) && any(lengths(program$steps) > 1)) run_in_blocks(program$steps, at$rows, type == "truth")
}

comparing_words <- c("<", ">", "<=", ">=", "==", "!=")

block_words <- c("+", "-", "*", "/", "^", comparing_words, "&", "|", "!", "abs", "sqrt", "exp", "log", "log10", "log2",
  "log1p", "floor", "ceiling", "is.na", "(")

# Whole columns of numbers that come from elsewhere.
block_sources <- c("rows_below", "rows_equal", "group", "uniform_draw", "normal_draw", "lookup")

is_block_column <- function(name, at) {
  x <- at$value(name)
  (is.numeric(x) || is.logical(x)) && !is.object(x) && length(x) %in% c(1, at$rows)
}

# The steps of a node after those before it, and the type it gives: truth, whole or real; NULL where
# it cannot be done.
add_steps <- function(node, at, program, value_of) {
  if (is.symbol(node)) return(add_column(at$value(as.character(node)), program))
  if (!is.call(node)) return(add_column(node, program))
  head <- call_head(node)
  if (head == "(") return(add_steps(node[[2]], at, program, value_of))
  if (head %in% block_sources) return(add_column(value_of(node, at), program))
  if (!is_block_call(node, head)) return(NULL)
  types <- lapply(as.list(node)[-1], add_steps, at = at, program = program, value_of = value_of)
  if (any(vapply(types, is.null, NA))) return(NULL)
  program$steps <- c(program$steps, if (head == "-" && length(types) == 1) "negative" else head)
  steps_type(head, unlist(types))
}

is_block_call <- function(node, head) {
  head %in% block_words && is.null(names(node)) && !(head == "+" && length(node) == 2)
}

add_column <- function(x, program) {
  if (!(is.numeric(x) || is.logical(x)) || is.object(x) || !length(x)) return(NULL)
  program$steps <- c(program$steps, list(x))
  if (is.double(x)) "real" else "whole"
}

steps_type <- function(head, types) {
  if (head %in% c(comparing_words, "&", "|", "!", "is.na")) return("truth")
  exact <- head %in% c("+", "-", "*", "abs", "floor", "ceiling") && all(types != "real")
  if (!exact) "real"
}
