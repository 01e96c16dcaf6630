# A turn that was made, as its form was filled in, so that it can be filled in otherwise.

# What is `chosen`, and what is `typed`, by argument. What no text stands for is typed as it is.
form_of_turn <- function(turn) {
  fields <- form_fields(turn$verb)
  parts <- turn_as_call(turn, with_pattern = TRUE)
  names(parts) <- vapply(parts, `[[`, "", "name")
  typed <- lapply(self_named(intersect(names(fields), names(parts))), function(argument) {
    as_typed[[fields[[argument]]$kind]](parts[[argument]]$value, turn)
  })
  if (length(turn$rules)) typed$rules <- rules_as_typed(turn$rules)
  list(chosen = if (!is.null(desk_forms[[turn$verb]]$takes)) turn$from, typed = typed)
}

# What a variable means, as it would be typed.
form_of_meaning <- function(meaning) {
  fields <- form_fields("define")
  lapply(self_named(intersect(names(fields), names(meaning))), function(argument) {
    as_typed[[fields[[argument]]$kind]](meaning[[argument]], NULL)
  })
}

# For each kind of field: a value as it would be typed; `turn` is that which it belongs to.
as_typed <- list(
  text = function(value, turn) show_value(value)[1],
  path = function(value, turn) show_value(value)[1],
  separator = function(value, turn) write_separator(value),
  texts = function(value, turn) paste(value, collapse = "\n"),
  choice = function(value, turn) show_value(value),
  flag = function(value, turn) value,
  number = function(value, turn) show_number(as.double(value)),
  numbers = function(value, turn) paste(show_number(as.double(value)), collapse = " "),
  limits = function(value, turn) paste(show_number(as.double(value)), collapse = " to "),
  name = function(value, turn) value,
  names = function(value, turn) value,
  value = function(value, turn) show_value(value)[1],
  values = function(value, turn) matchers_as_typed(value),
  formula = function(value, turn) value,
  condition = function(value, turn) value,
  moments = function(value, turn) paste(show_number(as.double(unname(value))), collapse = " "),
  named = function(value, turn) {
    if (is.null(names(value))) value <- setNames(rep_len(value, length(turn$from)), turn$from)
    lapply(as.list(value), show_value)
  },
  rules = function(value, turn) rules_as_typed(value),
  accepts = function(value, turn) as.list(value),
  table = function(value, turn) {
    if (turn$verb == "instrument") value else as.data.frame(value, optional = TRUE)
  },
  codes = function(value, turn) setNames(as.list(show_value(value)), names(value)),
  reasons = function(value, turn) lapply(value, matchers_as_typed)
)

# As a sheet states them, without the marks of how they are laid out there.
rules_as_typed <- function(rules) {
  unmarked <- function(x) {
    if (inherits(x, c("sheet_plain", "sheet_flow"))) return(unmarked(unclass(x)[[1]]))
    if (is.list(x)) lapply(x, unmarked) else x
  }
  unname(lapply(rules, function(rule) unmarked(sheet_rule(rule))))
}

matchers_as_typed <- function(matchers) {
  plain <- vapply(matchers, function(m) {
    m$type == "values" || (m$type == "range" && !is_any_number(m))
  }, NA)
  if (!all(plain)) return(matchers)
  paste(unlist(lapply(matchers, function(m) {
    if (m$type == "values") show_value(m$values) else write_range(m)
  })), collapse = "; ")
}

# What would come of a turn that is amended; `name` is one of the variables that it made.
try_amend <- function(book, name, chosen, typed) {
  try_call(amend_call(without_sheet(book), name, chosen, typed))
}

# The call that amends what a turn made, by its form filled in anew. What was left empty is what the
# verb does without it. Names are changed by renaming.
amend_call <- function(book, name, chosen, typed) {
  verb <- derived_in(book, name)$verb
  fields <- form_fields(verb)
  fields <- fields[setdiff(names(fields), c("as", "replace", "rules"))]
  stated <- given_by(fields, typed, book, texts_like_ranges(book, chosen))
  given <- lapply(self_named(names(fields)), function(argument) {
    stated[[argument]] %||% usual_argument(verb, argument)
  })
  rules <- at_argument("rules", typed_argument(list(kind = "rules", label = "rules"), typed$rules))
  taken <- if (!are_cases(typed$rules)) taken_argument(verb, chosen, typed)
  # named, so that an argument called b is not taken for the book
  rlang::call2(amend, book = book, var = rlang::call2("all_of", name), !!!taken, !!!given,
    !!!unname(rules))
}

# What a verb does without an argument.
usual_argument <- function(verb, argument) {
  usual <- formals(verb_of_form(verb))[[argument]]
  if (!rlang::is_missing(usual)) usual
}
