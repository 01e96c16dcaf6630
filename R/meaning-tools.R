# Small pieces that every layer uses.

`%||%` <- function(a, b) if (is.null(a)) b else a

# The first where it is known, else the second, value by value.
`%|%` <- function(a, b) ifelse(is.na(a), b, a)

is_named <- function(x) !is.null(names(x)) && all(nzchar(names(x)) & !is.na(names(x)))

self_named <- function(x) {
  names(x) <- x
  x
}

# "1 row", "1,200 rows".
rows_of <- function(n) {
  paste(formatC(n, format = "d", big.mark = ",", decimal.mark = "."), ifelse(n == 1, "row", "rows"))
}

two_digits <- function(x) with_point(sprintf("%.2f", round(x, 2) + 0))

# A table of columns that fit each other, made without asking.
quick_table <- function(...) {
  columns <- list(...)
  structure(columns, class = "data.frame", row.names = .set_row_names(length(columns[[1]])))
}

# Values with names, in one go.
self_numbered <- function(names, values) {
  names(values) <- names
  values
}

# A table with a form of its own in print; a part that the analyst takes of it is a plain data frame.
as_table <- function(data, class, ...) structure(data, class = c(class, "ableturn_table", "data.frame"), ...)
