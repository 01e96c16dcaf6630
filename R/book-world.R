# What a turn may know of the book while it lowers itself.
world_of <- function(book) {
  list(
    names = names(book),
    meaning = function(name) meaning_in(book, name),
    column = function(name) column_in(book, name)$x,
    is_text = function(name) has_text(book, name),
    kinds = function(name) kinds_known(book, name)
  )
}

# Where formulas are evaluated.
place_of <- function(book) {
  list(
    value = function(name) column_in(book, name)$x,
    kind = function(name, kind) is_kind(column_in(book, name), kind),
    rows = row_count(book)
  )
}
