# The distinct numbers of an original in their order and how many rows hold each.
numbers_in <- function(book, name) {
  keep_once(book, name, "values", number_counts(values_of(book, name), facts_of(book, name)))
}

# The values of an original that look like missing codes nobody declared.
suspects_in <- function(book, name) {
  if (!may_hold_suspects(facts_of(book, name))) return(numeric())
  keep_once(book, name, "suspects", do.call(suspect_values, unname(numbers_in(book, name))))
}

# The distinct values of a variable, numbers or texts, and how many rows hold each.
values_met <- function(book, name) {
  if (is_on_site(book)) return(answers_in_cells(column_in(book, name)$cells))
  x <- values_of(book, name)
  facts <- facts_of(book, name)
  if (!facts$few || sum(facts$rows) < facts$valid) return(counts_of(x[!is.na(x)]))
  list(values = if (is.character(x)) facts$values else self_typed(facts$values, x),
    rows = facts$rows)
}

# Values among which each stands that a variable holds: the column, or, where its rows are
# elsewhere, its answers.
values_held <- function(book, name) {
  if (is_on_site(book)) values_met(book, name)$values else values_of(book, name)
}

answers_in_cells <- function(cells) {
  if (is.null(cells)) refuse_rows()
  use <- cells$kind == 0 & cells$rows > 0
  counts_of(cells$values[use], rows = cells$rows[use])
}

# One number from a thousand rows of a column, which tells it from most others. It is finite for any
# column: a thousand of the largest numbers, each divided by 1024, do not overflow.
mark_of <- function(x, column = NULL) {
  if (!is.null(column) && is_far(column)) return(mark_of_cells(column$cells))
  value <- mark_numbers(x[some_rows(length(x))])
  sum(value * mark_weights[seq_along(value)])
}

# Of cells, whatever their order.
mark_of_cells <- function(cells) {
  sum(mark_numbers(cells$values) * cells$rows) / max(1, sum(cells$rows))
}

mark_numbers <- function(x) {
  value <- if (is.character(x)) nchar(x, "bytes") else as.double(x)
  value[!is.finite(value)] <- 0.5
  value
}

mark_weights <- sin(1:1000) / 1024

some_rows <- function(rows) {
  if (rows <= 1000) seq_len(rows) else 1 + (0:999 * (rows - 1)) %/% 999
}

# The columns that may be equal to one with this mark.
alike_columns <- function(mark, book) {
  # an amended turn that still waits has none
  marks <- c(original_marks(book), numbers_at(derived_of(book), "mark"))
  near <- which(abs(marks - mark) <= 1e-6 * (abs(marks) + abs(mark) + 1))
  names(book)[near]
}

original_marks <- function(book) {
  keep_once(book, all_originals, "marks", {
    some <- some_rows(row_count(book))
    mapply(original_mark, originals_of(book), meanings_of(book)[original_names(book)],
      original_names(book), MoreArgs = list(book = book, some = some), USE.NAMES = FALSE)
  })
}

# Without making the whole column ready for analysis, where it is not.
original_mark <- function(raw, meaning, name, book, some) {
  if (is_on_site(book)) return(mark_of(NULL, column_in(book, name)))
  if (!is.null(meaning$asked_if) || !is.null(meaning$read)) return(mark_of(column_in(book, name)$x))
  raw <- if (is.object(raw)) plain_values(raw)[some] else raw[some]
  plain <- is.numeric(raw) && !is.object(raw) && !length(meaning$missing)
  mark_of(if (plain) raw else valid_column(raw, meaning)$x)
}
