#' @include base-fail.R
NULL

# What can be done on the desk, by name: each file adds its own. Of the desk as data: a function of
# the desk and the event that gives the desk afterwards.
desk_acts <- new.env(parent = emptyenv())

# Of the screen: what a page may say that changes nothing of the book, or another book altogether;
# a function of the screen and the event that gives the screen and what it `says` to the page.
screen_acts <- new.env(parent = emptyenv())

add_acts <- function(acts, to) {
  stopifnot(!names(acts) %in% c(names(desk_acts), names(screen_acts)))
  list2env(acts, to)
}

act_named <- function(name, acts) {
  if (is_one(name, is.character) && nzchar(name)) acts[[name]]
}

with_message <- function(screen, message) list(screen = screen, says = list(message))

# What cannot be shown is told where it would stand.
in_its_place <- function(html) as_html(tryCatch(html, error = function(e) error_html(e)))

# A step that there is, by its place.
step_asked <- function(book, place) {
  place <- suppressWarnings(as.integer(place))
  if (!isTRUE(place %in% seq_along(steps_of(book)))) fail("desk-act", act = show_value(place)[1])
  place
}

word_errors(list(
  "desk-act" = c("The desk knows nothing to do that is called {act}.",
    "Load the page anew, and report it if it happens again.")
))
