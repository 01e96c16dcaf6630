# The desk as it is shown: what a page says was done, and what it is to show for it. Nothing here
# knows of a browser or a server: an event goes in, a new screen and messages come out.

#   desk    see new_desk()
#   tab     which tab of the record is open
#   search  what is looked for among the variables
#   lesson  which step of the lesson is shown; NULL where there is none, 0 where it is put away
#   did     what was done so far, by name
#   kept    where what is done is kept at each step, in words; NULL where it is not
new_screen <- function(book, lesson = NULL) {
  list(desk = new_desk(book), tab = "record", search = "", lesson = lesson, did = character())
}

# The screen after an event, and the messages for the page: each is a list with `do`, the name of
# what the page is to do, and what that needs.
answer <- function(screen, event) {
  own <- if (is_one(event$do, is.character)) screen_acts[[event$do]]
  if (!is.null(own)) return(own(screen, event))
  before <- screen
  if (identical(event$do, "fill")) {
    screen$desk <- filled_desk(screen$desk, event)
  } else {
    screen$desk <- desk_do(screen$desk, event)
  }
  if (is.null(screen$desk$error)) screen$did <- union(screen$did, event$do)
  screen <- with_lesson(screen)
  list(screen = screen, says = changes(screen, before, event$do))
}

# What goes wrong unforeseen is told, and leaves everything as it was.
answer_safely <- function(screen, event) {
  tryCatch(answer(screen, event), error = function(e) {
    list(screen = screen, says = list(list(do = "trouble", html = as_html(error_html(e)))))
  })
}

# What was typed comes as the page has it. What no field can mean is an error of the form.
filled_desk <- function(desk, event) {
  if (is.null(desk$form) || !identical(event$verb, desk$form$verb)) return(desk)
  typed <- tryCatch(typed_of_page(form_fields(desk$form$verb), event$typed, desk$form$typed),
    error = identity)
  if (!inherits(typed, "error")) return(desk_do(desk, list(do = "fill", typed = typed)))
  desk$tried <- list(error = typed, argument = typed$argument)
  desk
}

with_lesson <- function(screen) {
  if (!is.null(screen$lesson)) {
    screen$lesson <- lesson_after(screen$lesson, screen$desk, screen$did)
  }
  screen
}

# The panes in the order in which they are filled: what each shows of the screen (`needs`), and its
# content. It is sent anew where that has changed.
panes <- list(
  lesson = list(needs = function(s) s$lesson,
    html = function(s) if (!is.null(s$lesson)) lesson_html(s$lesson)),
  kept = list(needs = function(s) info_of(s$desk$book)$sheet, html = function(s) kept_html(s)),
  last = list(needs = function(s) s$desk[c("receipt", "error")], html = function(s) {
    last_html(s$desk)
  }),
  form = list(needs = function(s) s$desk$form[c("verb", "amends")], html = function(s) {
    form_html(s$desk)
  }),
  trial = list(needs = function(s) list(s$desk$tried, s$desk$error), html = function(s) {
    trial_html(s$desk)
  }),
  question = list(needs = function(s) list(s$desk$chosen, is.null(s$desk$form),
    names(s$desk$book)), html = function(s) question_html(s$desk)),
  now = list(needs = function(s) list(s$desk$chosen, book_state(s$desk$book)), html = function(s) {
    now_html(s$desk)
  }),
  tab = list(needs = function(s) list(s$tab, book_state(s$desk$book)), html = function(s) {
    tab_html(s)
  }),
  variables = list(needs = function(s) list(s$search, variables_state(s$desk$book)),
    html = function(s) variables_html(s$desk, s$search))
)

# What tells whether a book is another one: its steps, and how far they can be undone.
book_state <- function(book) {
  list(steps_of(book), is.null(part_of_book(book, "past")), length(part_of_book(book, "undone")))
}

variables_state <- function(book) list(names(book), meanings_of(book), derived_labels(book))

derived_labels <- function(book) {
  lapply(derived_of(book), function(derived) derived$meaning[c("label", "level")])
}

changes <- function(screen, before, act) {
  changed <- vapply(panes, function(pane) !same_state(pane$needs(screen), pane$needs(before)), NA)
  c(pane_messages(screen, names(panes)[changed]), around(screen, act, changed))
}

same_state <- function(a, b) identical(a, b)

pane_messages <- function(screen, names) {
  lapply(names, function(name) {
    list(do = "pane", pane = name, html = as_html(panes[[name]]$html(screen)))
  })
}

# What goes with the panes: what is chosen, the title, what each value becomes, where the error of a
# field stands, and where the keyboard goes on.
around <- function(screen, act, changed) {
  desk <- screen$desk
  compact(list(
    list(do = "chosen", names = as.list(desk$chosen), title = show_controls(now_title(desk))),
    if (changed[["trial"]] || changed[["form"]]) list(do = "tried",
      becomes = unname(becomes_so_far(desk)),
      argument = desk$tried$argument,
      error = if (!is.null(desk$tried$error)) as.list(error_words_of(desk$tried$error))),
    if (changed[["variables"]]) list(do = "names", names = as.list(names(desk$book))),
    list(do = "after", act = act, failed = !is.null(desk$error), open = !is.null(desk$form)),
    if (length(desk$receipt) || length(desk$error)) list(do = "status", text = status_words(desk))
  ))
}

# For who does not see the panes: what was done, in a line.
status_words <- function(desk) {
  if (!is.null(desk$error)) return(error_words_of(desk$error)[1])
  trimws(cli::ansi_strip(receipt_lines(desk$receipt)[1]))
}

kept_html <- function(screen) {
  sheet <- info_of(screen$desk$book)$sheet
  if (is.null(sheet)) return("Kept here only: save the sheet before you close.")
  paste("Each step is kept at once in", show_controls(basename(sheet)))
}

tab_html <- function(screen) {
  tryCatch(desk_tabs[[screen$tab]]$html(screen$desk$book), error = function(e) error_html(e))
}

# What would come of the form: its receipt and, drawn after it, its picture; or what is wrong.
trial_html <- function(desk) {
  if (is.null(desk$form)) return(NULL)
  tags <- htmltools::tags
  tried <- desk$tried
  if (!is.null(tried$error)) return(tags$section(class = "trial", `aria-label` = "What is wrong",
    tags$h2("Not yet"), error_html(desk$error %||% tried$error, "wanting")))
  tags$section(class = "trial", `aria-labelledby` = "trial-title",
    tags$h2(id = "trial-title", "What would come of it"), receipt_html(tried$receipt),
    acceptable_html(desk), picture_place("trial", trial_name(desk)))
}

# The findings that the form would raise, each with a way to accept it there.
acceptable_html <- function(desk) {
  made <- desk$tried$receipt$turn$makes
  open <- Filter(function(found) is.null(found$because) && found$variable %in% made,
    all_findings(desk$tried$book))
  ids <- unique(vapply(open, `[[`, "", "id"))
  if (!length(ids) || is.null(form_fields(desk$form$verb)$accept)) return(NULL)
  htmltools::tags$p(class = "buttons", lapply(ids, function(id) {
    htmltools::tags$button(type = "button", class = "accept-in-form", `data-finding` = id,
      paste("Accept", id))
  }))
}

# The variable whose picture shows what would come of it.
trial_name <- function(desk) c(desk$tried$receipt$turn$makes, desk$chosen)[1]
