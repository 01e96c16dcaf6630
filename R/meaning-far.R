# Columns whose rows are elsewhere, such as in a table of a database. Such a column is known by its
# cells alone: its answers, each with its rows. Its values can be asked for their type, class and
# number; who touches one is stopped in words.

# What stands for the index of such a column: the originals that it rests on, as a list of their
# values in each cell, named; `site`, where the rows are.
far_codes <- function(site, keys) structure(list(site = site, keys = keys), class = "far_codes")

is_far <- function(column) is_long(column) || inherits(column$cells$codes, "far_codes")

# A column of more answers than are fetched: `far` tells where it can be asked about, see
# book-far.R.
is_long <- function(column) !is.null(column$far)

# A column of such an index, see new_indexed().
far_indexed <- function(cells, kinds) {
  gone <- sum(cells$rows[cells$kind > 0])
  list(x = far_values(cells$values[0], sum(cells$rows)), why = far_values(integer(), gone),
    kinds = kinds, cells = cells)
}

far_values <- function(like, rows) unread_column(like, rows, refuse_rows)

refuse_rows <- function() fail("rows-stay")
