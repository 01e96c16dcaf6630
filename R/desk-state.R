#' @include desk-acts.R
NULL

# The desk as data: the book, what is chosen, the form that is open, and what would come of it.
# desk_do() is all that can be done with it; the page only shows it and says what was done.

#   book    the book as it stands
#   chosen  names of variables
#   form    NULL, or a list of its `verb`, what is `typed`, by argument, of a turn that is being
#           amended one of its variables (`amends`), and of a definition what is `known` already
#   tried   what would come of the form, see try_call()
#   error   of the last thing that was done, where it failed; nothing was changed then
#   receipt of the last thing that was done
#   unfinished  forms that were left half filled in, see keep_unfinished()
#   back    the form that is gone on with after a definition
#   focus   the field that the keyboard is to go to
#   copied  a step that is to be made of other variables, too: its `verb`, what was `typed`, and
#           what it made (`called`)
new_desk <- function(book) {
  list(book = book, chosen = character(), form = NULL, tried = NULL, error = NULL, receipt = NULL,
    unfinished = list(), copied = NULL, back = NULL, focus = NULL)
}

# A desk after something was done: `event` has the name of what (`do`) and what is needed for it.
# What no browser of ours would say is refused.
desk_do <- function(state, event) {
  act <- act_named(event$do, desk_acts)
  if (is.null(act)) fail("desk-act", act = show_value(event$do %||% "")[1])
  state[c("error", "receipt", "focus")] <- list(NULL)
  act(state, event)
}

add_acts(list(
  choose = function(state, event) {
    names <- known_on_desk(state, event$names)
    state <- keep_unfinished(state)
    state["back"] <- list(NULL)
    state$chosen <- names
    without_form(state)
  },
  ask = function(state, event) {
    fits <- fitting_forms(chosen_facts(state$book, state$chosen))
    verbs <- c(vapply(fits, `[[`, "", "verb"), if (length(state$chosen)) "define")
    verb <- check_choice(event$verb, "verb", verbs)
    state <- if (isTRUE(event$anew)) without_unfinished(state, verb) else keep_unfinished(state)
    state <- with_form(state, verb, isTRUE(event$suspects))
    if (isTRUE(event$starter %in% names(desk_starters))) begin_with(state, event$starter) else state
  },
  fill = function(state, event) {
    if (is.null(state$form)) return(state)
    known <- names(form_fields(state$form$verb))
    state$form$typed <- as.list(event$typed)[intersect(names(event$typed), known)]
    with_trial(state)
  },
  keep = function(state, event) if (is.null(state$form)) state else with_form_kept(state),
  leave = function(state, event) {
    state <- if (isTRUE(event$keep)) keep_unfinished(state) else
      without_unfinished(state, unfinished_key(state$form))
    back_to_form(without_form(state))
  },
  amend = function(state, event) {
    name <- made_on_desk(state, event$name)
    filled <- form_of_turn(turn_of(state$book, name))
    state$chosen <- filled$chosen %||% character()
    verb <- derived_in(state$book, name)$verb
    state$form <- list(verb = verb, typed = filled$typed, amends = name, start = filled$typed)
    with_trial(with_unfinished(state))
  },
  drop = function(state, event) {
    name <- made_on_desk(state, event$name)
    after_call(state, rlang::call2(drop_turn, state$book, name))
  },
  accept = function(state, event) {
    name <- made_on_desk(state, event$name)
    if (is_untyped(event$reason)) fail("accept-reason")
    reason <- setNames(one_typed(event$reason), event$finding)
    accept <- c(turn_of(state$book, name)$accept, reason)
    after_call(state, rlang::call2(amend, book = state$book, var = name, accept = accept))
  },
  rename = function(state, event) {
    name <- made_on_desk(state, event$name)
    new <- one_typed(event$to)
    after <- after_call(state, rlang::call2(rename_turn, state$book,
      !!!setNames(list(as.name(name)), new)))
    if (is.null(after$error)) after$chosen <- new
    after
  },
  # the codes, labels and so on of what was defined in a step
  redefine = function(state, event) {
    state$chosen <- known_on_desk(keep_unfinished(state), event$names)
    with_form(state, "define")
  },
  undo_to = function(state, event) {
    place <- step_asked(state$book, event$place)
    while (length(steps_of(state$book)) > place && is.null(state$error)) {
      state <- after_call(state, rlang::call2(undo, state$book))
    }
    state
  },
  undo = function(state, event) after_call(state, rlang::call2(undo, state$book)),
  redo = function(state, event) after_call(state, rlang::call2(redo, state$book))
), desk_acts)

known_on_desk <- function(state, names) {
  names <- as.character(unlist(names))
  for (name in setdiff(names, names(state$book))) fail_unknown(name, names(state$book))
  names
}

# One variable that a turn has made.
made_on_desk <- function(state, name) {
  name <- known_on_desk(state, name)
  if (length(name) != 1) fail("desk-act", act = paste(name, collapse = ", "))
  if (!is_derived(state$book, name)) fail("not-derived", name = name, what = "changed")
  name
}

turn_of <- function(book, name) steps_of(book)[[entry_of(book, name)]]$turn

without_form <- function(state) {
  state[c("form", "tried")] <- list(NULL)
  state
}

# A form is opened with the usual case filled in; a definition, with what is known already and,
# where that is asked for, with the codes that look like missing ones.
with_form <- function(state, verb, suspects = FALSE) {
  typed <- compact(lapply(form_fields(verb), `[[`, "start"))
  typed$as <- free_name(desk_forms[[verb]]$named, state$book)
  known <- if (verb == "define") known_of_all(state)
  if (verb == "define") typed <- known
  if (suspects) typed$missing <- with_suspects(typed$missing, state)
  state$form <- list(verb = verb, typed = typed, amends = NULL, known = known, start = typed)
  with_trial(if (suspects) state else with_unfinished(state))
}

# A form filled in as one of desk_starters has it.
begin_with <- function(state, starter) {
  typed <- desk_starters[[starter]]$typed(state$chosen, state$book)
  state$form$typed[names(typed)] <- typed
  state$form$start <- state$form$typed
  with_trial(state)
}

# A form that was left half filled in, by the turn it is for: it stands there again when the form is
# opened anew, until it is kept or left for good. What is typed for single values counts only where
# the same variables are chosen.
keep_unfinished <- function(state) {
  form <- state$form
  typed <- function(key) compact_typed(form[[key]])
  if (is.null(form) || identical(typed("typed"), typed("start"))) return(state)
  state$unfinished[[unfinished_key(form)]] <- list(typed = form$typed, chosen = state$chosen)
  state
}

without_unfinished <- function(state, key) {
  if (!is.null(key)) state$unfinished[[key]] <- NULL
  state
}

unfinished_key <- function(form) {
  if (is.null(form$amends)) form$verb else paste("amends", form$amends)
}

with_unfinished <- function(state) {
  left <- state$unfinished[[unfinished_key(state$form)]]
  if (is.null(left)) return(state)
  typed <- left$typed
  if (!identical(left$chosen, state$chosen)) {
    kinds <- vapply(form_fields(state$form$verb)[names(typed)], `[[`, "", "kind")
    typed <- typed[!kinds %in% c("rules", "codes", "named", "reasons")]
  }
  state$form$typed[names(typed)] <- typed
  state$form$restored <- TRUE
  state
}

# What is known alike of all chosen variables, as it would be typed.
known_of_all <- function(state) {
  each <- lapply(state$chosen, function(name) form_of_meaning(meaning_in(state$book, name)))
  Reduce(function(a, b) a[vapply(names(a), function(key) identical(a[[key]], b[[key]]), NA)], each)
}

# What is typed beyond what was known: only that is stated.
stated_in <- function(form) {
  typed <- form$typed
  typed[!vapply(names(typed), function(key) {
    !is.null(form$known[[key]]) && identical(form$known[[key]], typed[[key]])
  }, NA)]
}

# A name that is not taken: score, score_2, ...
free_name <- function(name, book) {
  if (is.null(name)) return(NULL)
  setdiff(c(name, paste0(name, "_", 2 + seq_along(names(book)) - 1)), names(book))[1]
}

with_suspects <- function(missing, state) {
  codes <- unique(unlist(lapply(state$chosen, suspects_on_desk, book = state$book)))
  alike_as_one(c(missing, list("No answer" = paste(show_number(codes), collapse = "; "))))
}

# The codes of an original that look like missing ones.
suspects_on_desk <- function(name, book) {
  if (is_derived(book, name)) numeric() else suspects_of(variable_in(book, name))
}

with_trial <- function(state) {
  state$tried <- with_field_named(tried_form(state), state)
  state
}

tried_form <- function(state) {
  form <- state$form
  if (!is.null(form$amends)) return(try_amend(state$book, form$amends, state$chosen, form$typed))
  try_form(form$verb, state$book, state$chosen, stated_in(form))
}

# An error belongs to the first field without which there would be none; else, without which it
# would be another one, at last that this field is needed.
with_field_named <- function(tried, state) {
  if (is.null(tried$error) || !is.null(tried$argument)) return(tried)
  other <- needed <- NULL
  for (argument in names(compact_typed(stated_in(state$form)))) {
    error <- error_without(argument, state)
    if (is.null(error)) {
      tried$argument <- argument
      return(tried)
    }
    if (identical(class(error), class(tried$error))) next
    if (is_needed_error(error)) needed <- c(needed, argument) else other <- c(other, argument)
  }
  tried$argument <- c(other, needed)[1]
  tried
}

error_without <- function(argument, state) {
  state$form$typed[[argument]] <- NULL
  tried_form(state)$error
}

with_form_kept <- function(state) {
  form <- state$form
  before <- names(state$book)
  after <- after_call(state, if (is.null(form$amends)) {
    form_call(form$verb, state$book, state$chosen, stated_in(form))
  } else {
    amend_call(state$book, form$amends, state$chosen, form$typed)
  })
  if (!is.null(after$error)) return(after)
  after <- without_unfinished(after, unfinished_key(form))
  made <- setdiff(names(after$book), before)
  if (length(made)) after$chosen <- made
  back_to_form(without_form(after))
}

# After a definition that was opened from a form, this goes on.
back_to_form <- function(state) {
  if (is.null(state$back)) return(state)
  form <- state$back
  state["back"] <- list(NULL)
  state$chosen <- intersect(form$chosen, names(state$book))
  form$filled <- (form$filled %||% 0) + 1
  state$form <- form
  with_trial(state)
}

# The desk with the book after a call, or as it was and the error.
after_call <- function(state, call) {
  result <- try_call(call)
  state$error <- result$error
  state$receipt <- result$receipt
  if (is.null(result$error)) {
    state$chosen <- still_there(state, result$book)
    state$book <- result$book
  }
  state
}

# What is chosen of another book: where all of it is gone, what it was made from.
still_there <- function(state, book) {
  left <- intersect(state$chosen, names(book))
  if (length(left)) return(left)
  from <- unlist(lapply(state$chosen, function(name) derived_in(state$book, name)$from))
  intersect(unique(from), names(book))
}

word_errors(list(
  "accept-reason" = c("A finding is accepted with a reason.", "Say why it is all right as it is.",
    desk = "Say why it is all right as it is.")
))
