# The desk as it is shown: its panes, and the messages that bring a page up to date.

#   state   of the desk, see new_desk()
#   tab     which tab of the record is open
#   search  what is looked for among the variables
#   lesson  which step of the lesson is shown; NULL where there is none, 0 where it is put away
#   did     what was done so far, by name
#   saved   the steps as they stood when the sheet was last saved, `saved_as` a file; NULL before
#   rescue  what an earlier desk has kept aside, see found_rescue(); NULL where nothing is offered
new_screen <- function(book, lesson = NULL, rescue = NULL) {
  list(state = new_desk(book), tab = "record", search = "", lesson = lesson, did = character(),
    rescue = rescue)
}

with_lesson <- function(screen) {
  if (!is.null(screen$lesson)) {
    screen$lesson <- lesson_after(screen$lesson, screen$state, screen$did)
  }
  screen
}

# The panes in the order in which they are filled: what each shows of the screen (`needs`), and its
# content. It is sent anew where that has changed.
panes <- list(
  rescue = list(needs = function(s) s$rescue, html = function(s) rescue_html(s$rescue)),
  lesson = list(needs = function(s) s$lesson, html = function(s) {
    if (!is.null(s$lesson)) lesson_html(s$lesson)
  }),
  kept = list(needs = function(s) kept_state(s), html = function(s) kept_html(s)),
  last = list(needs = function(s) s$state[c("receipt", "error")], html = function(s) {
    last_html(s$state)
  }),
  form = list(needs = function(s) s$state$form[c("verb", "amends", "restored")],
    html = function(s) form_html(s$state)),
  trial = list(needs = function(s) list(s$state$tried, s$state$error), html = function(s) {
    trial_html(s$state)
  }),
  question = list(needs = function(s) {
    list(s$state$chosen, is.null(s$state$form), names(s$state$book))
  }, html = function(s) question_html(s$state)),
  now = list(needs = function(s) list(s$state$chosen, book_state(s$state$book)),
    html = function(s) now_html(s$state)),
  tab = list(needs = function(s) list(s$tab, book_state(s$state$book)), html = function(s) {
    tab_html(s)
  }),
  variables = list(needs = function(s) list(s$search, variables_state(s$state$book)),
    html = function(s) variables_html(s$state, s$search))
)

# What tells whether a book is another one: its steps, and how far they can be undone.
book_state <- function(book) {
  list(steps_of(book), is.null(part_of_book(book, "past")), length(part_of_book(book, "undone")))
}

variables_state <- function(book) list(names(book), meanings_of(book), derived_labels(book))

derived_labels <- function(book) {
  lapply(derived_of(book), function(derived) derived$meaning[c("label", "level")])
}

changed_panes <- function(screen, before, act) {
  changed <- vapply(panes, function(pane) !identical(pane$needs(screen), pane$needs(before)), NA)
  c(pane_messages(screen, names(panes)[changed]), beside_panes(screen, act, changed))
}

pane_messages <- function(screen, names) {
  lapply(names, function(name) {
    list(do = "pane", pane = name, html = as_html(panes[[name]]$html(screen)))
  })
}

# What goes with the panes: what is chosen, the title, what each value becomes, where the error of a
# field stands, and where the keyboard goes on.
beside_panes <- function(screen, act, changed) {
  state <- screen$state
  compact(list(
    list(do = "chosen", names = as.list(state$chosen), title = show_controls(now_title(state))),
    if (changed[["trial"]] || changed[["form"]]) list(do = "tried",
      becomes = unname(becomes_so_far(state)), makes = as.list(state$tried$receipt$turn$makes),
      argument = state$tried$argument, error = error_of_field(state$tried$error)),
    if (changed[["tab"]]) list(do = "calls", text = calls_so_far(state$book)),
    if (changed[["variables"]]) list(do = "names", names = as.list(names(state$book))),
    list(do = "after", act = act, failed = !is.null(state$error), open = !is.null(state$form)),
    if (length(state$receipt) || length(state$error)) list(do = "status",
      text = status_words(state))
  ))
}

# The work as calls of R, for a page that R has left.
calls_so_far <- function(book) {
  lines <- tryCatch(in_plain_settings(script_lines(book, "ableturn")), error = function(e) "")
  show_controls(paste(lines, collapse = "\n"), "\n\t")
}

# What was not typed yet is no mistake of a field.
error_of_field <- function(error) {
  if (is.null(error) || inherits(error, "ableturn_error_argument_needed")) return(NULL)
  as.list(error_words_of(error))
}

# For who does not see the panes: what was done, in a line.
status_words <- function(state) {
  if (!is.null(state$error)) return(error_words_of(state$error)[1])
  trimws(cli::ansi_strip(receipt_lines(state$receipt)[1]))
}

tab_html <- function(screen) {
  tryCatch(desk_tabs[[screen$tab]]$html(screen$state$book), error = function(e) error_html(e))
}

# What would come of the form: its receipt and, drawn after it, its picture; or what is wrong.
trial_html <- function(state) {
  if (is.null(state$form)) return(NULL)
  tags <- htmltools::tags
  tried <- state$tried
  if (!is.null(tried$error)) return(tags$section(class = "trial", `aria-label` = "What is wrong",
    tags$h2("Not yet"), error_html(state$error %||% tried$error, "wanting")))
  tags$section(class = "trial", `aria-labelledby` = "trial-title",
    tags$h2(id = "trial-title", "What would come of it"), receipt_html(tried$receipt),
    acceptable_html(state), picture_place("trial", trial_name(state)))
}

# The findings that the form would raise, each with a way to accept it there.
acceptable_html <- function(state) {
  made <- state$tried$receipt$turn$makes
  open <- Filter(function(found) is.null(found$because) && found$variable %in% made,
    all_findings(state$tried$book))
  ids <- unique(vapply(open, `[[`, "", "id"))
  if (!length(ids) || is.null(form_fields(state$form$verb)$accept)) return(NULL)
  htmltools::tags$p(class = "buttons", lapply(ids, function(id) {
    htmltools::tags$button(type = "button", class = "accept-in-form", `data-finding` = id,
      paste0("Accept: ", id))
  }))
}

# The variable whose picture shows what would come of it.
trial_name <- function(state) c(state$tried$receipt$turn$makes, state$chosen)[1]
