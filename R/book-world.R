# What a turn may know of the book while it lowers itself.
world_of <- function(book, recorded = list(), context = learning_context(book, new.env())) {
  list(
    is_recorded = function(note) any(vapply(recorded, function(r) identical(r$of, note$of), NA)),
    names = names(book), id = info_of(book)$id, rows = row_count(book),
    learn_all = function(call) learn_notes(call, context, recorded),
    learn = function(call) learn_call(call, context, recorded)$note,
    meaning = function(name) meaning_in(book, name),
    facts = function(name) facts_of(book, name), met = function(name) values_met(book, name),
    column = function(name) values_of(book, name),
    values = function(name) values_held(book, name),
    together = function(names) {
      context <- context_over(names, book)
      c(lapply(self_named(names), context$value), list(times = context$stand_for %||% 1))
    },
    is_text = function(name) has_text(book, name) || is_empty(book, name),
    kinds = function(name) kinds_known(book, name)
  )
}

# Where statistics are learned: what is met in a variable, and what a turn knows of it already.
learning_context <- function(book, memo) {
  c(context_of(book, memo), list(
    joint = if (is_on_site(book)) function(names) context_over(names, book),
    met = function(name) values_met(book, name),
    codes = function(name) meaning_in(book, name)$codes
  ))
}

# Where some variables are looked at side by side: the rows, or, where these are elsewhere, the
# cells that they span together.
context_over <- function(names, book) {
  if (!is_on_site(book)) return(context_of(book))
  cells <- if (all_indexed(names, book)) cells_of_index(names, book)
  if (is.null(cells)) refuse_rows()
  context_of(cells$book)
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
