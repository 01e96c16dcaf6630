# Where values lie in a distribution that was learned: `at` are its values in order, `upto` the
# rows (or their weight) at or below each.
rows_below <- function(x, at, upto) held_below(as_number(x), at, upto, -near_enough(at), FALSE)

rows_equal <- function(x, at, upto) {
  held_below(as_number(x), at, upto, near_enough(at), TRUE) - rows_below(x, at, upto)
}

# Scores that were worked out in another order of steps may differ in the last digit.
near_enough <- function(at) if (is_whole(at)) 0 else 1e-9 * max(abs(at))

# How many of some cuts lie below the value.
cuts_below <- function(x, cuts) as.numeric(findInterval(as_number(x), cuts, left.open = TRUE))

held_between <- function(x, low, high) pmax(low, pmin(high, as_number(x)))
