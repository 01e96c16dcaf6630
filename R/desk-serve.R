# The desk as a server on this machine: who is let in gets the page; what it says goes to answer().

# `room` holds the `screen` as it stands, and the session of the page that is `active`: one at a
# time, so that two pages never work on one book.
desk_app <- function(room, gate) {
  shiny::addResourcePath("desk", system.file("desk", package = "ableturn"))
  app <- shiny::shinyApp(ui = function(request) gated_page(room, gate, request),
    server = function(input, output, session) serve_page(room, gate, input, session))
  answer <- app$httpHandler
  app$httpHandler <- function(request) with_desk_headers(answer(request))
  app
}

gated_page <- function(room, gate, request) {
  switch(gate_says(gate, request),
    "in" = page_frame(room$screen$state$book),
    cookie = let_in(room, gate),
    shiny::httpResponse(403, "text/plain", refused_words))
}

refused_words <- paste("This desk is open for another browser. Use the address that R printed,",
  "once. If that browser was closed, a new address is printed half a minute later.")

# The key is spent; where no page comes of it, another is given.
let_in <- function(room, gate) {
  wait_for_page(room, gate)
  shiny::httpResponse(200, "text/html", going_to("/"),
    headers = list("Set-Cookie" = gate_cookie(gate)))
}

# Nobody may show the page in a page of theirs, keep it, or learn its address.
with_desk_headers <- function(response) {
  if (!inherits(response, "httpResponse")) return(response)
  response$headers <- utils::modifyList(as.list(response$headers), desk_headers)
  response
}

desk_headers <- list("Content-Security-Policy" = "frame-ancestors 'none'",
  "X-Frame-Options" = "DENY", "X-Content-Type-Options" = "nosniff", "Cache-Control" = "no-store",
  "Referrer-Policy" = "no-referrer", "Cross-Origin-Opener-Policy" = "same-origin")

serve_page <- function(room, gate, input, session) {
  if (!gate_lets_in(gate, as.list(session$request))) return(session$close())
  shiny::observeEvent(input$said, hear(room, session, input$said))
  session$onSessionEnded(function() {
    if (!identical(room$active, session)) return()
    room$active <- NULL
    wait_for_page(room, gate)
  })
}

# A browser that was quit has lost its cookie: where no page comes back, a new address is printed.
wait_for_page <- function(room, gate) {
  later::later(function() {
    if (!is.null(room$active) || isTRUE(room$closed) || !gate$spent) return()
    renew_key(gate)
    tell_address(gate, again = TRUE)
  }, gate$patience)
}

# One thing said by a page: a text of JSON with a number `n`, which the answer carries, too.
hear <- function(room, session, said) {
  event <- event_in(said)
  if (identical(event$do, "hello")) take_over(room, session)
  if (!identical(room$active, session)) return(tell_page(session, list(list(do = "elsewhere"))))
  if (identical(event$do, "close")) return(close_desk(room, session))
  answered <- quietly_answered(room$screen, event)
  room$screen <- answered$screen
  room$heard <- seconds_now()
  watch_work(room)
  fill_idle_time(room)
  tell_page(session, c(answered$says, list(list(do = "answered", n = event$n))))
}

# How far work beside the desk is, told to the page that is open until it is done.
watch_work <- function(room) {
  work <- room$screen$work
  if (is.null(work) || identical(room$watched, work$process)) return(invisible())
  room$watched <- work$process
  look <- function() {
    if (!identical(room$screen$work$process, work$process)) return(invisible())
    told <- look_at_work(work)
    after <- after_work(room$screen, told)
    room$screen <- after$screen
    if (!is.null(room$active)) tell_page(room$active, after$says)
    if (told$is == "done") fill_idle_time(room)
    if (told$is == "working") later::later(look, 0.4)
  }
  later::later(look, 0.4)
}

# A text and nothing else: it is never taken for an address or the name of a file.
event_in <- function(said) {
  # what a page sends at once is a file at most
  if (!is_one(said, is.character) || nchar(said, "bytes") > 2 * most_bytes) return(list())
  event <- tryCatch(parsed_json(said), error = function(e) NULL)
  if (is.list(event)) event else list()
}

# What the core has to tell goes to the page, not to the console.
quietly_answered <- function(screen, event) {
  withr::local_options(ableturn.progress = FALSE)
  suppressMessages(answer_safely(screen, event), classes = "ableturn_receipt")
}

tell_page <- function(session, messages) {
  session$sendCustomMessage("desk", messages)
}

# A page that says hello works on from here; the one before is told.
take_over <- function(room, session) {
  before <- room$active
  room$active <- session
  if (!is.null(before) && !before$isClosed()) tell_page(before, list(list(do = "elsewhere")))
}

close_desk <- function(room, session) {
  room$closed <- TRUE
  words <- if (is_alone()) "The desk is closed." else
    "The desk is closed. R has the book as it stood."
  tell_page(session, list(list(do = "closed", words = words)))
  session$onFlushed(function() shiny::stopApp(), once = TRUE)
}

tell_address <- function(gate, again = FALSE) {
  message(if (again) "No page is open on the desk. To come in again: " else "The desk is open at ",
    gate_address(gate), if (!again) "\nClose it with its button, or by Esc or Ctrl-C here.")
}
