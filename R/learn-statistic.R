# Statistics of a variable, learned at whatever site it has.

learn_statistic <- function(call, of, site) {
  part <- statistic_parts(call, site)
  found <- value_of_statistic(call, part)
  if (all(is.na(found$value))) nothing_to_learn(of, sum(found$rows), part)
  value <- no_mere_rounding(call, found$value, found$size)
  if (!length(part$within)) {
    return(new_note(of, recorded_value(unname(value), call, part), found$rows))
  }
  groups <- combinations_of(setNames(typed_keys(found$keys, part), part$within))
  new_note(of, recorded_value(groups$spread(value, NA_real_), call, part),
    groups$spread(as_row_counts(found$rows), 0L), groups = groups$levels)
}

# The variable of a statistic, its groups and its weight, at a site that holds few cells of these,
# if there is one; only rows of positive weight count.
statistic_parts <- function(call, site) {
  options <- as.list(call)
  within <- option_vars(options$within)
  weight <- if (!is.null(options$weight)) as.character(options$weight)
  near <- nearest_site(site, formula_vars(call))
  type <- result_type(call[[2]], types_at(near))
  days <- Filter(function(name) value_type(near$variable(name)) == "date", within)
  if (length(days)) fail("group-date", of = formula_text(call), name = days[1])
  if (type == "date") check_date_statistic(call)
  part <- list(site = near, x = call[[2]], within = within, weight = weight, type = type,
    others = unname(row_items(call)[-1]))
  if (type == "text") check_text_statistic(call, part)
  if (!is.null(weight)) check_weight(weight, near)
  part
}

# The types of the variables of a site, see result_type().
types_at <- function(site) function(name) value_type(site$variable(name))

group_nodes <- function(part) lapply(part$within, as.name)

check_weight <- function(weight, site) {
  below <- rows_where(site, call("<", as.name(weight), 0))
  if (below) fail("weight-negative", name = weight, rows = counted(below, "row"))
}

# The value in each group, with the rows there, and how large its numbers are.
value_of_statistic <- function(call, part) {
  head <- call_head(call)
  by_moments <- head %in% c("mean", "sd", "sum", "min", "max")
  wanted <- unique(c(if (by_moments) head else "mean", if (head %in% spreads) c("min", "max")))
  known <- moments_at(part$site, part$x, group_nodes(part), part$weight, wanted)
  value <- if (by_moments) known[[head]] else if (!length(known$rows)) numeric() else
    switch(head,
      mad = 1.4826 * distance_in_groups(part, known),
      ranked_in_groups(part, part$x, if (head == "quantile") part$others[[1]] else 0.5, known))
  size <- if (head %in% spreads) pmax(abs(known$min), abs(known$max))
  list(keys = known$keys, value = value, rows = known$rows, size = size)
}

# The quantile of each of some groups.
ranked_in_groups <- function(part, x, share, known) {
  found <- ranks_at(part$site, x, share, group_nodes(part), part$weight)
  found$values[match_keys(known$keys, found$keys), 1]
}

# The median distance from the median of each group.
distance_in_groups <- function(part, known) {
  middle <- ranked_in_groups(part, part$x, 0.5, known)
  off <- call("abs", call("-", part$x, number_of_group(middle, known$keys, part$within)))
  ranked_in_groups(part, off, 0.5, known)
}

# The number of the group that a row is in, as a formula.
number_of_group <- function(values, keys, within) {
  if (!length(within)) return(values)
  groups <- combinations_of(setNames(keys, within))
  lookup_node(groups$spread(values, NA_real_), groups$levels)
}

# Values of groups in the types of their variables.
typed_keys <- function(keys, part) {
  Map(function(values, name) {
    if (is.integer(column_of(part$site$variable(name))$x)) as_code(as.double(values)) else values
  }, keys, part$within)
}

# Of dates, days since 1970 are recorded as dates: the mean and the median by the day they fall on.
# A distance between dates stays a number of days.
recorded_value <- function(value, call, part) {
  dated <- part$type == "date" && has_word_trait(call_head(call), "may give a date")
  if (dated) format(as_date(floor(value))) else value
}

# A sum of dates says nothing, and ranks of dates are no scores.
check_date_statistic <- function(call) {
  head <- call_head(call)
  if (!has_word_trait(head, "may give a date") && !head %in% spreads) {
    fail("statistic-of-date", of = formula_text(call))
  }
}

# Texts have a statistic where they hold numbers.
check_text_statistic <- function(call, part) {
  seen <- counts_at(part$site, list(part$x), most = 100, frequent = TRUE)$keys[[1]]
  seen <- seen[!is.na(seen)]
  if (!length(seen) || any(grepl(plain_number, seen))) return()
  id <- if (all(grepl(iso_date, seen))) "statistic-of-day" else
    if (all(grepl(iso_datetime, seen))) "statistic-of-time" else "statistic-of-text"
  fail(id, of = formula_text(call), part = formula_text(part$x), head = call_head(call))
}

# A statistic that no row, or no group of rows, gives.
nothing_to_learn <- function(of, rows, part) {
  if (rows && length(part$within)) fail("groups-single", of = of)
  fail("nothing-to-learn", of = of, rows = counted(rows, "row"))
}

spreads <- c("sd", "mad")

# A spread below 1e-14 of the size of the values is what rounding leaves of none.
no_mere_rounding <- function(call, value, size) {
  if (call_head(call) %in% spreads) value[!is.na(value) & value < 1e-14 * size] <- 0
  value
}
