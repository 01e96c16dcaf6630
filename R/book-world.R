# What a turn may know of the book while it lowers itself.
world_of <- function(book, recorded = list(), context = learning_context(book, new.env())) {
  list(
    is_recorded = function(note) any(vapply(recorded, function(r) identical(r$of, note$of), NA)),
    names = names(book), id = info_of(book)$id,
    learn_all = function(call) learn_notes(call, context, recorded),
    learn = function(call) learn_call(call, context, recorded)$note,
    meaning = function(name) meaning_in(book, name),
    facts = function(name) facts_of(book, name), met = function(name) values_met(book, name),
    column = function(name) values_of(book, name),
    is_text = function(name) has_text(book, name) || is_empty(book, name),
    kinds = function(name) kinds_known(book, name)
  )
}

# Where statistics are learned: what is met in a variable, and what a turn knows of it already.
learning_context <- function(book, memo) {
  c(context_of(book, memo), list(
    met = function(name) values_met(book, name),
    codes = function(name) meaning_in(book, name)$codes
  ))
}

# A column without any answer and any labels may be anything, text too.
is_empty <- function(book, name) {
  !length(meaning_in(book, name)$codes) && facts_of(book, name)$valid == 0
}

# A place where statistics are learned, which takes its time before the first step is done.
telling <- function(context, progress) {
  value <- context$value
  context$value <- function(name) {
    progress(0)
    value(name)
  }
  context
}
