# The distinct numbers of an original in their order and how many rows hold each.
numbers_in <- function(book, name) {
  if (is_long(column_in(book, name))) return(numbers_at_ends(book, name))
  keep_once(book, name, "values", number_counts(values_of(book, name), facts_of(book, name)))
}

# The outermost numbers of a long variable: all of them where they are not more than a register has,
# else a thousand at each end.
numbers_at_ends <- function(book, name) {
  keep_once(book, name, "values", {
    node <- as.name(name)
    site <- info_of(book)$site
    all <- groups_at_site(site, book, list(node), register_values)
    if (is.null(all)) all <- outer_numbers(site, book, node, column_in(book, name))
    values <- as.double(all$keys[[1]])
    order <- order(values)[seq_len(sum(is.finite(values)))]
    list(values = values[order], rows = all$rows[order])
  })
}

outer_numbers <- function(site, book, node, column) {
  valid <- column$facts$valid - 1
  ranks <- c(seq(0, min(999, valid)), seq(max(0, valid - 999), valid))
  ends <- ranks_at_site(site, book, node, sort(unique(ranks)))
  groups_at_site(site, book, list(node), register_values, call("%in%", node, unique(ends$values)))
}

# The values of an original that look like missing codes nobody declared.
suspects_in <- function(book, name) {
  if (!may_hold_suspects(facts_of(book, name))) return(numeric())
  keep_once(book, name, "suspects", do.call(suspect_values, unname(numbers_in(book, name))))
}

# The distinct values of a variable, numbers or texts, and how many rows hold each.
values_met <- function(book, name) {
  if (is_on_site(book)) return(answers_in_cells(column_in(book, name)$cells, name, book))
  x <- values_of(book, name)
  facts <- facts_of(book, name)
  if (!facts$few || sum(facts$rows) < facts$valid) return(counts_of(x[!is.na(x)]))
  list(values = if (is.character(x)) facts$values else self_typed(facts$values, x),
    rows = facts$rows)
}

# The same; NULL where there are too many to be looked at one by one.
few_met <- function(book, name) {
  if (!is_long(column_in(book, name)) && facts_of(book, name)$few) values_met(book, name)
}

# The numbers of a variable that lie beyond some limits, with the rows of each.
values_outside <- function(book, name, limits) {
  met <- if (is_long(column_in(book, name))) far_outside(book, name, limits) else
    values_met(book, name)
  x <- as_number(met$values)
  off <- !is.na(x) & (x < limits[1] | x > limits[2])
  list(values = x[off], rows = met$rows[off])
}

far_outside <- function(book, name, limits) {
  x <- call("+", as.name(name), 0)
  found <- groups_at_site(info_of(book)$site, book, list(x), register_values,
    outside_node(x, limits))
  if (is.null(found)) refuse_answers(name, book)
  list(values = found$keys[[1]], rows = found$rows)
}

# Whether all numbers of a variable are whole.
has_whole_values <- function(book, name) {
  column <- column_in(book, name)
  if (is_long(column)) column$far$whole else is_whole(as_number(values_held(book, name)))
}

# How many rows lie in each of the bands between some cuts, and the ends there, see band_ends().
bands_of <- function(book, name, cuts, ends) {
  if (!is_long(column_in(book, name))) {
    return(band_ends(as_number(values_held(book, name)), cuts, ends))
  }
  far_bands(as.name(name), cuts, ends, questions_of(book))
}

# Values among which each stands that a variable holds: the column, or, where its rows are
# elsewhere, its answers.
values_held <- function(book, name) {
  if (is_on_site(book)) values_met(book, name)$values else values_of(book, name)
}

answers_in_cells <- function(cells, name, book) {
  if (is.null(cells)) refuse_answers(name, book)
  use <- cells$kind == 0 & cells$rows > 0
  counts_of(cells$values[use], rows = cells$rows[use])
}

refuse_answers <- function(name, book) {
  fail("answers-many", name = name, most = grouped(info_of(book)$site$most))
}

# One number from a thousand rows of a column, which tells it from most others. It is finite for any
# column: a thousand of the largest numbers, each divided by 1024, do not overflow.
mark_of <- function(x, column = NULL) {
  if (!is.null(column) && is_long(column)) return(mark_of_facts(column$facts))
  if (!is.null(column) && is_far(column)) return(mark_of_cells(column$cells))
  value <- mark_numbers(x[some_rows(length(x))])
  sum(value * mark_weights[seq_along(value)])
}

# Of cells, whatever their order.
mark_of_cells <- function(cells) {
  sum(mark_numbers(cells$values) * cells$rows) / max(1, sum(cells$rows))
}

# Of a variable of which no more is known; no other has more than so many answers.
mark_of_facts <- function(facts) {
  sum(mark_numbers(c(facts$low, facts$high, facts$valid)) * mark_weights[1:3])
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

# The columns that may be equal to one that is made, of this meaning.
alike_columns <- function(column, meaning, book) {
  near <- function(names, marks) {
    names[which(abs(marks - column$mark) <= 1e-6 * (abs(marks) + abs(column$mark) + 1))]
  }
  c(if (is_on_site(book)) alike_originals(column, meaning, book) else
    near(original_names(book), original_marks(book)),
  # an amended turn that still waits has no mark
  near(derived_names(book), numbers_at(derived_of(book), "mark")))
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
  if (!is.null(meaning$asked_if) || !is.null(meaning$read)) return(mark_of(column_in(book, name)$x))
  raw <- if (is.object(raw)) plain_values(raw)[some] else raw[some]
  plain <- is.numeric(raw) && !is.object(raw) && !length(meaning$missing)
  mark_of(if (plain) raw else valid_column(raw, meaning)$x)
}
