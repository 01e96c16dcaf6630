# choose(test, value, test, value, ..., default): the value of the first test that is true.
#   A test that cannot be decided leaves the row missing. `branch` is the position of the
#   test that caught the row, 0 where all are false, NA where one could not be decided;
#   `rows` counts those of each test, `none` those of none, and `also` the rows of one test
#   (by row) that a later one would catch as well (by column).
choose_value <- function(node, context, value_of) {
  part <- choose_parts(node)
  caught <- first_true(lapply(part$tests, function(test) as_truth(value_of(test, context))),
    context$rows, context$times)
  values <- lapply(c(list(part$default), part$values), value_of, context = context)
  c(list(x = fill_branches(values, caught$branch)), caught)
}

choose_parts <- function(node) {
  args <- as.list(node)[-1]
  odd <- length(args) %% 2 == 1
  pairs <- seq_len(length(args) %/% 2)
  list(
    tests = args[2 * pairs - 1], values = args[2 * pairs],
    default = if (odd) args[[length(args)]] else NA
  )
}

is_lone_na <- function(x) is.atomic(x) && length(x) == 1 && is.na(x)

fill_branches <- function(values, branch) {
  values <- same_type(values)
  single <- lengths(values) == 1
  if (all(single)) return(do.call(c, values)[branch + 1L])
  if (are_plain_numbers(values, length(branch))) {
    return(fill_chosen(values[[1]], branch, lapply(values[-1], as.double)))
  }
  out <- do.call(c, lapply(values, `[`, 1))[rep(1L, length(branch))]
  out[is.na(branch)] <- NA
  for (i in seq_along(values)) {
    rows <- which(branch == i - 1L)
    out[rows] <- if (single[i]) values[[i]] else values[[i]][rows]
  }
  out
}

# Numbers of which the rest is a whole column: what is missing may be of any type.
are_plain_numbers <- function(values, rows) {
  is.double(values[[1]]) && length(values[[1]]) == rows && all(vapply(values, function(x) {
    !is.object(x) && (is.double(x) || is_lone_na(x)) && length(x) %in% c(1, rows)
  }, NA))
}

# Where texts and numbers meet, all are numbers; a lone NA is of any type, and a date among dates.
same_type <- function(values) {
  text <- vapply(values, is.character, NA)
  open <- vapply(values, function(v) length(v) == 1 && is.na(v), NA)
  dated <- vapply(values, inherits, NA, "Date")
  if (any(dated)) values[open] <- list(as.Date(NA))
  if (!any(text) || all(text | open)) values else lapply(values, as_number)
}

# `if (a) b else c` is a choose with one test; `else if` adds a test.
if_to_choose <- function(node) {
  args <- list()
  while (is.call(node) && identical(node[[1]], as.name("if"))) {
    args <- c(args, list(node[[2]], node[[3]]))
    node <- if (length(node) == 4) node[[4]]
  }
  as.call(c(list(as.name("choose")), args, if (!is.null(node)) list(node)))
}

# Words that get the call itself rather than its values; `value_of` evaluates a part of it.

run_block <- function(node, context, value_of) {
  temporary <- new.env()
  inner <- context
  inner$memo <- new.env() # a name may stand for something else in here
  inner$value <- function(name) {
    if (exists(name, temporary, inherits = FALSE)) get(name, temporary) else context$value(name)
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

run_unanswered <- function(node, context, value_of) {
  if (length(node) == 3) return(list(x = context$kind(as.character(node[[2]]), node[[3]])))
  list(x = is.na(value_of(node[[2]], context)))
}

run_paren <- function(node, context, value_of) list(x = value_of(node[[2]], context))

run_if <- function(node, context, value_of) choose_value(if_to_choose(node), context, value_of)
