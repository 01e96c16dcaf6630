# What is standardized by: the statistics that a turn learns for it, of all rows or within groups.

mean_of <- function(x, turn) {
  if (is.null(turn$reference)) stat_of("mean", x, turn) else turn$reference[1]
}

# The mean, but of groups of two rows and more.
centre_of <- function(x, turn, world) {
  if (is.null(turn$within)) return(mean_of(x, turn))
  note <- world$learn(stat_of("mean", x, turn))
  if (all(note$rows > 1)) mean_of(x, turn) else call("+", mean_of(x, turn),
    lookup_node(ifelse(note$rows > 1, 0, NA), note$groups, "two_rows"))
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

# A statistic as the turn takes it; `more`: what it needs beside the variable.
stat_of <- function(word, x, turn, more = NULL) {
  groups <- lapply(turn$within, as.name)
  within <- if (length(groups) ==
    1) groups[[1]] else if (length(groups)) as.call(c(list(as.name("c")), groups))
  options <- list(within = within, weight = if (!is.null(turn$weight)) as.name(turn$weight))
  as.call(c(list(as.name(word), x), more, compact(options)))
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
    fail("no-spread", name = as.character(x), how = turn$how, rows = counted(sum(note$rows), "row"))
  }
  if (!any(flat)) return(NULL)
  no_spread_remark(paste0(group_labels(note$groups, world)[flat], " (", note$rows[flat], ")"))
}

# The combinations of groups in words, in the order of their cells.
group_labels <- function(groups, world) {
  each <- Map(function(values, name) {
    label_of(values, world$meaning(name)$codes) %|%
      show_value(values)
  }, groups, names(groups))
  do.call(paste, c(unname(as.list(expand.grid(each, stringsAsFactors = FALSE))), sep = ", "))
}

no_spread_remark <- function(groups) {
  list(new_remark("Too few rows or no spread, so missing", paste(groups, collapse = ", "),
    "no-spread"))
}
