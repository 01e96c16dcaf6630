# Before a script is run for a proof: it is made of nothing but the calls that the translator can
# write. Names, texts and words of others cannot become code (script-text.R); this is the second
# wall.

# What takes a function: it must be written out, or be one of these.
function_takers <- c("apply", "ave", "vapply", "Reduce", "tryCatch")
harmless_functions <- c("length", "sum")

# `words`: the functions that this dialect uses beside those of formulas.
refuse_foreign_code <- function(lines, words) {
  parsed <- tryCatch(parse(text = lines, keep.source = FALSE, encoding = "UTF-8"), error = identity)
  if (inherits(parsed, "error")) fail("script-broken", why = conditionMessage(parsed))
  known <- c(allowed_words(), words_in_as_r(), words)
  for (step in as.list(parsed)) refuse_foreign_calls(step, c(known, helper_functions(parsed)))
}

# The functions of R that words without one of their own are written with.
words_in_as_r <- function() {
  code <- unlist(lapply(all_words(), function(name) formula_words[[name]]$as_r))
  unlist(lapply(code, function(text) all.names(str2lang(text))))
}

# Functions that the script itself makes.
helper_functions <- function(parsed) {
  found <- character()
  look <- function(node) {
    if (!is.call(node)) return()
    made <- identical(node[[1]], as.name("<-")) && is.symbol(node[[2]]) && is.call(node[[3]])
    if (made && identical(node[[3]][[1]], as.name("function"))) {
      found <<- c(found, as.character(node[[2]]))
    }
    for (part in parts_of(node)) look(part)
  }
  for (step in as.list(parsed)) look(step)
  found
}

# The parts of a call that are there; `x[, 1]` lacks one.
parts_of <- function(node) {
  Filter(function(part) !identical(part, rlang::missing_arg()), as.list(node))
}

refuse_foreign_calls <- function(node, known) {
  if (is.pairlist(node)) return(for (part in parts_of(node)) refuse_foreign_calls(part, known))
  if (!is.call(node)) return(refuse_foreign_value(node))
  head <- if (is.symbol(node[[1]])) as.character(node[[1]]) else paste(deparse(node[[1]]),
    collapse = " ")
  fine <- head %in% known && switch(head,
    get = , "as.name" = length(node) == 2 && is.character(node[[2]]),
    library = identical(as.list(node)[-1], list(as.name("ableturn"))),
    "function" = TRUE,
    !head %in% function_takers || takes_no_foreign_function(node)
  )
  if (!fine) fail("script-foreign", name = head)
  for (part in parts_of(node)[-1]) refuse_foreign_calls(part, known)
}

refuse_foreign_value <- function(value) {
  plain <- is.null(value) || is.symbol(value) || (is.atomic(value) && is.null(attributes(value)))
  if (!plain && !inherits(value, "srcref")) fail("script-foreign", name = class(value)[1])
}

# Its function is its own, written out, or one of the harmless ones; values are no functions by
# name.
takes_no_foreign_function <- function(node) {
  args <- parts_of(node)[-1]
  named <- names(args) %in% c("FUN", "f", "error", "warning")
  given <- if (any(named)) args[named] else args[if (identical(node[[1]],
    as.name("Reduce"))) 1 else if (
    identical(node[[1]], as.name("apply"))) 3 else 2]
  all(vapply(given, function(f) {
    (is.call(f) && identical(f[[1]], as.name("function"))) ||
      (is.symbol(f) && as.character(f) %in% harmless_functions)
  }, NA))
}
