# Forms by a mean and a spread, as formulas over statistics that are learned.
placed_by_scale <- function(turn, world, source) {
  x <- as.name(source)
  if (turn$how == "pomp") return(list(expr = percent_of_maximum(x, limits_for(source, turn$limits, world))))
  expr <- switch(turn$how,
    robust = call("/", call("-", x, stat_of("median", x, turn)), stat_of("mad", x, turn)),
    minmax = call("/", call("-", x, stat_of("min", x, turn)),
      call("-", stat_of("max", x, turn), stat_of("min", x, turn))),
    centred = call("-", x, centre_of(x, turn, world)),
    from_z(call("/", call("-", x, mean_of(x, turn)), spread_of(x, turn, world)), turn$how)
  )
  list(expr = expr, remarks = if (is.null(turn$reference)) spread_remarks(turn, world, x))
}

from_z <- function(z, how) {
  switch(how,
    z = z,
    t = call("+", 50, call("*", 10, z)),
    iq = call("+", 100, call("*", 15, z)),
    # rounded half away from zero: below 0.5 it is held at 1 anyway
    sten = call("held", call("floor", call("+", 6 + 1e-9, call("*", 2, z))), 1, 10),
    stanine = stanine_of_z(z)
  )
}

stanine_of_z <- function(z) {
  call("+", 1, call("cuts_below", z, c(-1.75, -1.25, -0.75, -0.25, 0.25, 0.75, 1.25, 1.75)))
}

percent_of_maximum <- function(x, limits) {
  limits <- as.double(limits)
  call("/", call("*", 100, if (limits[1] == 0) x else call("-", x, limits[1])), diff(limits))
}

mean_of <- function(x, turn) if (is.null(turn$reference)) stat_of("mean", x, turn) else turn$reference[1]

# The mean, but of groups of two rows and more.
centre_of <- function(x, turn, world) {
  if (is.null(turn$within)) return(mean_of(x, turn))
  note <- world$learn(stat_of("mean", x, turn))
  if (all(note$rows > 1)) mean_of(x, turn) else call("+", mean_of(x, turn), lookup_node(ifelse(note$rows > 1, 0, NA),
    note$groups, "two_rows"))
}

spread_of <- function(x, turn, world) {
  if (!is.null(turn$reference)) return(turn$reference[2])
  sd <- stat_of("sd", x, turn)
  if (!identical(turn$divisor, "n")) return(sd)
  call("*", sd, rows_factor(world$learn(sd)))
}

# From n - 1 to n: the square root of (n - 1)/n, for each group.
rows_factor <- function(note) {
  factor <- sqrt((note$rows - 1) / note$rows)
  factor[note$rows == 0] <- NA
  if (length(note$groups)) lookup_node(factor, note$groups, "by_rows") else factor
}

stat_of <- function(word, x, turn) {
  groups <- lapply(turn$within, as.name)
  within <- if (length(groups) == 1) groups[[1]] else if (length(groups)) as.call(c(list(as.name("c")), groups))
  options <- list(within = within, weight = if (!is.null(turn$weight)) as.name(turn$weight))
  as.call(c(list(as.name(word), x), options[!vapply(options, is.null, NA)]))
}

# Groups that cannot be standardized, with their rows; an error if none can.
spread_remarks <- function(turn, world, x) {
  if (turn$how == "centred" && is.null(turn$within)) return(NULL)
  word <- switch(turn$how, robust = "mad", minmax = "max", centred = "mean", "sd")
  note <- world$learn(stat_of(word, x, turn))
  spread <- note$is
  if (word == "max") spread <- spread - world$learn(stat_of("min", x, turn))$is
  if (word == "mean") spread <- ifelse(note$rows > 1, 1, 0)
  flat <- (is.na(spread) | spread == 0) & note$rows > 0
  if (all(flat[note$rows > 0])) {
    fail("no-spread", name = as.character(x), how = turn$how, rows = rows_of(sum(note$rows)))
  }
  if (!any(flat)) return(NULL)
  paste0("Too few rows or no spread, so missing: ",
    paste0(group_labels(note$groups, world)[flat], " (", note$rows[flat], ")", collapse = ", "))
}

# The combinations of groups in words, in the order of their cells.
group_labels <- function(groups, world) {
  each <- Map(function(values, name) label_of(values, world$meaning(name)$codes) %|% show_value(values),
    groups, names(groups))
  do.call(paste, c(unname(as.list(expand.grid(each, stringsAsFactors = FALSE))), sep = ", "))
}
