# The desk as it is shown: its panes, and the messages that bring a page up to date.

#   state   of the desk, see new_desk()
#   tab     which tab of the record is open
#   view    what the list of variables shows, see new_view()
#   find    what is looked for in the record
#   grid    what the rows of the data show, see new_grid()
#   lesson  which step of the lesson is shown; NULL where there is none, 0 where it is put away
#   did     what was done so far, by name
#   saved   the steps as they stood when the sheet was last saved, `saved_as` a file; NULL before
#   work    what is done beside the desk, see begin_work()
#   beside  whether long work is done beside the desk, rather than in this process
#   connection  to the database that the desk was opened on, where other data are open now
#   rescue  what an earlier desk has kept aside, see found_rescue(); NULL where nothing is offered
new_screen <- function(book, lesson = NULL, rescue = NULL) {
  list(state = new_desk(book), tab = "record", view = new_view(), find = "", grid = new_grid(),
    lesson = lesson, did = character(), rescue = rescue)
}

with_lesson <- function(screen) {
  if (!is.null(screen$lesson)) {
    screen$lesson <- lesson_after(screen$lesson, screen$state, screen$did)
  }
  screen
}

# The panes in the order in which they are filled: what each shows of the screen (`needs`), and its
# content. It is sent anew where that has changed; of long lists only the lines that did, as the
# messages that `changes` gives: NULL where all of it is to be sent.
panes <- list(
  rescue = list(needs = function(s) s$rescue, html = function(s) rescue_html(s$rescue)),
  news = list(needs = function(s) book_state(s$state$book), html = function(s) {
    news_html(s$state$book)
  }),
  lesson = list(needs = function(s) s$lesson, html = function(s) {
    if (!is.null(s$lesson)) lesson_html(s$lesson)
  }),
  kept = list(needs = function(s) kept_state(s), html = function(s) kept_html(s)),
  last = list(needs = function(s) s$state[c("receipt", "error")], html = function(s) {
    last_html(s$state)
  }),
  form = list(needs = function(s) s$state$form[c("verb", "amends", "restored", "filled")],
    html = function(s) form_html(s$state)),
  trial = list(needs = function(s) list(s$state$tried, s$state$error), html = function(s) {
    trial_html(s$state)
  }),
  question = list(needs = function(s) {
    list(s$state$chosen, is.null(s$state$form), names(s$state$book), s$state$copied,
      s$state$templates)
  }, html = function(s) question_html(s$state)),
  now = list(needs = function(s) list(s$state$chosen, book_state(s$state$book)),
    html = function(s) now_html(s$state)),
  tab = list(needs = function(s) list(s$tab, s$find, book_state(s$state$book)),
    html = function(s) tab_html(s), changes = function(s, before) tab_changes(s, before)),
  variables = list(needs = function(s) list(s$view, variables_state(s$state$book)),
    html = function(s) variables_html(s$state, s$view), changes = function(s, before) {
      if (identical(s$view, before$view)) list(list_changes(s, before))
    })
)

# What tells whether a book is another one: its steps, and how far they can be undone.
book_state <- function(book) {
  list(steps_of(book), is.null(part_of_book(book, "past")), length(part_of_book(book, "undone")))
}

variables_state <- function(book) list(names(book), meanings_of(book), derived_labels(book))

derived_labels <- function(book) {
  lapply(derived_of(book), function(derived) derived$meaning[c("label", "level", "set")])
}

changed_panes <- function(screen, before, act) {
  changed <- vapply(panes, function(pane) !identical(pane$needs(screen), pane$needs(before)), NA)
  messages <- lapply(names(panes)[changed], function(name) {
    lines <- if (!is.null(panes[[name]]$changes)) panes[[name]]$changes(screen, before)
    if (length(compact(lines))) lines else pane_messages(screen, name)
  })
  c(unlist(messages, recursive = FALSE), beside_panes(screen, act, changed))
}

# The record gets its new lines; what else stands in the tab is asked for by the page when nothing
# else is to be done.
tab_changes <- function(screen, before) {
  if (!identical(screen$tab, before$tab) || !identical(screen$find, before$find)) return(NULL)
  if (screen$tab != "record") return(list(list(do = "stale", tab = screen$tab)))
  steps <- lengths(list(steps_of(screen$state$book), steps_of(before$state$book)))
  lines <- if (all(steps > 0) && !nzchar(screen$find)) record_changes(screen, before)
  if (!is.null(lines)) list(lines, undo_message(screen$state$book))
}

undo_message <- function(book) {
  list(do = "able", undo = !is.null(part_of_book(book, "past")),
    redo = length(part_of_book(book, "undone")) > 0, some = length(steps_of(book)))
}

pane_messages <- function(screen, names) {
  lapply(names, function(name) {
    list(do = "pane", pane = name, html = as_html(panes[[name]]$html(screen)))
  })
}

# All of it, for a page that shows nothing yet, or another book.
whole_page <- function(screen, act) {
  all <- setNames(rep(TRUE, length(panes)), names(panes))
  c(pane_messages(screen, names(panes)), beside_panes(screen, act, all))
}

# What goes with the panes: what is chosen, the title, what each value becomes, where the error of a
# field stands, and where the keyboard goes on.
beside_panes <- function(screen, act, changed) {
  state <- screen$state
  compact(list(
    list(do = "chosen", names = as.list(state$chosen), title = show_controls(now_title(state))),
    if (changed[["trial"]] || changed[["form"]]) list(do = "tried",
      becomes = unname(becomes_so_far(state)), makes = as.list(state$tried$receipt$turn$makes),
      argument = state$tried$argument, read = state$read, wanted = is_wanting(state),
      error = error_of_field(state)),
    if (changed[["tab"]]) list(do = "worked", steps = length(steps_of(state$book))),
    if (changed[["variables"]]) list(do = "names", names = as.list(names(state$book)),
      quoted = as.list(quote_name(names(state$book))),
      sets = as.list(setdiff(unique(sets_of(state$book)), ""))),
    list(do = "after", act = act, failed = !is.null(state$error), open = !is.null(state$form),
      focus = state$focus),
    if (length(state$receipt) || length(state$error)) list(do = "status",
      text = status_words(state))
  ))
}

# The work as calls of R, for a page that R has left.
calls_so_far <- function(book) {
  lines <- tryCatch(in_plain_settings(script_lines(book, "ableturn")), error = function(e) "")
  show_controls(paste(lines, collapse = "\n"), "\n\t")
}

# What is told at the field that an error belongs to.
error_of_field <- function(state) {
  error <- state$tried$error
  if (!is.null(error)) as.list(error_words_of(error, form_fields(state$form$verb)))
}

# What was not typed yet, or is not finished, is no mistake: it is told as what is to be filled in.
is_wanting <- function(state) {
  form <- state$form
  error <- state$tried$error
  if (is.null(error) || is.null(form)) return(FALSE)
  untouched <- identical(compact_typed(form$typed), compact_typed(form$start))
  untouched || is_needed_error(error) || inherits(error, "ableturn_error_formula_unfinished")
}

# For who does not see the panes: what was done, in a line.
status_words <- function(state) {
  if (!is.null(state$error)) return(error_words_of(state$error, if (!is.null(state$form))
    form_fields(state$form$verb))[1])
  trimws(cli::ansi_strip(receipt_lines(state$receipt)[1]))
}

tab_html <- function(screen) {
  tryCatch(desk_tabs[[screen$tab]]$html(screen), error = function(e) error_html(e))
}

# What would come of the form: its receipt and, drawn after it, its picture; or what is wrong.
trial_html <- function(state) {
  if (is.null(state$form)) return(NULL)
  tags <- htmltools::tags
  tried <- state$tried
  if (!is.null(tried$error)) {
    wanting <- is.null(state$error) && is_wanting(state)
    return(tags$section(class = "trial", `aria-labelledby` = "trial-title",
      tags$h2(id = "trial-title", if (wanting) "To be filled in" else "Not yet"),
      error_html(state$error %||% tried$error, "wanting", form_fields(state$form$verb)),
      advice_of_error(tried$error, state)))
  }
  tags$section(class = "trial", `aria-labelledby` = "trial-title",
    tags$h2(id = "trial-title", "What would come of it"), receipt_html(tried$receipt),
    acceptable_html(state), picture_place("trial", trial_name(state)))
}

# The findings that the form would raise, each with a way to accept it there.
acceptable_html <- function(state) {
  made <- state$tried$receipt$turn$makes
  found <- found_of(made, state$tried$book)
  open <- found[!accepted_of(found)]
  ids <- unique(vapply(open, `[[`, "", "id"))
  if (!length(ids) || is.null(form_fields(state$form$verb)$accept)) return(NULL)
  advice <- lapply(open[!duplicated(vapply(open, `[[`, "", "id"))], advice_buttons)
  htmltools::tagList(advice, htmltools::tags$p(class = "buttons", lapply(ids, function(id) {
    htmltools::tags$button(type = "button", class = "accept-in-form", `data-finding` = id,
      paste0("Accept: ", gsub("-", " ", id)))
  })))
}

# The variable whose picture shows what would come of it.
trial_name <- function(state) c(state$tried$receipt$turn$makes, state$chosen)[1]
