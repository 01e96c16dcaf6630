#' @include desk-acts.R desk-screen.R
NULL

# What a page may say that changes nothing of the book: it asks to be shown something, or leaves.
add_acts(list(
  # a page that has just been opened, or opened anew
  hello = function(screen, event) {
    list(screen = screen, says = whole_page(screen, "hello"))
  },
  # what the list of variables shows
  list = function(screen, event) {
    screen$view <- view_asked(event, screen$state$book)
    list(screen = screen, says = pane_messages(screen, "variables"))
  },
  # which steps of the record are shown, one that was opened, and all of them to be printed
  find = function(screen, event) {
    screen$find <- one_typed(event$text)
    html <- as_html(record_html(screen$state$book, search = screen$find))
    with_message(screen, list(do = "into", list = "record", html = html))
  },
  step = function(screen, event) {
    place <- step_asked(screen$state$book, event$place)
    with_message(screen, list(do = "step", place = place,
      html = as_html(step_body_html(screen$state$book, place))))
  },
  print = function(screen, event) {
    with_message(screen, list(do = "print", html = as_html(printed_record(screen$state$book))))
  },
  # a tab other than the record, when nothing else is to be done
  stale = function(screen, event) {
    list(screen = screen, says = pane_messages(screen, "tab"))
  },
  grid = function(screen, event) grid_answer(screen, event),
  row = function(screen, event) {
    html <- in_its_place(row_working_html(screen$state, event$key))
    with_message(screen, list(do = "place", place = "row-working", html = html))
  },
  values = function(screen, event) {
    name <- known_on_desk(screen$state, event$name)
    html <- in_its_place(values_listed_html(name, screen$state$book, one_typed(event$text)))
    with_message(screen, list(do = "place", place = "values", html = html))
  },
  help = function(screen, event) {
    verb <- check_choice(event$verb, "verb", vapply(all_desk_forms(), `[[`, "", "verb"))
    with_message(screen, list(do = "dialog", html = as_html(help_html(verb, event$argument))))
  },
  calls = function(screen, event) {
    book <- screen$state$book
    with_message(screen, list(do = "calls", text = calls_so_far(book),
      steps = length(steps_of(book))))
  },
  # the rows of a list that come into sight
  more = function(screen, event) {
    from <- as.integer(event$from)
    book <- screen$state$book
    html <- switch(one_typed(event$list),
      variables = variables_html(screen$state, screen$view, from),
      record = record_html(book, from, screen$find),
      codebook = codebook_rows_html(book, from))
    with_message(screen, list(do = "more", list = event$list, html = as_html(html)))
  },
  # what has to be counted of variables that are seen
  measure = function(screen, event) {
    names <- utils::head(intersect(unlist(event$names), names(screen$state$book)), 12)
    list(screen = screen, says = lapply(names, function(name) {
      list(do = "measured", name = name, html = as_html(share_html(name, screen$state$book)))
    }))
  },
  picture = function(screen, event) {
    state <- screen$state
    trial <- identical(event$of, "trial")
    book <- if (trial) state$tried$book else state$book
    name <- one_typed(event$name)
    html <- with_room(event, if (name %in% names(book)) if (trial && is_derived(book, name))
      trial_picture(name, book) else look_picture(name, book))
    with_message(screen, list(do = "picture", of = event$of, name = name, html = as_html(html)))
  },
  tab = function(screen, event) {
    screen$tab <- check_choice(one_typed(event$tab), "tab", names(desk_tabs))
    list(screen = screen, says = pane_messages(screen, "tab"))
  },
  working = function(screen, event) {
    name <- known_on_desk(screen$state, event$name)
    html <- in_its_place(printed_html(working_on_desk(screen$state$book, name, event$row),
      "The arithmetic of a row"))
    with_message(screen, list(do = "place", place = "working", html = html))
  },
  items = function(screen, event) {
    html <- in_its_place(printed_html(item_analysis(screen$state$book,
      tidyselect::all_of(screen$state$chosen)), "Item analysis"))
    with_message(screen, list(do = "place", place = "items", html = html))
  },
  rescue = function(screen, event) {
    what <- check_choice(one_typed(event$what), "what", names(rescue_ways))
    before <- screen
    if (!is.null(screen$rescue)) screen <- rescue_ways[[what]](screen)
    list(screen = screen, says = changed_panes(screen, before, "rescue"))
  },
  teach = function(screen, event) {
    screen$lesson <- max(0, min(as.integer(event$to), length(lesson_steps) + 1))
    if (screen$lesson == 1) screen$did <- character()
    list(screen = screen, says = pane_messages(screen, "lesson"))
  },
  out = function(screen, event) {
    way <- check_choice(one_typed(event$way), "way", c(names(ways_out), "close"))
    html <- if (way == "close") closing_html(screen) else leave_html(screen$state, way)
    with_message(screen, list(do = "dialog", html = as_html(html)))
  },
  send = function(screen, event) {
    way <- check_choice(one_typed(event$way), "way", names(ways_out))
    begun <- if (isTRUE(screen$beside) && is_long_way(way, screen$state$book)) {
      begun_way(screen, way, event$typed)
    }
    if (!is.null(begun)) return(begun)
    left <- leave_in_its_words(screen$state$book, way, event$typed)
    before <- screen
    if (way == "sheet" && is.null(left$error)) {
      screen$saved <- steps_of(screen$state$book)
      screen$saved_as <- one_typed(event$typed$path)
      screen$did <- union(screen$did, "saved")
    }
    screen <- with_lesson(screen)
    html <- if (is.null(left$error)) said_html(left$says, "What was written") else
      error_html(left$error)
    list(screen = screen, says = c(list(list(do = "left", html = as_html(html),
      argument = left$argument, error = if (!is.null(left$error)) as.list(error_words_of(
        left$error)))), changed_panes(screen, before, "send")))
  }
), screen_acts)

trial_picture <- function(name, book) {
  figure <- in_plain_settings(tryCatch(figure_before_after(book, tidyselect::all_of(name)),
    error = identity))
  if (inherits(figure, "error")) return(error_html(figure, "no-picture"))
  picture_html(figure, "trial", paste0(named_label(book, name), ". ", validity_words(book, name),
    "."), 8.4, 4.4)
}

# A way that is gone beside the desk; NULL where what was typed is wrong, which is told at once.
begun_way <- function(screen, way, typed) {
  typed <- tryCatch({
    typed <- typed_of_page(way_fields(way), typed)
    if (!is_untyped(typed$path)) {
      check_target(one_typed(typed$path), isTRUE(typed$overwrite))
      check_not_source(one_typed(typed$path), screen$state$book)
    }
    typed
  }, error = function(e) NULL)
  if (is.null(typed) || is_untyped(typed$path) && way != "prove") return(NULL)
  job <- list(book = as_frame(without_sheet(screen$state$book)), typed = typed)
  screen <- begin_work(screen, way, job, one_typed(typed$path %||% ""))
  with_message(screen, working_message(screen))
}

leave_in_its_words <- function(book, way, typed) {
  typed <- tryCatch(typed_of_page(way_fields(way), typed), error = identity)
  if (inherits(typed, "error")) list(error = typed, argument = typed$argument) else
    leave_by(book, way, typed)
}

# Before the desk is closed: what is kept where. What was kept aside goes with a close.
closing_html <- function(screen) {
  tags <- htmltools::tags
  now <- kept_state(screen)
  open <- now$kept %in% c("aside", "none")
  words <- switch(now$kept, sheet = paste("Every step is in", show_controls(now$where)),
    saved = paste0("Every step is in ", show_controls(now$where), "."),
    nothing = "Nothing was done that is to be kept.",
    paste0("What was done here (", counted(now$steps, "step"), ") is in no sheet of yours. ",
      if (is_alone()) "When the desk is closed, it is gone." else
        "R gets the book as it stands."))
  tags$form(id = "leave-form", `data-way` = "close", tags$h2(id = "leave-title", "Close the desk"),
    tags$p(words), if (!is.null(screen$work)) tags$p(paste0("Still under way, and stopped by a ",
      "close: ", work_kinds[[screen$work$way]]$title, ".")),
    tags$p(class = "buttons", if (open) list(
      button_html("Save the sheet first", "out", way = "sheet"),
      tags$button(type = "button", class = "copy-calls", "Copy the R calls")),
    tags$button(type = "submit", class = "main", if (!open) "Close" else if (is_alone())
      "Throw it away and close" else "Close, with the book to R"),
    tags$button(type = "button", class = "close-dialog", "Back")))
}

# Whether the desk was opened from the command line, where no R waits for the book.
is_alone <- function() isTRUE(getOption("ableturn.desk_alone"))
