# Rows with the same answers get the same result, so a formula is worked out once for each of them:
# the cells. `cells_of()` gives NULL where that is no help, else
#   book    a book with one row for each cell that some row of the data is in
#   rows    how many rows of the data each stands for
#   exact   whether its values are those of the data, rather than one for a stretch of them
#   spread  puts what was worked out back: `x`, and where it is missing `why`, into all rows
cells_of <- function(out, book) {
  vars <- vars_behind(out)
  if (!length(vars) || is_row_node(out$expr) || reads_other_rows(out$expr)) return(NULL)
  learn_facts(book, vars)
  few <- vapply(vars, has_few_values, NA, book = book)
  if (length(vars) == 1) {
    return(if (few) cells_of_values(vars, book) else cells_of_stretches(vars, out$expr, book))
  }
  if (all(few)) cells_of_several(vars, book)
}

# The variables that a column is made from or that its formula reads.
vars_behind <- function(out) unique(c(out$from, formula_vars(out$expr)))

# Words whose result depends on more than the row itself.
reads_other_rows <- function(expr) {
  uses(expr, words_with("reads other rows"))
}

has_few_values <- function(name, book) {
  facts <- facts_of(book, name)
  facts$few && sum(facts$rows) == facts$valid && length(facts$values) * 4 <= row_count(book)
}

cells_of_values <- function(name, book) {
  source <- column_in(book, name)
  facts <- facts_of(book, name)
  rows <- c(facts$rows, tabulate(source$why, length(source$kinds)))
  at <- cell_column(name, self_typed(facts$values, source$x), book)
  new_cells(setNames(list(at), name), rows, book, source = source, keys = facts$values)
}

# A formula that only compares its variable with numbers gives the same between two of them.
cells_of_stretches <- function(name, expr, book) {
  points <- compared_with(expr, name)
  if (!length(points)) return(NULL)
  source <- column_in(book, name)
  if (!is.numeric(source$x) || length(points) + length(source$kinds) > 100) return(NULL)
  probes <- stretch_values(points)
  if (is.null(probes)) return(NULL)
  at <- cell_column(name, probes, book)
  found <- stretch_cells(source$x, source$why, points, length(source$kinds))
  new_cells(setNames(list(at), name), found$rows, book, source = list(x = found$index),
    exact = FALSE)
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

cells_of_several <- function(vars, book) {
  sources <- lapply(vars, function(name) column_in(book, name))
  keys <- lapply(vars, function(name) facts_of(book, name)$values)
  values <- Map(self_typed, keys, lapply(sources, `[[`, "x"))
  columns <- Map(cell_column, vars, values, MoreArgs = list(book = book))
  sizes <- vapply(columns, function(column) length(column$x), 1L)
  if (prod(sizes) > min(4096, row_count(book) / 4)) return(NULL)
  found <- combine_cells(lapply(sources, `[[`, "x"), lapply(sources, `[[`, "why"), keys, sizes)
  places <- expand.grid(lapply(sizes, seq_len))
  columns <- Map(function(column, at) pick_rows(column, at, column$kinds), columns, places)
  new_cells(setNames(columns, vars), found$rows, book, source = list(x = found$index))
}

# One row for each value and for each kind of missing.
cell_column <- function(name, values, book) {
  known <- column_in(book, name)$kinds
  new_column(c(values, rep(values[NA_integer_], length(known))), seq_along(known), known)
}

# Some rows of a column, each with its reason.
pick_rows <- function(column, at, kinds = column$kinds) {
  kind <- rep(NA_integer_, length(column$x))
  kind[is.na(column$x)] <- column$why
  x <- column$x[at]
  new_column(x, kind[at][is.na(x)], kinds)
}

new_cells <- function(columns, rows, book, source, keys = NULL, exact = TRUE) {
  met <- which(rows > 0)
  columns <- lapply(columns, pick_rows, at = met)
  list(
    book = book_of_cells(columns, rows[met], book), rows = rows[met], exact = exact,
    spread = function(column) spread_column(column, met, rows, source, keys)
  )
}

# The book with these short columns in place of its own; meanings and record stay. `rows`: how many
# rows of the data each row of them stands for.
book_of_cells <- function(columns, rows, book) {
  derived <- intersect(names(columns), derived_names(book))
  made <- derived_of(book)
  made[derived] <- lapply(derived, function(name) utils::modifyList(made[[name]], columns[[name]]))
  originals <- columns[setdiff(names(columns), derived)]
  cache <- list2env(lapply(originals, function(column) list(column = column)), new.env())
  info <- info_of(book)
  info$rows <- length(rows)
  info$stand_for <- rows
  with_parts(book, columns = made, cache = cache, info = info)
}

spread_column <- function(column, met, rows, source, keys) {
  x <- column$x
  reason <- integer(length(x))
  reason[is.na(x)] <- column$why
  to_all <- match(seq_along(rows), met)
  result <- x[to_all]
  reason <- ifelse(is.na(to_all), 0L, reason[to_all])
  if (is.logical(result)) storage.mode(result) <- "integer"
  out <- spread_cells(source$x, as.integer(source$why), keys, result, reason, sum(rows[reason > 0]))
  if (is.object(x)) attributes(out$x) <- attributes(x[0])
  new_column(out$x, out$why, column$kinds)
}
