# What is learned of columns that cannot be brought here as a few answers with their rows: sums,
# ends and values at ranks are asked for where the rows are. `context$ask` has the questions, see
# book-ask.R; `context$few` gives the context of some variables if their answers are few.

# Whether a statistic has to be asked for.
is_far_statistic <- function(call, context) {
  !is.null(context$ask) && is.null(context$few(formula_vars(call)))
}

# The same as learn_statistic() gives.
learn_far_statistic <- function(call, of, context) {
  part <- far_parts(call, context)
  found <- far_values_of(call, part, context$ask)
  if (!length(found$rows) || all(is.na(found$value))) {
    if (part$text) fail("statistic-of-text", of = formula_text(call), part = formula_text(part$x))
    nothing_to_learn(of, sum(found$rows), part)
  }
  value <- no_mere_rounding(call, found$value, pmax(abs(found$low), abs(found$high)))
  if (length(part$within)) {
    cells <- far_cells(typed_keys(found$keys, part$within, context), part$within)
    return(new_note(of, recorded_value(cells$spread(value, NA_real_), call, part),
      cells$spread(as.integer(found$rows), 0L), groups = cells$levels))
  }
  new_note(of, recorded_value(unname(value), call, part), as.integer(found$rows))
}

# Values of groups in the types of their variables.
typed_keys <- function(keys, within, context) {
  Map(function(values, name) {
    if (is.integer(context$value(as.character(name)))) as_code(as.double(values)) else values
  }, keys, within)
}

# The variable of a statistic, its weight and its groups, as formulas; only rows of positive weight
# count.
far_parts <- function(call, context) {
  options <- as.list(call)
  x <- call[[2]]
  type <- result_type(x, column_type(context))
  date <- type == "date"
  if (date) check_date_statistic(call)
  within <- lapply(option_vars(options$within), as.name)
  weight <- options$weight
  if (!is.null(weight)) {
    check_far_weight(weight, context)
    x <- call("choose", call(">", weight, 0), x)
    weight <- call("choose", call("!", call("is.na", x)), weight)
  }
  list(x = x, w = weight, within = within, date = date, text = type == "text",
    others = row_items(call)[-1])
}

# The type of a variable by its column.
column_type <- function(context) {
  function(name) {
    x <- context$value(name)
    if (inherits(x, "Date")) "date" else if (is.character(x)) "text" else "number"
  }
}

check_far_weight <- function(weight, context) {
  below <- context$ask$groups(list(), 1, call("<", weight, 0))$rows
  if (sum(below)) fail("weight-negative", name = as.character(weight),
    rows = counted(sum(below), "row"))
}

# Groups in all combinations of the values that their variables take, as group_cells() has them.
far_cells <- function(keys, within) {
  levels <- lapply(setNames(keys, vapply(within, as.character, "")),
    function(x) sort_values(unique(x[!is.na(x)])))
  cell <- cell_of(keys, levels)
  list(levels = levels, spread = function(values, none) {
    out <- rep(none, prod(lengths(levels)))
    out[cell[!is.na(cell)]] <- unname(values[!is.na(cell)])
    out
  })
}

# The value of a statistic in each group, with the rows and the ends there.
far_values_of <- function(call, part, ask) {
  known <- of_known_groups(ask$moments(part$x, part$within))
  told <- as.data.frame(known$told)
  head <- call_head(call)
  by_weight <- !is.null(part$w) && !head %in% c("min", "max")
  value <- if (by_weight) weighted_far(head, part, known, ask) else
    told[[head]] %||% quantiles_far(head, part, known, ask)
  list(keys = known$keys, value = value, rows = told$rows, low = told$min, high = told$max)
}

# Without rows that are in no group.
of_known_groups <- function(known) {
  if (!length(known$keys)) return(known)
  use <- !Reduce(`|`, lapply(known$keys, is.na))
  list(keys = lapply(known$keys, `[`, use), told = known$told[use, , drop = FALSE])
}

weighted_far <- function(head, part, known, ask) {
  if (!head %in% c("sum", "mean", "sd")) fail("weighted-ranks", what = head)
  sum_of <- function(node) {
    found <- ask$moments(node, part$within)
    at <- if (length(part$within)) match(key_texts(known$keys), key_texts(found$keys)) else 1
    # what is endless is no number there
    if (nrow(found$told) < length(at)) fail("numbers-extreme", of = formula_text(part$x))
    found$told[at, "sum"]
  }
  total <- sum_of(call("*", part$w, part$x))
  if (head == "sum") return(total)
  weight <- sum_of(part$w)
  if (head == "mean") return(total / weight)
  off <- squares_node(part$x, total / weight, known$keys, part$within)
  n <- known$told[, "rows"]
  ifelse(n < 2, NA_real_, sqrt(sum_of(call("*", part$w, off)) / (weight * (n - 1) / n)))
}

quantiles_far <- function(head, part, known, ask) {
  share <- switch(head, quantile = part$others[[1]], 0.5)
  middle <- ranked_far(part$x, share, known, part$within, ask)
  if (head != "mad") return(middle)
  off <- squares_node(part$x, middle, known$keys, part$within)[[2]]
  1.4826 * ranked_far(call("abs", off), 0.5, known, part$within, ask)
}

# The quantile of each group, or without groups the quantiles at some shares, of type 7 as in
# plain_quantiles().
ranked_far <- function(x, share, known, within, ask) {
  rows <- known$told[, "rows"]
  place <- (rows - 1) * share
  ranks <- sort(unique(c(floor(place), ceiling(place))))
  found <- ask$ranks(x, ranks[ranks >= 0], within)
  held <- key_texts(c(found$keys, list(found$ranks)))
  at <- function(rank) found$values[match(key_texts(c(known$keys, list(rank))), held)]
  low <- at(floor(place))
  high <- at(ceiling(place))
  part <- 1 + place - floor(1 + place)
  ifelse(low == high, low, (1 - part) * low + part * high)
}

# The square of the distance from a number, or from the one of its group, measured in some unit.
squares_node <- function(node, centre, keys, within, unit = 1) {
  from <- centre
  if (length(within)) {
    cells <- far_cells(keys, within)
    from <- lookup_node(cells$spread(centre, NA_real_), cells$levels)
  }
  off <- call("-", node, from)
  if (unit != 1) off <- call("/", off, unit)
  call("*", off, off)
}

# The least power of two above some numbers in size.
scale_above <- function(x) {
  largest <- max(abs(x), na.rm = TRUE)
  if (largest == 0) 1 else 2^min(1023, max(-900, floor(log2(largest)) + 1))
}
