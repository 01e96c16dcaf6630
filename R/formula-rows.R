# Row functions: one score for each row over the valid ones of several items.

row_word <- function(how) {
  function(node, context, value_of) {
    items <- lapply(row_items(node), item_of, context = context, value_of = value_of)
    told <- lapply(as.list(node)[intersect(names(node), row_options)], value_of, context = context)
    weights <- as.double(told$weights %||% rep(1, length(items)))
    if (how == "sum" && isTRUE(told$prorate)) how <- "prorated"
    columns <- same_length(lapply(items, `[[`, "x"))
    out <- row_scores(columns, items_shift(items), items_sign(items), how,
      as.integer(told$at_least %||% length(items)), weights)
    if (!is.null(told$digits)) {
      out$x <- round(out$x, told$digits)
      out$scores <- NULL
    }
    c(out, list(items = Map(replace_x, items, columns)))
  }
}

row_options <- c("at_least", "weights", "prorate", "digits")

# An item as shift + sign * x, so that a reversed one needs no column of its own.
item_of <- function(node, context, value_of) {
  turned <- is.call(node) && identical(node[[1]], as.name("-")) && length(node) == 3 &&
    is.numeric(node[[2]])
  turned <- turned && is.symbol(node[[3]]) && !inherits(value_of(node[[3]], context), "Date")
  if (!turned) return(list(x = as_number(value_of(node, context)), shift = 0, sign = 1))
  list(x = as_number(value_of(node[[3]], context)), shift = node[[2]], sign = -1)
}

items_shift <- function(items) {
  vapply(items, function(item) as.double(item$shift), 0, USE.NAMES = FALSE)
}

items_sign <- function(items) vapply(items, `[[`, 0, "sign", USE.NAMES = FALSE)

item_values <- function(item) if (item$sign == 1) item$x else item$shift - item$x

replace_x <- function(item, x) {
  item$x <- x
  item
}

same_length <- function(columns) {
  rows <- max(lengths(columns))
  lapply(columns, function(x) if (length(x) == rows) x else rep_len(x, rows))
}

count_valid <- function(...) {
  valid <- lapply(list(...), function(x) !is.na(as_number(x)))
  list(x = as.integer(Reduce(`+`, valid)))
}

is_row_node <- function(node) {
  is.call(node) && is.symbol(node[[1]]) && has_word_trait(as.character(node[[1]]), "over items")
}

# previous(x, unit = , order = ): the value on the occasion before, of the same unit. The order of
# the rows does not matter. `steps`, which the package adds, are the occasions of a text in their
# order.
run_previous <- function(node, context, value_of) {
  args <- as.list(node)
  refuse_twice(context$value(as.character(args$unit)), context$value(as.character(args$order)),
    as.character(args$unit), as.character(args$order))
  list(x = value_of(args[[2]], context)[rows_before(args, context)])
}

# The row of the occasion before, from the arguments of previous().
rows_before <- function(args, context) {
  order <- context$value(as.character(args$order))
  row_before(context$value(as.character(args$unit)),
    if (is.null(args$steps)) order else match(order, args$steps))
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
