# A form of the desk as the call that it stands for, and what would come of it.

# The call of a verb: `chosen` variables and what was `typed`, by argument. An error of what was
# typed names its `argument`.
form_call <- function(verb, book, chosen, typed) {
  given <- compact(given_by(form_fields(verb), typed, book, texts_like_ranges(book, chosen)))
  rules <- given$rules
  given <- given[setdiff(names(given), "rules")]
  taken <- if (!are_cases(typed$rules)) taken_argument(verb, chosen, typed)
  refuse_lacking(verb, c(names(given), names(taken)))
  rlang::call2(verb_of_form(verb), book, !!!taken, !!!given, !!!unname(rules))
}

# What was typed into fields, as values by argument; NULL where nothing was.
given_by <- function(fields, typed, book, texts = character()) {
  lapply(self_named(intersect(names(fields), names(typed))), function(argument) {
    at_argument(argument, {
      if (fields[[argument]]$kind %in% c("name", "names")) refuse_strange(typed[[argument]], book)
      typed_argument(fields[[argument]], typed[[argument]], texts)
    })
  })
}

refuse_strange <- function(typed, book) {
  strange <- if (!is_untyped(typed)) setdiff(unlist(typed), names(book))
  if (length(strange)) fail_unknown(strange, names(book))
}

# What the verb cannot do without; what it asks for in other words is its own matter.
refuse_lacking <- function(verb, there) {
  wanted <- setdiff(intersect(names(form_fields(verb)), verb_arguments(verb)), there)
  needed <- Filter(function(argument) {
    rlang::is_missing(formals(verb_of_form(verb))[[argument]])
  }, wanted)
  for (argument in needed) at_argument(argument, fail("argument-needed", argument = argument))
}

# The chosen variables as an argument; rules with conditions name their variables themselves.
taken_argument <- function(verb, chosen, typed) {
  takes <- desk_forms[[verb]]$takes
  if (is.function(takes)) takes <- takes(typed)
  if (is.null(takes) || !length(chosen)) return(NULL)
  setNames(list(rlang::call2("all_of", chosen)), if (takes == "...") "" else takes)
}

# What would come of a form on all rows, without anything being kept.
try_form <- function(verb, book, chosen, typed) {
  try_call(form_call(verb, without_sheet(book), chosen, typed))
}

# The `book` after a call, and its `receipt`; or the `error`, with the `argument` it belongs to
# where that is known. The call itself is worked out in here.
try_call <- function(call) {
  tryCatch(
    {
      force(call)
      made <- collect_receipts(rlang::eval_tidy(call))
      list(book = made$value, receipt = Reduce(function(a, b) b, made$receipts))
    },
    error = function(e) list(error = e, argument = argument_of(e))
  )
}

argument_of <- function(e) {
  if (inherits(e, paste0("ableturn_error_as_", c("needed", "count")))) return("as")
  e$argument %||% e$detail$argument
}

# Whether it only says that something is still to be filled in.
is_needed_error <- function(e) {
  inherits(e, paste0("ableturn_error_", c("argument_needed", "as_needed")))
}

# The same book, which keeps no sheet.
without_sheet <- function(book) {
  with_parts(book, info = replace(info_of(book), "sheet", list(NULL)))
}
