#' @include turn-type.R
NULL

# What the desk asks for a turn, in plain words, stated once by `desk_form()` for each kind of turn.
# A test compares it with the arguments of the verbs: one without its place here fails by name.
# They are offered in the order in which they are stated, the most frequent wishes first.
desk_forms <- new.env(parent = emptyenv())

#   ask     the turn as an answer to "What should become of it?"
#   when    one line: when one wants it
#   group   what people want of it, a name of desk_groups
#   suits   a function of what is chosen, see chosen_facts(): whether it makes sense for that
#   takes   the argument that takes what is chosen; "..." for the dots; NULL where it is not used; a
#           function of what was typed where it depends on that
#   named   what the result is called at first, where the verb gives it no name
#   fields  the further arguments, in the order in which they are asked for, see desk_field()
desk_form <- function(verb, ask, when, suits, group, takes = "vars", named = NULL,
                      fields = list()) {
  stopifnot(group %in% names(desk_groups))
  assign(verb, list(verb = verb, ask = ask, when = when, suits = suits, group = group,
    usual = verb %in% usual_forms, takes = takes, named = named, fields = fields,
    place = length(desk_forms) + 1), desk_forms)
}

# What people want of the turns, in the order in which it is offered.
desk_groups <- c(codes = "Other codes or categories", scores = "One out of several items",
  numbers = "Numbers, changed or compared", models = "For a regression",
  conditions = "By a condition")

# What is wanted most stands before all groups.
usual_forms <- c("recode", "collapse", "bin", "reverse", "composite", "standardize", "compute",
  "dummy")

#   kind     how it is typed, see typed_argument()
#   label    what it asks for
#   help     a line below it
#   choices  of a choice: its words, named by the values they stand for
#   start    what stands in it at first; left out of the call where it is left empty
#   seldom   whether it is needed so seldom that it is folded away
desk_field <- function(kind, label, help = NULL, choices = NULL, start = NULL, seldom = FALSE) {
  stopifnot(kind %in% names(typed_kinds), (kind == "choice") == !is.null(choices))
  list(kind = kind, label = label, help = help, choices = choices, start = start, seldom = seldom)
}

# The words of a choice, in the order of the values, which stand elsewhere.
choice_words <- function(values, ...) {
  words <- c(...)
  stopifnot(length(values) == length(words))
  setNames(words, values)
}

# What is asked for in the same way by all turns that have such an argument.
common_fields <- function() {
  list(
    as = desk_field("text", "Name of the result", paste("Left empty: a usual name. For several,",
      "a pattern such as {name}_new.")),
    label = desk_field("texts", "Label of the result", "Of several, one on each line."),
    high = desk_field("text", "What a high value stands for", seldom = TRUE),
    note = desk_field("text", "Note", seldom = TRUE),
    missing = desk_field("choice", "Why answers are missing", choices = choice_words(
      c("carry", "plain"), "keep the reasons of the source", "make them plain missing"),
    seldom = TRUE),
    accept = desk_field("accepts", "Findings accepted, with the reason", seldom = TRUE),
    replace = desk_field("flag", "Take the place of a variable of that name", seldom = TRUE)
  )
}

# All fields of a form, by argument: its own first, then the common ones that its verb has.
form_fields <- function(verb) {
  form <- desk_forms[[verb]]
  common <- common_fields()
  own <- names(form$fields)
  c(form$fields, common[setdiff(intersect(names(common), verb_arguments(verb)), own)])
}

verb_of_form <- function(verb) get(function_of_form(verb), mode = "function")

function_of_form <- function(verb) {
  if (verb %in% c("define", "must_hold")) verb else paste0("turn_", verb)
}

verb_arguments <- function(verb) setdiff(names(formals(verb_of_form(verb))), "book")

# What is chosen, as far as the answers depend on it: how many variables (`n`), whether all of them
# are `number`s that can be reckoned with and have `few` answers, as categories do, and whether some
# are `dates`, or all; and whether all are `text`.
chosen_facts <- function(book, names) {
  few <- vapply(names, function(name) {
    variable <- variable_in(book, name)
    at <- also_knowing(site_of(book), list(subject = variable))
    look_kind(variable, variable$meaning, at) == "counts" && !is.null(answers_listed(variable))
  }, NA)
  number <- vapply(names, function(name) is_reckoned_with(book, name), NA)
  types <- vapply(names, function(name) value_type(variable_in(book, name)), "")
  list(n = length(names), number = all(number), few = all(few), dates = any(types == "date"),
    all_dates = all(types == "date"), text = all(types == "text"))
}

# Numbers, but for codes of a nominal level other than 0 and 1; also where they are kept as texts,
# and some of these are none.
is_reckoned_with <- function(book, name) {
  if (value_type(variable_in(book, name)) == "date") return(FALSE)
  if (identical(meaning_in(book, name)$level, "nominal")) return(all_no_or_yes(book, name))
  if (!has_text(variable_in(book, name))) return(TRUE)
  met <- as.character(answers_listed(variable_in(book, name))$values)
  isTRUE(mean(grepl(plain_number, met)) >= 0.5)
}

all_no_or_yes <- function(book, name) {
  !has_text(variable_in(book, name)) && all(facts_of(variable_in(book, name))$values %in% 0:1)
}

# The answers to the question that make sense for what is chosen, in their order.
fitting_forms <- function(facts) Filter(function(form) isTRUE(form$suits(facts)), all_desk_forms())

all_desk_forms <- function() {
  forms <- as.list(desk_forms)
  unname(forms[order(vapply(forms, `[[`, 0, "place"))])
}
