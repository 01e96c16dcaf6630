# Where values lie in a distribution that was learned: `at` are its values in order, `upto` the
# rows (or their weight) at or below each.
rows_below <- function(x, at, upto) held_below(finite_number(x), at, upto, -near_enough(at), FALSE)

rows_equal <- function(x, at, upto) {
  held_below(finite_number(x), at, upto, near_enough(at), TRUE) - rows_below(x, at, upto)
}

# Infinite values have no place in a distribution.
finite_number <- function(x) {
  x <- as_number(x)
  if (is.double(x) && any_endless(x)) x[!is.finite(x)] <- NA
  x
}

# Ties are equal values. Scores that were worked out in another order of steps may differ in the last digits: a
# value is taken for a learned one that it lies next to, never so far off that two learned values could be meant.
near_enough <- function(at) {
  if (is_whole(at) || !length(at)) return(0)
  min(16 * .Machine$double.eps * max(abs(at)), diff(at) / 4)
}

# How many of some cuts lie below the value.
cuts_below <- function(x, cuts) as.numeric(findInterval(finite_number(x), cuts, left.open = TRUE))

held_between <- function(x, low, high) pmax(low, pmin(high, finite_number(x)))
