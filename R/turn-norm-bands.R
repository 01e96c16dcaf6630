# The bands of a norm table, which tell whose row is whose.

# The columns that tell the kinds of table apart, in any case but those of L, M and S.
norm_kinds <- list(raw = c("raw", "scaled"), moments = c("mean", "sd"), lms = c("L", "M", "S"))

# A choose over the combinations of bands; whose bands are none of them is outside the norms.
# `value(rows)`: what stands for some rows of the table, as one value, or tests and values.
in_bands <- function(table, bands, world, value) {
  cell <- key_texts(lapply(table[bands], show_value))
  each <- lapply(split_in_order(seq_along(cell), cell), function(rows) {
    tests <- lapply(bands, function(name) {
      condition_test(name, read_band(table[[name]][rows[1]], name, world), FALSE, FALSE, world)
    })
    banded(all_of_tests(tests), value(rows))
  })
  there <- all_of_tests(lapply(bands, function(name) call("!", call("unanswered", as.name(name)))))
  chosen_of(c(unlist(unname(each), recursive = FALSE), list(list(there, NA, outside_norms))))
}

# A band of numbers may be written as manuals do: 18-29, 65+, under 18.
read_band <- function(cell, name, world) {
  range <- if (is.character(cell) && is.numeric(world$column(name))) read_typed_range(cell)
  if (is.null(range)) read_cell(cell) else list(range)
}

outside_norms <- "outside the norms"

# Each of `values`, a value or a test with its value and kind, under the test of its band.
banded <- function(test, values) {
  lapply(values, function(one) {
    if (!is.list(one)) return(list(test, one, NA))
    list(if (is.null(test)) one[[1]] else call("&", test, one[[1]]), one[[2]], one[[3]])
  })
}

# Tests with their values and kinds as one choose.
chosen_of <- function(each) {
  pairs <- unlist(lapply(each, function(one) one[1:2]), recursive = FALSE)
  list(expr = as.call(c(list(as.name("choose")), unname(pairs))),
    kinds = vapply(each, function(one) as.character(one[[3]]), ""))
}
