# Rows with the same answers get the same result, so a formula is worked out once for each of them:
# the cells. `cells_of()` gives NULL where that is no help, else
#   book    a book with one row for each cell that some row of the data is in
#   rows    how many rows of the data each stands for
#   exact   whether its values are those of the data, rather than one for a stretch of them
#   spread  makes of what was worked out for them, `x`, and where it is missing `why`, a column
cells_of <- function(out, book) {
  vars <- vars_behind(out)
  if (is_on_site(book)) return(if (length(vars) && all_indexed(vars, book)) cells_of_index(vars,
    book))
  if (!length(vars) || is_row_node(out$expr) || reads_other_rows(out$expr)) return(NULL)
  if (all_indexed(vars, book)) return(cells_of_index(vars, book))
  if (length(vars) == 1) cells_of_stretches(vars, out$expr, book)
}

# The variables that a column is made from or that its formula reads.
vars_behind <- function(out) unique(c(out$from, formula_vars(out$expr)))

# Words whose result depends on more than the row itself.
reads_other_rows <- function(expr) {
  uses(expr, words_with("reads other rows"))
}

# Each combination of the variables' cells; they may share one index.
cells_of_index <- function(vars, book) {
  columns <- lapply(self_named(vars), column_in, book = book)
  index <- index_of_several(columns, row_count(book))
  if (is.null(index)) return(NULL)
  met <- which(index$rows > 0)
  columns <- Map(function(column, places) column_of_cells(column, places[met]), columns,
    index$places)
  new_cells(columns, index, met, book)
}

# A formula that only compares its variable with numbers gives the same between two of them.
cells_of_stretches <- function(name, expr, book) {
  points <- compared_with(expr, name)
  if (!length(points)) return(NULL)
  source <- column_in(book, name)
  if (!is.numeric(source$x) || length(points) + length(source$kinds) > 100) return(NULL)
  probes <- stretch_values(points)
  if (is.null(probes)) return(NULL)
  found <- stretch_index(source$x, source$why, points, length(source$kinds))
  met <- which(found$rows > 0)
  small <- pick_rows(cell_column(probes, source$kinds), met)
  new_cells(setNames(list(small), name), found, met, book, exact = FALSE)
}

# A value below, on and between each of the points; none where two are so close that none fits.
stretch_values <- function(points) {
  between <- (points[-1] + points[-length(points)]) / 2
  probes <- c(-Inf, rbind(points, c(between, Inf)))
  if (!is.unsorted(probes, strictly = TRUE)) probes
}

# The numbers that the formula compares the variable with; NULL if it does anything else with it.
compared_with <- function(expr, name) {
  if (is.symbol(expr)) return(NULL)
  if (!is.call(expr)) return(numeric())
  head <- call_head(expr)
  args <- as.list(expr)[-1]
  if (head == "unanswered") return(numeric())
  if (head %in% c(words_with("compares"), "%in%")) return(constants_beside(args, name))
  if (!head %in% c("choose", "if", "&", "|", "!", "(")) return(NULL)
  points <- lapply(args, compared_with, name = name)
  if (!any(vapply(points, is.null, NA))) sort(unique(unlist(points)))
}

constants_beside <- function(sides, name) {
  symbols <- vapply(sides, is.symbol, NA)
  numbers <- Filter(is.numeric, sides)
  if (sum(symbols) == 1 && length(numbers) == 1 && all(is.finite(numbers[[1]]))) {
    as.double(numbers[[1]])
  }
}

# One row for each value and for each kind of missing.
cell_column <- function(values, kinds) {
  new_column(c(values, rep(values[NA_integer_], length(kinds))), seq_along(kinds), kinds)
}

# Some rows of a column, each with its reason.
pick_rows <- function(column, at, kinds = column$kinds) {
  kind <- rep(NA_integer_, length(column$x))
  kind[is.na(column$x)] <- column$why
  x <- column$x[at]
  new_column(x, kind[at][is.na(x)], kinds)
}

new_cells <- function(columns, index, met, book, exact = TRUE) {
  list(
    book = book_of_cells(columns, index$rows[met], book), rows = index$rows[met], exact = exact,
    spread = function(column) spread_column(column, index$codes, index$rows, met)
  )
}
