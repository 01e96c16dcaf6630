# What a turn may know of the book while it lowers itself.
world_of <- function(book, recorded = list()) {
  list(
    names = names(book), id = held(book, "info")$id,
    learn_all = function(call) learn_notes(call, place_of(book), recorded),
    learn = function(call) learn_call(call, place_of(book), recorded)$note,
    meaning = function(name) meaning_in(book, name),
    column = function(name) column_in(book, name)$x,
    is_text = function(name) has_text(book, name) || is_empty(book, name),
    kinds = function(name) kinds_known(book, name)
  )
}

# A column without any answer and any labels may be anything, text too.
is_empty <- function(book, name) !length(meaning_in(book, name)$codes) && all(is.na(column_in(book, name)$x))
