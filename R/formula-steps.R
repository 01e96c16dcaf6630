# steps(x, at, on, between): a table of steps along a number: `on` is the value exactly on each
# point, `between` the value before the first point, between two points, and after the last.
step_value <- function(x, at, on, between) {
  x <- as_number(x)
  hit <- match(x, at)
  ifelse(is.na(hit), between[findInterval(x, at) + 1], on[hit])
}

held_between <- function(x, low, high) pmax(low, pmin(high, as_number(x)))
