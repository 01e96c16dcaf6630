# What comes of an event: the desk after it, and what the page is to show. Nothing here knows of a
# browser or a server.

# The screen after an event, and the messages for the page: each is a list with `do`, the name of
# what the page is to do, and what that needs.
answer <- function(screen, event) {
  own <- act_named(event$do, screen_acts)
  if (!is.null(own)) return(own(screen, event))
  before <- screen
  if (identical(event$do, "fill")) {
    screen$state <- filled_desk(screen$state, event)
  } else {
    screen$state <- desk_do(screen$state, event)
  }
  if (is.null(screen$state$error)) screen$did <- union(screen$did, event$do)
  screen <- with_lesson(screen)
  list(screen = screen, says = changed_panes(screen, before, event$do))
}

# What goes wrong unforeseen is told, and leaves everything as it was.
answer_safely <- function(screen, event) {
  withr::local_options(ableturn.reader = "desk")
  tryCatch(answer(screen, event), error = function(e) {
    list(screen = screen, says = list(list(do = "trouble", html = as_html(error_html(e)))))
  })
}

# What was typed comes as the page has it. What no field can mean is an error of the form.
filled_desk <- function(state, event) {
  if (is.null(state$form) || !identical(event$verb, state$form$verb)) return(state)
  fields <- form_fields(state$form$verb)
  texts <- texts_like_ranges(state$book, state$chosen)
  state$read <- read_back(fields, event$typed, texts)
  typed <- tryCatch(typed_of_page(fields, event$typed, state$form$typed, texts), error = identity)
  if (!inherits(typed, "error")) return(desk_do(state, list(do = "fill", typed = typed)))
  state$tried <- list(error = typed, argument = typed$argument)
  state
}
