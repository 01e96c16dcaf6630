# The desk as a server on this machine: who is let in gets the page; what it says goes to answer().

# `room` holds the `screen` as it stands, and the session of the page that is `active`: one at a
# time, so that two pages never work on one book.
desk_app <- function(room, gate) {
  shiny::addResourcePath("desk", system.file("desk", package = "ableturn"))
  shiny::shinyApp(ui = function(request) gated_page(room, gate, request),
    server = function(input, output, session) serve_page(room, gate, input, session))
}

gated_page <- function(room, gate, request) {
  switch(gate_says(gate, request),
    "in" = page_frame(room$screen$state$book),
    cookie = shiny::httpResponse(303, headers = list("Set-Cookie" = gate_cookie(gate),
      Location = "/")),
    shiny::httpResponse(403, "text/plain", refused_words))
}

refused_words <- paste("This desk is open for another browser. Use the address that R printed,",
  "once; or close the desk and open it anew.")

serve_page <- function(room, gate, input, session) {
  if (!gate_lets_in(gate, as.list(session$request))) return(session$close())
  shiny::observeEvent(input$said, hear(room, session, input$said))
}

# One thing said by a page: a text of JSON with a number `n`, which the answer carries, too.
hear <- function(room, session, said) {
  event <- tryCatch(jsonlite::fromJSON(said, simplifyVector = FALSE), error = function(e) list())
  if (!is.list(event)) event <- list()
  if (identical(event$do, "hello")) take_over(room, session)
  if (!identical(room$active, session)) return(tell_page(session, list(list(do = "elsewhere"))))
  if (identical(event$do, "close")) return(close_desk(room, session))
  answered <- quietly_answered(room$screen, event)
  room$screen <- answered$screen
  tell_page(session, c(answered$says, list(list(do = "answered", n = event$n))))
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
  tell_page(session, list(list(do = "closed")))
  session$onFlushed(function() shiny::stopApp(), once = TRUE)
}
