# Limits of a scale: those given, or those that the variable is defined with.

# The limits to reverse by, given or defined; every valid value must lie inside.
limits_for <- function(name, limits, world) {
  x <- as_number(world$column(name))
  limits <- limits %||% world$meaning(name)$limits
  if (is.null(limits)) fail_no_limits(name, x)
  if (!inside_limits(limits, world$facts(name))) {
    outside <- x[!is.na(x) & (x < limits[1] | x > limits[2])]
    if (length(outside)) fail_beyond(name, outside, limits)
  }
  limits
}

# Whether the facts of a column show that all its values lie inside; FALSE where they cannot tell, as infinite values
# are not among its ends.
inside_limits <- function(limits, facts) {
  facts$few && sum(facts$rows) == facts$valid && isTRUE(facts$low >= limits[1] && facts$high <= limits[2])
}

fail_no_limits <- function(name, x) {
  seen <- if (all(is.na(x))) "nothing but missing answers" else paste(show_number(range(x, na.rm = TRUE)),
    collapse = " to ")
  fail("limits-needed", name = name, seen = seen)
}

fail_beyond <- function(name, outside, limits) {
  values <- sort(unique(outside))
  counts <- tabulate(match(outside, values))
  fail("beyond-limits",
    name = name, low = limits[1], high = limits[2],
    values = paste0(show_number(values), " (", counts, " row", ifelse(counts == 1, "", "s"), ")"),
    code = show_number(values[length(values)])
  )
}
