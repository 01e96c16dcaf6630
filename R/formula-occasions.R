# previous(x, unit = , order = ): the value on the occasion before, of the same unit. The order
# of the rows does not matter. `steps`, which the package adds, are the occasions of a text in their order.
run_previous <- function(node, at, value_of) {
  args <- as.list(node)
  refuse_twice(at$value(as.character(args$unit)), at$value(as.character(args$order)), as.character(args$unit),
    as.character(args$order))
  list(x = value_of(args[[2]], at)[rows_before(args, at)])
}

# The row of the occasion before, from the arguments of previous().
rows_before <- function(args, at) {
  order <- at$value(as.character(args$order))
  row_before(at$value(as.character(args$unit)), if (is.null(args$steps)) order else match(order, args$steps))
}

# For each row the row of the occasion before; NA for the first, and where unit or order is missing.
row_before <- function(unit, order) {
  rows <- order(unit, order, method = "radix")
  before <- rep(NA_integer_, length(rows))
  before[rows] <- ifelse(duplicated(unit[rows]), c(NA, rows[-length(rows)])[seq_along(rows)], NA)
  before[is.na(unit) | is.na(order)] <- NA
  before
}

refuse_twice <- function(unit, order, unit_name, order_name) {
  told <- !is.na(unit) & !is.na(order)
  place <- match(unit, unique(unit)) + match(order, unique(order)) * (length(unit) + 1)
  twice <- which(told & duplicated(place))
  if (length(twice)) {
    fail("occasions-twice", unit = unit_name, order = order_name, rows = length(twice),
      value = paste(show_value(unit[twice[1]]), "at", show_value(order[twice[1]])))
  }
}
