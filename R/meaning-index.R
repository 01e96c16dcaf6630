# A column of few answers carries an index: for each row the cell in which its answer stands, in one
# or two bytes (src/index.h). What is worked out of it is worked out for its cells, and a column
# made from it shares its index. `cells` of a column:
#   codes   the index
#   rows    how many rows are in each cell; some of a column that is made may have none
#   values  the answer of each, missing where `kind` says why
#   kind    a position in the column's `kinds`; 0 for a valid answer, and for a cell without rows
# `x` and `why` of such a column are looked up in these where somebody asks (src/indexed.cpp).
new_indexed <- function(cells, kinds) UseMethod("new_indexed", cells$codes)

#' @export
new_indexed.default <- function(cells, kinds) {
  gone <- sum(cells$rows[cells$kind > 0])
  list(x = indexed_values(cells$codes, cells$values),
    why = indexed_kinds(cells$codes, cells$kind, gone), kinds = kinds, cells = cells)
}

# A column worked out for the cells of an index, `small`, becomes one of all rows.
column_of_rows <- function(small, codes, rows, met = seq_along(rows)) {
  to_all <- match(seq_along(rows), met)
  kind <- integer(length(small$x))
  kind[is.na(small$x)] <- small$why
  cells <- list(codes = codes, rows = rows, values = small$x[to_all], kind = kind[to_all] %|% 0L)
  new_indexed(cells, small$kinds)
}

# The same column with an index, if its answers are few.
with_index <- function(column) {
  if (!is.null(column$cells)) return(column)
  found <- index_column(column$x, column$why, length(column$kinds))
  if (is.null(found)) return(column)
  gone <- length(column$kinds)
  answers <- length(found$rows) - gone
  found$values <- like_column(found$values, column$x)
  found$kind <- rep(c(0L, seq_len(gone)), c(answers, rep(1L, gone)))
  new_indexed(found, column$kinds)
}

# The index of an original as it came, and its distinct answers as plain values; NULL where they are
# not few.
index_of_raw <- function(raw) {
  found <- if (is_not_written(raw)) indexed_parts(raw) else index_column(raw, integer(), 1L)
  if (is.null(found) || length(found$values) * 4 > sum(found$rows)) return(NULL)
  found$values <- plain_values(like_column(found$values, raw))
  found
}

# Bare values of a column with its class and levels.
like_column <- function(values, column) {
  kept <- attributes(column)
  attributes(values) <- kept[setdiff(names(kept), c("names", "dim", "dimnames", "tsp"))]
  values
}

# The valid column of an original of which the index is known.
valid_by_index <- function(index, meaning) {
  column_of_rows(valid_column(index$values, meaning), index$codes, index$rows)
}

# The cells of a column as a short column, some of them.
column_of_cells <- function(column, place = seq_along(column$cells$rows)) {
  x <- column$cells$values[place]
  new_column(x, column$cells$kind[place][is.na(x)], column$kinds)
}

# The facts of an indexed column, see facts_of_column().
facts_by_index <- function(column) facts_in_cells(column$cells$values, column$cells$rows)

# Why some rows are missing: positions in the column's `kinds`, 0 for rows with a valid answer.
kinds_at <- function(column, rows) {
  if (!is.null(column$cells)) return(indexed_values(column$cells$codes, column$cells$kind)[rows])
  if (length(column$kinds) == 1) return(as.integer(is.na(column$x[rows])))
  kinds_of_rows(column$x, column$why, rows)
}
