# Rows by the values of one or several variables, and tables that give a value to each of them.

# The cells that the values of some variables span: `keys`, the values of each variable; `cell`, the
# place of each row among all combinations, NA where a value is missing.
group_cells <- function(columns) {
  placed <- lapply(unname(columns), places_in)
  keys <- setNames(lapply(placed, `[[`, "keys"), names(columns))
  list(keys = keys, cell = combined_place(lapply(placed, `[[`, "place"), lengths(keys)),
    cells = prod(lengths(keys)))
}

# The distinct values of a variable in their order and the place of each row among them.
places_in <- function(x) {
  found <- if (!is.character(x) && !is.object(x)) whole_places(x)
  if (!is.null(found)) {
    storage.mode(found$keys) <- typeof(x)
    return(found)
  }
  keys <- sort_values(unique(x[!is.na(x)]))
  list(keys = keys, place = place_among(x, keys))
}

place_among <- function(x, keys) {
  place <- match(x, fit_type(keys, x))
  place[is.na(x)] <- NA
  place
}

# The first variable runs fastest, as in an array.
combined_place <- function(places, sizes) {
  cell <- places[[1]]
  for (i in seq_along(places)[-1]) cell <- cell + (places[[i]] - 1) * prod(sizes[seq_len(i - 1)])
  cell
}

cell_of <- function(columns, keys) combined_place(Map(place_among, columns, keys), lengths(keys))

# lookup(values, x, keys, y, keys, ...): the value that the table holds for the row, missing where
# the row is not in the table. `called` names the table in scripts.
look_up <- function(values, ..., called = NULL) {
  parts <- list(...)
  place <- seq_along(parts) %% 2 == 1
  values[cell_of(parts[place], parts[!place])]
}

lookup_node <- function(values, keys, called = NULL) {
  pairs <- unlist(Map(function(name, key) list(as.name(name), key), names(keys), keys),
    recursive = FALSE)
  as.call(c(list(as.name("lookup"), values), unname(pairs),
    if (!is.null(called)) list(called = called)))
}

# Whether a number lies beyond one of two ends; and whether it is finite.
outside_node <- function(x, ends) call("|", call("<", x, ends[1]), call(">", x, ends[2]))

finite_node <- function(x) call("<=", call("abs", x), .Machine$double.xmax)

# 1 where a test is true, else 0: the sum is how often.
tally_node <- function(test) call("first_valid", call("choose", test, 1, 0), 0)

is_lookup <- function(node) is.call(node) && identical(node[[1]], as.name("lookup"))

group_ways <- c("mean", "sum", "min", "max", "median", "sd", "size", "valid")

# group(x, g, ..., how = "mean"): a statistic of the row's group, over its valid rows.
run_group <- function(node, context, value_of) {
  parts <- row_items(node)
  x <- value_of(parts[[1]], context)
  rows <- context$times
  if (is.null(rows)) {
    groups <- kept_in_memo(context, c("groups", parts[-1]), function() {
      numbered_groups(lapply(parts[-1], value_of, context = context))
    })
    return(list(x = group_value(x, groups, node$how)))
  }
  each <- rep(seq_along(rows), rows)
  groups <- numbered_groups(lapply(parts[-1], function(part) value_of(part, context)[each]))
  whole <- group_value(x[each], groups, node$how)
  list(x = whole[match(seq_along(rows), each)])
}

# What was worked out before on the same rows: kept under the formulas in `key`, where all of them
# are variables.
kept_in_memo <- function(context, key, make) {
  known <- all(vapply(key[-1], is.symbol, NA)) && is.environment(context$memo)
  if (!known) return(make())
  name <- paste(vapply(key, as.character, ""), collapse = "\r")
  if (is.null(context$memo[[name]])) assign(name, make(), context$memo)
  context$memo[[name]]
}

# The number of each row's group, NA where one of its values is missing, and how many there are.
numbered_groups <- function(columns) {
  found <- group_cells(columns)
  cell <- found$cell
  if (found$cells > length(cell)) cell <- match(cell, unique(cell[!is.na(cell)]))
  cells <- max(c(0L, if (found$cells > length(cell)) cell else found$cells), na.rm = TRUE)
  list(cell = as.integer(cell), cells = cells)
}

group_value <- function(x, groups, how) {
  cell <- groups$cell
  dated <- inherits(x, "Date") && has_word_trait(how, "may give a date")
  x <- switch(how, size = rep(1, length(x)), valid = ifelse(is.na(x), NA, 1),
    as.double(as_number(x)))
  out <- group_statistics(x, cell, groups$cells, how)$value
  if (dated) out <- as_date(floor(out))
  if (how == "valid") out[is.na(out)] <- 0
  out[cell]
}

# Where values lie in a distribution that was learned: `at` are its values in order, `upto` the rows
# (or their weight) at or below each.
# rows_below(x, at, upto) and rows_equal(x, at, upto) are found together: the word that comes first
# in a formula keeps what the other gives.
rank_word <- function(part) {
  function(node, context, value_of) {
    parts <- as.list(node)[-1]
    if (!identical(context$memo$ranks$parts, parts)) {
      x <- as_number(value_of(parts[[1]], context))
      assign("ranks", c(list(parts = parts), held_around(x, parts[[2]], parts[[3]],
        near_enough(parts[[2]]))), context$memo)
    }
    context$memo$ranks[[part]]
  }
}

# Infinite values have no place in a distribution.
finite_number <- function(x) {
  x <- as_number(x)
  if (is.double(x) && any_endless(x)) x[!is.finite(x)] <- NA
  x
}

# Ties are equal values. Scores that were worked out in another order of steps may differ in the
# last digits: a value is taken for a learned one that it lies next to, never so far off that two
# learned values could be meant.
near_enough <- function(at) {
  if (is_whole(at) || !length(at)) return(0)
  min(16 * .Machine$double.eps * max(abs(at)), diff(at) / 4)
}

# How many of some cuts lie below the value.
cuts_below <- function(x, cuts) as.numeric(findInterval(finite_number(x), cuts, left.open = TRUE))

kept_between <- function(x, low, high) pmax(low, pmin(high, finite_number(x)))
