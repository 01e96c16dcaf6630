#' @include desk-form.R desk-forms.R meaning-new.R meaning-read.R
NULL

# A definition is no answer to the question: it is asked for where a variable is looked at.
desk_form("define", "What it means", group = "codes",
  suits = function(is) FALSE,
  when = "Some codes are no answers, or nothing says what the codes mean.",
  fields = list(
    missing = desk_field("reasons", "Codes that are no answers",
      "The reason, and its codes or a range: 98, 99 or 900 .."),
    codes = desk_field("codes", "Labels of the codes"),
    level = desk_field("choice", "Level of measurement", choices = choice_words(
      measurement_levels, "nominal: names without an order", "ordinal: an order",
      "interval: equal distances", "ratio: equal distances and a zero")),
    limits = desk_field("limits", "Lowest and highest possible answer"),
    low = desk_field("text", "What a low value stands for", seldom = TRUE),
    unit = desk_field("text", "Unit", seldom = TRUE),
    asked_if = desk_field("condition", "Asked only of those for whom", "hours > 0", seldom = TRUE),
    read = desk_field("choice", "How its texts are read", choices = choice_words(
      names(ways_to_read), names(ways_to_read)), seldom = TRUE),
    role = desk_field("choice", "What it is to the others", choices = choice_words(variable_roles,
      "the weight of the rows", "groups that scores are compared for", "nothing of its own"),
        seldom = TRUE),
    set = desk_field("text", "Set it belongs to", paste("Variables of one set stand together and",
      "can be shown alone: the items of a scale, a part of the questionnaire."))
  ))

# Turns that many want, with their form filled in so far.
desk_starters <- list(
  tidy = list(verb = "compute", ask = "Texts tidied", group = "codes", usual = FALSE,
    when = "Blanks around texts go, and all letters become small ones.",
    suits = function(is) is$n >= 1 && is$text,
    typed = function(chosen, ...) {
      list(formula = "tolower(trimws(each))", each = chosen, as = "{name}_tidy")
    }),
  log = list(verb = "compute", ask = "Logarithm", group = "numbers", usual = FALSE,
    when = "Incomes, times or counts are drawn together at their high end.",
    suits = function(is) is$n >= 1 && is$number,
    typed = function(chosen, ...) {
      list(formula = "log(each)", each = chosen, as = "{name}_log")
    }),
  years = list(verb = "compute", ask = "Age, or years between two dates", group = "numbers",
    usual = TRUE, when = "A date of birth and one of an interview give the age in whole years.",
    suits = function(is) is$n %in% 1:2 && is$all_dates,
    typed = function(chosen, book) {
      dates <- unique(c(chosen, if (length(chosen) == 1) dates_in(book)))
      ends <- vapply(lapply(dates, as.name), formula_text, "")
      rest <- if (length(ends) == 2) paste0(ends[2], ")") # else she says which, or what day
      list(formula = paste0("years_between(", ends[1], ", ", rest), as = "years")
    })
)

dates_in <- function(book) {
  some <- utils::head(names(book), 500)
  Filter(function(name) value_type(variable_in(book, name)) == "date", some)
}

# Those of desk_starters that make sense for what is chosen, each with its name.
starters_for <- function(state) {
  facts <- chosen_facts(state$book, state$chosen)
  named <- Map(function(starter, name) c(starter, list(starter = name)), desk_starters,
    names(desk_starters))
  unname(Filter(function(starter) isTRUE(starter$suits(facts)), named))
}
