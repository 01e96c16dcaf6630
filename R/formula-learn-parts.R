# The variable of a statistic, its groups and its weight; where there are such, `use` tells the
# rows that count: valid, in a group, and of positive weight.
statistic_parts <- function(call, at) {
  x <- evaluate(call[[2]], at)
  options <- as.list(call)
  w <- if (!is.null(options$weight)) weight_column(options$weight, at)
  within <- lapply(self_named(option_vars(options$within)), at$value)
  days <- names(Filter(function(g) inherits(g, "Date"), within))
  if (length(days)) fail("group-date", of = formula_text(call), name = days[1])
  dated <- inherits(x, "Date")
  if (dated && !call_head(call) %in% c("min", "max")) fail("statistic-of-date", of = formula_text(call))
  x <- if (is.logical(x)) as.integer(x) else as_number(x)
  cells <- if (length(within)) group_cells(within)
  use <- if (!is.null(w) || !is.null(cells)) is.finite(x)
  if (!is.null(cells)) use <- use & !is.na(cells$cell)
  if (!is.null(w)) use <- use & !is.na(w) & w > 0
  list(x = x, w = w, use = use, within = within, cells = cells, others = unname(row_items(call)[-1]), date = dated)
}

weight_column <- function(name, at) {
  w <- as_number(at$value(as.character(name)))
  below <- sum(w < 0, na.rm = TRUE)
  if (below) fail("weight-negative", name = as.character(name), rows = rows_of(below))
  w
}

# What is known of a variable is found once for all statistics of a turn.
known_moments <- function(node, part, at) {
  if (!is.null(part$w) || is.null(at$memo)) return(moments(part$x))
  key <- formula_text(node)
  if (is.null(at$memo[[key]])) assign(key, moments(part$x), at$memo)
  at$memo[[key]]
}
