# The desk as data: the book, what is chosen, the form that is open, and what would come of it.
# desk_do() is all that can be done with it; the page only shows it and says what was done.

#   book    the book as it stands
#   chosen  names of variables
#   form    NULL, or a list of its `verb`, what is `typed`, by argument, of a turn that is being
#           amended one of its variables (`amends`), and of a definition what is `known` already
#   tried   what would come of the form, see try_call()
#   error   of the last thing that was done, where it failed; nothing was changed then
#   receipt of the last thing that was done
new_desk <- function(book) {
  list(book = book, chosen = character(), form = NULL, tried = NULL, error = NULL, receipt = NULL)
}

# A desk after something was done: `event` has the name of what (`do`) and what is needed for it.
# What no browser of ours would say is refused.
desk_do <- function(desk, event) {
  act <- if (is_one(event$do, is.character)) desk_acts[[event$do]]
  if (is.null(act)) fail("desk-act", act = show_value(event$do %||% "")[1])
  desk[c("error", "receipt")] <- list(NULL)
  act(desk, event)
}

desk_acts <- list(
  choose = function(desk, event) {
    desk$chosen <- known_on_desk(desk, event$names)
    without_form(desk)
  },
  ask = function(desk, event) {
    fits <- fitting_forms(chosen_facts(desk$book, desk$chosen))
    verbs <- c(vapply(fits, `[[`, "", "verb"), if (length(desk$chosen)) "define")
    with_form(desk, check_choice(event$verb, "verb", verbs), isTRUE(event$suspects))
  },
  fill = function(desk, event) {
    if (is.null(desk$form)) return(desk)
    known <- names(form_fields(desk$form$verb))
    desk$form$typed <- as.list(event$typed)[intersect(names(event$typed), known)]
    with_trial(desk)
  },
  keep = function(desk, event) if (is.null(desk$form)) desk else with_form_kept(desk),
  leave = function(desk, event) without_form(desk),
  amend = function(desk, event) {
    name <- made_on_desk(desk, event$name)
    filled <- form_of_turn(turn_of(desk$book, name))
    desk$chosen <- filled$chosen %||% character()
    desk$form <- list(verb = derived_in(desk$book, name)$verb, typed = filled$typed, amends = name)
    with_trial(desk)
  },
  drop = function(desk, event) {
    name <- made_on_desk(desk, event$name)
    after_call(desk, rlang::call2(drop_turn, desk$book, name))
  },
  accept = function(desk, event) {
    name <- made_on_desk(desk, event$name)
    reason <- setNames(one_typed(event$reason), event$finding)
    accept <- c(turn_of(desk$book, name)$accept, reason)
    after_call(desk, rlang::call2(amend, book = desk$book, var = name, accept = accept))
  },
  undo = function(desk, event) after_call(desk, rlang::call2(undo, desk$book)),
  redo = function(desk, event) after_call(desk, rlang::call2(redo, desk$book))
)

known_on_desk <- function(desk, names) {
  names <- as.character(unlist(names))
  for (name in setdiff(names, names(desk$book))) fail_unknown(name, names(desk$book))
  names
}

# One variable that a turn has made.
made_on_desk <- function(desk, name) {
  name <- known_on_desk(desk, name)
  if (length(name) != 1) fail("desk-act", act = paste(name, collapse = ", "))
  if (!is_derived(desk$book, name)) fail("not-derived", name = name, what = "changed")
  name
}

turn_of <- function(book, name) steps_of(book)[[entry_of(book, name)]]$turn

without_form <- function(desk) {
  desk[c("form", "tried")] <- list(NULL)
  desk
}

# A form is opened with the usual case filled in; a definition, with what is known already and, where
# that is asked for, with the codes that look like missing ones.
with_form <- function(desk, verb, suspects = FALSE) {
  typed <- compact(lapply(form_fields(verb), `[[`, "start"))
  known <- if (verb == "define") known_of_all(desk)
  if (verb == "define") typed <- known
  if (suspects) typed$missing <- with_suspects(typed$missing, desk)
  desk$form <- list(verb = verb, typed = typed, amends = NULL, known = known)
  with_trial(desk)
}

# What is known alike of all chosen variables, as it would be typed.
known_of_all <- function(desk) {
  each <- lapply(desk$chosen, function(name) form_of_meaning(meaning_in(desk$book, name)))
  Reduce(function(a, b) a[vapply(names(a), function(key) identical(a[[key]], b[[key]]), NA)], each)
}

# What is typed beyond what was known: only that is stated.
stated_in <- function(form) {
  typed <- form$typed
  typed[!vapply(names(typed), function(key) {
    !is.null(form$known[[key]]) && identical(form$known[[key]], typed[[key]])
  }, NA)]
}

with_suspects <- function(missing, desk) {
  codes <- unique(unlist(lapply(desk$chosen, suspects_of, book = desk$book)))
  alike_as_one(c(missing, list("No answer" = paste(show_number(codes), collapse = "; "))))
}

# The codes of an original that look like missing ones.
suspects_of <- function(name, book) {
  if (is_derived(book, name)) numeric() else suspect_codes(column_in(book, name)$x)
}

with_trial <- function(desk) {
  form <- desk$form
  desk$tried <- if (is.null(form$amends)) try_form(form$verb, desk$book, desk$chosen, stated_in(form))
  else try_amend(desk$book, form$amends, desk$chosen, form$typed)
  desk
}

with_form_kept <- function(desk) {
  form <- desk$form
  before <- names(desk$book)
  after <- after_call(desk, if (is.null(form$amends)) {
    form_call(form$verb, desk$book, desk$chosen, stated_in(form))
  } else {
    amend_call(desk$book, form$amends, desk$chosen, form$typed)
  })
  if (!is.null(after$error)) return(after)
  made <- setdiff(names(after$book), before)
  if (length(made)) after$chosen <- made
  without_form(after)
}

# The desk with the book after a call, or as it was and the error.
after_call <- function(desk, call) {
  result <- try_call(call)
  desk$error <- result$error
  desk$receipt <- result$receipt
  if (is.null(result$error)) {
    desk$book <- result$book
    desk$chosen <- intersect(desk$chosen, names(desk$book))
  }
  desk
}

word_errors(list(
  "desk-act" = c("The desk knows nothing to do that is called {act}.",
    "Load the page anew, and report it if it happens again.")
))
