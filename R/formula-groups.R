# Rows by the values of one or several variables, and tables that give a value to each of them.

# The cells that the values of some variables span: `keys`, the values of each variable;
# `cell`, the place of each row among all combinations, NA where a value is missing.
group_cells <- function(columns) {
  keys <- lapply(columns, function(x) sort_values(unique(x[!is.na(x)])))
  list(keys = keys, cell = cell_of(columns, keys), cells = prod(lengths(keys)))
}

# The first variable runs fastest, as in an array.
cell_of <- function(columns, keys) {
  cell <- 1
  step <- 1
  for (i in seq_along(columns)) {
    place <- match(columns[[i]], fit_type(keys[[i]], columns[[i]]))
    place[is.na(columns[[i]])] <- NA
    cell <- cell + (place - 1) * step
    step <- step * length(keys[[i]])
  }
  cell
}

# lookup(values, x, keys, y, keys, ...): the value that the table holds for the row, missing
# where the row is not in the table. `called` names the table in scripts.
look_up <- function(values, ..., called = NULL) {
  parts <- list(...)
  place <- seq_along(parts) %% 2 == 1
  values[cell_of(parts[place], parts[!place])]
}

lookup_node <- function(values, keys, called = NULL) {
  pairs <- unlist(Map(function(name, key) list(as.name(name), key), names(keys), keys), recursive = FALSE)
  as.call(c(list(as.name("lookup"), values), unname(pairs), if (!is.null(called)) list(called = called)))
}

is_lookup <- function(node) is.call(node) && identical(node[[1]], as.name("lookup"))

# group(x, g, ..., how = "mean"): a statistic of the row's group, over its valid rows.
group_value <- function(x, ..., how) {
  groups <- list(...)
  cell <- group_cells(groups)$cell
  placed <- !is.na(cell)
  cell <- match(cell, unique(cell[placed]))
  x <- if (how == "size") rep(1, length(x)) else as_number(x)
  use <- placed & is.finite(x)
  out <- rep(NA_real_, max(c(0, cell), na.rm = TRUE))
  parts <- split(x[use], cell[use])
  out[as.integer(names(parts))] <- vapply(parts, function(v) as.double(group_ways[[how]](v)), 0)
  if (how == "valid") out[is.na(out)] <- 0
  out[cell]
}

group_ways <- list(
  mean = mean, sum = sum, min = min, max = max, median = stats::median,
  sd = function(v) stats::sd(v), size = length, valid = length
)
