# More distinct values than these may be no longer told one by one: `many` of src/facts.h.
many_values <- 2048

# What is known of a column (see src/facts.cpp): valid rows, lowest and highest, and, where there
# are few, the distinct values with the rows that hold each.
facts_of_column <- function(x) facts_of_columns(list(x))[[1]]

# The facts of a column of which only its cells were worked out; `rows`: how many rows each cell
# stands for.
facts_in_cells <- function(x, rows) {
  if (!is.character(x)) return(facts_of_cells(x, rows))
  told <- !is.na(x) & rows > 0
  c(list(valid = sum(rows[told]), few = TRUE, low = NA_real_, high = NA_real_, negatives = 0L),
    counts_of(x[told], rows = rows[told]))
}

# All distinct numbers in their order and how many rows hold each, few or not.
number_counts <- function(x, facts = facts_of_column(x)) {
  if (facts$few && is.numeric(facts$values)) return(facts[c("values", "rows")])
  if (is.character(x)) return(text_counts(x, facts))
  counts_of(as.double(x[is.finite(x)]), sort)
}

# `rows`: how many each value stands for, if not one.
counts_of <- function(x, arrange = identity, rows = NULL) {
  values <- arrange(unique(x))
  place <- match(x, values)
  list(values = values, rows = rows_at_places(place, length(values), rows))
}

# How many rows are at each of some places; those at none are left out. `rows`: how many each stands
# for, if not one.
rows_at_places <- function(place, size, rows = NULL) {
  if (is.null(rows)) tabulate(place, size) else as_row_counts(sums_by_place(rows, place, size))
}

# Texts that are plain numbers, counted as such.
text_counts <- function(x, facts) {
  texts <- if (facts$few) facts else counts_of(x[!is.na(x)])
  number <- as_number(texts$values)
  values <- sort(unique(number[is.finite(number)]))
  list(values = values, rows = vapply(values, function(v) sum(texts$rows[number %in% v]), 1L))
}

# How often each value comes, as a table for words: numbers in their order, else the frequent first.
count_values <- function(x, rows = NULL) {
  seen <- counts_of(x, rows = rows)
  number <- suppressWarnings(as.numeric(seen$values))
  order <- if (anyNA(number)) order(-seen$rows, seen$values, method = "radix") else order(number)
  quick_table(value = seen$values[order], rows = seen$rows[order])
}

# The rows in which two columns differ: exactly for whole numbers and text, to 1e-12 relative for
# other numbers, and always where one of them is missing.
rows_that_differ <- function(ours, theirs) {
  if (are_numbers(ours, theirs)) {
    return(differing_numbers(ours, theirs, is.integer(ours))$rows)
  }
  unlike <- is.na(ours) != is.na(theirs)
  both <- which(!is.na(ours) & !is.na(theirs))
  unlike[both] <- as.character(ours[both]) != as.character(theirs[both])
  which(unlike)
}

# What is stored as numbers or truth values on both sides.
are_numbers <- function(ours, theirs) {
  typeof(ours) %in% number_types && typeof(theirs) %in% number_types
}

number_types <- c("integer", "double", "logical")

# Counts are whole numbers of R as long as these hold them.
as_row_counts <- function(rows) {
  if (all(rows <= .Machine$integer.max)) as.integer(rows) else rows
}
