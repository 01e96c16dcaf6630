#' @include desk-acts.R desk-forms.R
NULL

# What an advice says as a button that does it: of a finding or an error, by its id. Each gives the
# words and what is said to the desk: `do` and what goes with it, see button_html(). `f` is the
# finding with its `pieces` and `variable`, or for errors the detail of the condition.

# Opens What it means of a variable at a field; the form that is open is gone on with afterwards.
advise_define <- function(words, names, field, ...) {
  list(list(words = words, do = "define_then", names = as_json(names), field = field, ...))
}

# Fills in a field of the form that made the variable.
advise_fill <- function(words, variable, argument, value) {
  list(list(words = words, do = "advise", name = variable, argument = argument,
    value = as.character(jsonlite::toJSON(value, auto_unbox = TRUE))))
}

# Goes to a field of that form.
advise_field <- function(words, variable, field) {
  list(list(words = words, do = "advise", name = variable, field = field))
}

advise_learn <- function(name) list(list(words = "Learn anew", do = "relearn", name = name))

advised_source <- function(f) f$pieces$source %||% f$pieces$name

no_answers <- function(f, ...) {
  advise_define("They are no answers", advised_source(f), "missing", ...)
}

advice_of_findings <- list(
  "direction-unknown" = function(f) advise_field("Say what high means", f$variable, "high"),
  "maybe-unreversed" = function(f) {
    advise_fill("Turn them round in the score", f$variable, "reversed",
      as.list(as.character(f$pieces$items)))
  },
  "partial-sum" = function(f) {
    c(advise_fill("Scale the sum up", f$variable, "prorate", TRUE),
      advise_fill("Take the mean", f$variable, "how", "mean"))
  },
  "few-valid" = function(f) advise_field("Ask for fewer valid items", f$variable, "at_least"),
  "unmatched" = function(f) advise_field("Say what becomes of the rest", f$variable, "rest"),
  "range-gap" = function(f) advise_field("Change the ranges", f$variable, "rules"),
  "rule-overlap" = function(f) advise_field("Change the rules", f$variable, "rules"),
  "near-miss" = function(f) {
    advise_fill("Let texts match whatever their case", f$variable, "loose", TRUE)
  },
  "entries-alike" = function(f) advise_fill("Take them for the same", f$variable, "loose", TRUE),
  "held-much" = function(f) advise_field("Take ends further out", f$variable, "at"),
  "open-range" = function(f) no_answers(f, suspects = "true"),
  "undeclared-missing" = function(f) no_answers(f, suspects = "true"),
  "blank-or-answer" = function(f) no_answers(f),
  "text-number" = function(f) no_answers(f),
  "beyond-limits" = function(f) {
    c(no_answers(f), advise_define("State wider limits", advised_source(f), "limits"))
  },
  "limits-unreached" = function(f) {
    advise_define("State its own limits", advised_source(f), "limits")
  },
  "label-gap" = function(f) {
    c(advise_define("Label them", advised_source(f), "codes"), no_answers(f))
  },
  "number-as-level" = function(f) advise_define("State its level", advised_source(f), "level"),
  "category-arithmetic" = function(f) advise_define("State its level", advised_source(f), "level"),
  "order-lost" = function(f) advise_define("State their order", advised_source(f), "codes"),
  "rare-category" = function(f) {
    list(list(words = "Merge categories", do = "make_of",
    names = as_json(f$pieces$of), verb = "collapse"))
  },
  "stale-learned" = function(f) advise_learn(""),
  "new-entry" = function(f) advise_learn(f$variable)
)

advice_of_errors <- list(
  "limits-undefined" = function(f) advise_define("State the limits of the scale", f$name, "limits"),
  "limits-needed" = function(f) advise_define("State the limits of the scale", f$name, "limits"),
  "beyond-limits" = function(f) {
    c(advise_define("It is no answer", f$name, "missing",
    code = show_value(f$code)), advise_define("State wider limits", f$name, "limits"))
  },
  "order-text" = function(f) advise_define("State their order", f$name, "codes"),
  "choices-unknown" = function(f) advise_define("Label its codes", f$name, "codes"),
  "text-not-numbers" = function(f) advise_define("Say how its texts are read", f$name, "read"),
  "dummy-many" = function(f) advise_define("State its level", f$name, "level")
)

advice_buttons <- function(finding) {
  give <- advice_of_findings[[finding$id]]
  if (!is.null(give)) advice_html(give(finding))
}

# Below what is wrong with a form.
advice_of_error <- function(error, state) {
  id <- gsub("_", "-", sub("ableturn_error_", "", class(error)[1]))
  give <- advice_of_errors[[id]]
  known <- intersect(as.character(error$detail[["name"]]), names(state$book))
  if (!is.null(give) && length(known)) advice_html(give(replace(error$detail, "name", list(known))))
}

advice_html <- function(advice) {
  htmltools::tags$p(class = "buttons advice", lapply(advice, function(one) {
    rlang::inject(button_html(one$words, one$do, !!!one[setdiff(names(one), c("words", "do"))]))
  }))
}

# What these buttons do. A form that is open is come back to after a definition.
add_acts(list(
  define_then = function(state, event) {
    names <- known_on_desk(state, event$names)
    back <- state$form
    if (!is.null(back)) back$chosen <- state$chosen
    state$chosen <- names
    state <- with_form(state, "define", isTRUE(event$suspects))
    if (is_one(event$code, is.character)) state <- with_code_missing(state, event$code)
    state$back <- back
    state$focus <- one_typed(event$field)
    state
  },
  # in the form that is open, or in that which made the variable
  advise = function(state, event) {
    in_form <- c(state$form$amends, state$tried$receipt$turn$makes)
    if (is.null(state$form) || !isTRUE(event$name %in% in_form)) {
      state <- desk_acts$amend(state, list(name = event$name))
    }
    argument <- event$argument
    if (is_one(argument, is.character) && argument %in% names(form_fields(state$form$verb))) {
      state$form$typed[[argument]] <- advised_value(event$value)
      state$form$filled <- (state$form$filled %||% 0) + 1
    }
    state$focus <- one_typed(argument %||% event$field)
    with_trial(state)
  },
  make_of = function(state, event) {
    state <- desk_acts$choose(state, list(names = event$names))
    desk_acts$ask(state, list(verb = event$verb))
  },
  relearn = function(state, event) {
    makes <- if (nzchar(one_typed(event$name))) made_on_desk(state, event$name) else
      recorded_names(state$book)
    for (name in makes) {
      if (is.null(state$error)) state <- after_call(state, rlang::call2(amend, book = state$book,
        var = rlang::call2("all_of", name), learned = "refit"))
    }
    state
  },
  accept_data = function(state, event) {
    back <- identical(event$back, "yes")
    if (!back && is_untyped(event$reason)) fail("accept-reason")
    reason <- setNames(list(if (!back) one_typed(event$reason)), one_typed(event$finding))
    after_call(state, rlang::call2(accept_findings, state$book, !!!reason))
  }
), desk_acts)

advised_value <- function(value) {
  if (!is_one(value, is.character)) return(NULL)
  value <- tryCatch(jsonlite::fromJSON(value), error = function(e) NULL)
  if (is.atomic(value)) value
}

with_code_missing <- function(state, code) {
  state$form$typed$missing <- alike_as_one(c(state$form$typed$missing, list("No answer" = code)))
  with_trial(state)
}

# Of the steps that use what was learned from other data, one variable each.
recorded_names <- function(book) {
  steps <- Filter(function(step) {
    step$type == "turn" && isTRUE(step$recorded) && length(step$turn$learned) > 0
  }, steps_of(book))
  vapply(steps, function(step) step$turn$makes[1], "")
}
