# Row functions: one score for each row over the valid ones of several items. Beside the scores `x`
# they tell why a row has none (`lost`), how many rows have how many valid items (`with`), the
# items, and of whole answers the sums that alpha rests on.

row_word <- function(how) {
  function(node, context, value_of) {
    # filled items ask for the mean of the row once for each of them
    plain <- Filter(Negate(is.symbol), as.list(node)[-1])
    key <- if (all(vapply(plain, is.numeric, NA))) c(formula_text(node), row_items(node))
    if (is.null(key)) return(row_scores_of(node, how, context, value_of))
    kept_in_memo(context, key, function() row_scores_of(node, how, context, value_of))
  }
}

row_scores_of <- function(node, how, context, value_of) {
  items <- same_length(lapply(row_items(node), item_of, context = context, value_of = value_of))
  told <- lapply(as.list(node)[intersect(names(node), row_options)], value_of, context = context)
  weights <- as.double(told$weights %||% rep(1, length(items)))
  if (how == "sum" && isTRUE(told$prorate)) how <- "prorated"
  at_least <- as.integer(told$at_least %||% length(items))
  out <- scores_by_index(items, how, at_least, weights) %||%
    row_scores(kernel_items(items), items_shift(items), items_sign(items), how, at_least, weights)
  if (!is.null(context$times)) out <- counted_scores(out, items, context$times)
  c(rounded_scores(out, told$digits, told$half %||% "even"),
    list(items = items, times = context$times))
}

# What scores tell of their rows, where each stands for several.
counted_scores <- function(out, items, times) {
  valid <- Reduce(`+`, lapply(items, function(item) as.integer(!is.na(item$x))))
  out$with <- rows_at_places(valid + 1L, length(items) + 1, times)
  out$sums <- sums_of_items(items, times)
  out
}

# The same as item_sums(), see src/items.cpp: exact for answers in whole numbers.
sums_of_items <- function(items, times) {
  values <- lapply(items, function(item) as.double(item_values(item)))
  use <- Reduce(`&`, lapply(values, function(x) !is.na(x)))
  n <- sum(times[use])
  off <- lapply(values, function(x) x[use] - c(x[!is.na(x)], 0)[1])
  total <- Reduce(`+`, off)
  sum <- function(x) base::sum(x * times[use])
  covariance <- function(a, b) (sum(a * b) - sum(a) * sum(b) / n) / (n - 1)
  list(complete = n, own = vapply(off, function(x) covariance(x, x), 0, USE.NAMES = FALSE),
    with_total = vapply(off, covariance, 0, b = total, USE.NAMES = FALSE),
    total = covariance(total, total))
}

# Sums and means of answers in whole numbers have few values; of few rows this is no help.
scores_by_index <- function(items, how, at_least, weights) {
  indexed <- all(vapply(items, function(item) !is.null(item$cells), NA))
  if (!indexed || !how %in% c("mean", "sum", "prorated") || any(weights != 1)) return(NULL)
  found <- indexed_scores(lapply(items, function(item) item$cells$codes),
    lapply(items, function(item) item_values(replace_x(item, as.double(item$cells$values)))),
    how, at_least)
  if (is.null(found) || length(found$x) * 4 > sum(found$rows) || !length(found$x)) return(NULL)
  cells <- list(codes = found$codes, rows = found$rows, values = found$x, kind = found$lost)
  c(found[c("with", "sums")], list(x = indexed_values(cells$codes, cells$values), cells = cells))
}

rounded_scores <- function(out, digits, half) {
  if (is.null(digits)) return(out)
  if (!is.null(out$cells)) {
    out$cells$values <- rounded(out$cells$values, digits, half)
    out$x <- indexed_values(out$cells$codes, out$cells$values)
  } else {
    out$x <- rounded(out$x, digits, half)
  }
  out
}

row_options <- c("at_least", "weights", "prorate", "digits", "half")

# An item as shift + sign * x, so that a reversed one needs no column of its own; `cells` where its
# answers are few.
item_of <- function(node, context, value_of) {
  turned <- is_turned_node(node) && !inherits(value_of(node[[3]], context), "Date")
  column <- if (turned) node[[3]] else node
  cells <- if (is.symbol(column) && !is.null(context$cells)) context$cells(as.character(column))
  if (!is.null(cells)) cells$values <- as_number(cells$values)
  x <- value_of(column, context)
  list(x = if (is.numeric(x)) x else as_number(x), cells = cells,
    shift = if (turned) node[[2]] else 0, sign = if (turned) -1 else 1)
}

# A number less a variable: an item that is turned round.
is_turned_node <- function(node) {
  is.call(node) && identical(node[[1]], as.name("-")) && length(node) == 3 &&
    is.numeric(node[[2]]) && is.symbol(node[[3]])
}

items_shift <- function(items) {
  vapply(items, function(item) as.double(item$shift), 0, USE.NAMES = FALSE)
}

items_sign <- function(items) vapply(items, `[[`, 0, "sign", USE.NAMES = FALSE)

item_values <- function(item) if (item$sign == 1) item$x else item$shift - item$x

# Items as the kernels read them: a column, or an index and a number for each cell.
kernel_items <- function(items) {
  lapply(unname(items), function(item) {
    if (is.null(item$cells)) item$x else list(item$cells$codes, as.double(item$cells$values))
  })
}

replace_x <- function(item, x) {
  item$x <- x
  item["cells"] <- list(NULL)
  item
}

same_length <- function(items) {
  rows <- max(vapply(items, function(item) length(item$x), 1L))
  lapply(items, function(item) {
    if (length(item$x) == rows) item else replace_x(item, rep_len(item$x, rows))
  })
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
    as.character(args$unit), as.character(args$order), context$times %||% 1)
  x <- value_of(args[[2]], context)
  valid <- if (isTRUE(args$skip_missing)) !is.na(x)
  list(x = x[rows_before(args, context, valid)])
}

# The row of the occasion before, from the arguments of previous(); `valid` where only some rows
# count.
rows_before <- function(args, context, valid = NULL) {
  order <- context$value(as.character(args$order))
  row_before(context$value(as.character(args$unit)),
    if (is.null(args$steps)) order else match(order, args$steps), valid)
}

# For each row the row of the occasion before, or the nearest before of those that are `valid`; NA
# where there is none, and where unit or order is missing.
row_before <- function(unit, order, valid = NULL) {
  rows <- order(unit, order, method = "radix")
  place <- seq_along(rows)
  # the last place so far whose row counts, and where its unit begins
  last <- if (is.null(valid)) place else cummax(ifelse(valid[rows], place, 0L))
  begin <- cummax(ifelse(duplicated(unit[rows]), 0L, place))
  found <- c(0L, last[-length(last)])[place]
  before <- rep(NA_integer_, length(rows))
  before[rows] <- rows[ifelse(found >= begin, found, NA)]
  before[is.na(unit) | is.na(order)] <- NA
  before
}

refuse_twice <- function(unit, order, unit_name, order_name, times = 1) {
  told <- !is.na(unit) & !is.na(order)
  place <- match(unit, unique(unit)) + match(order, unique(order)) * (length(unit) + 1)
  twice <- which(told & (duplicated(place) | times > 1))
  if (length(twice)) {
    fail("occasions-twice", unit = unit_name, order = order_name, rows = length(twice),
      value = paste(show_value(unit[twice[1]]), "at", show_value(order[twice[1]])))
  }
}
