# Rows in groups: those that are equal in some columns side by side. Groups are matched by their
# keys, column by column and never by a text made of them.

# The `place` of each row among the groups, and the `first` row of each.
groups_among <- function(columns, rows) {
  if (!length(columns)) return(list(place = rep(1L, rows), first = seq_len(min(rows, 1L))))
  frame <- key_frame(columns, rows)
  list(place = as.integer(vctrs::vec_group_id(frame)), first = vctrs::vec_unique_loc(frame))
}

# The place of each combination of values among others; NA where it is not among them.
match_keys <- function(keys, among) {
  if (!length(keys)) return(rep(1L, 1))
  vctrs::vec_match(key_frame(as_keys(keys, among)), key_frame(as_keys(among, keys)))
}

# Numbers are compared with numbers, whole or not; 0 has no sign, and NaN is missing.
as_keys <- function(keys, others) {
  Map(function(x, other) {
    if (is.factor(x)) x <- as.character(x)
    if (is.logical(x) && !is.character(other)) x <- as.double(x)
    if (is.logical(x)) x <- as.character(x)
    if (is.character(x)) return(enc2utf8(x))
    x <- as.double(x) + 0
    replace(x, is.nan(x), NA)
  }, unname(keys), unname(others))
}

key_frame <- function(columns, rows = length(columns[[1]])) {
  names(columns) <- paste0("key_", seq_along(columns))
  vctrs::new_data_frame(columns, n = rows)
}

# The sum of `x` in each group; NULL counts the rows.
sums_in_groups <- function(x, groups) {
  k <- length(groups$first)
  if (is.null(x)) as.double(tabulate(groups$place, k)) else sums_by_place(x, groups$place, k)
}

# Groups sorted by their keys: numbers upwards, texts by their letters, what is missing last.
in_order_of_keys <- function(found) {
  if (!length(found$keys) || length(found$keys[[1]]) < 2) return(found)
  some_groups(found, do.call(order, c(found$keys, list(method = "radix", na.last = TRUE))))
}

some_groups <- function(found, which) {
  keys <- lapply(found$keys, `[`, which)
  rest <- lapply(found[names(found) != "keys"], function(x) {
    if (is.matrix(x)) x[which, , drop = FALSE] else if (length(x)) x[which] else x
  })
  c(list(keys = keys), rest)
}

# Without the groups of which a key is missing.
of_known_groups <- function(found) {
  if (!length(found$keys)) return(found)
  some_groups(found, which(!Reduce(`|`, lapply(found$keys, is.na))))
}

# Groups in all combinations of the values that their keys take, as group_cells() has them: `levels`
# of each, and `spread`, a function that puts a value of each group in its place.
combinations_of <- function(keys) {
  levels <- lapply(keys, function(x) sort_values(unique(x[!is.na(x)])))
  cell <- cell_of(keys, levels)
  list(levels = levels, spread = function(values, none) {
    out <- rep(none, prod(lengths(levels)))
    out[cell[!is.na(cell)]] <- unname(values[!is.na(cell)])
    out
  })
}
