# What is learned of a variable as a list of values: spellings, rare values, categories, cut points,
# and the whole distribution.

# spelled(x, "a", "b", loose = TRUE) becomes x %in% the spellings met in the data; with inside =
# "words", "pieces" or "patterns", x %in% the texts met that hold one of those.
learn_spelling <- function(call, context) {
  options <- as.list(call)
  wanted <- unlist(row_items(call)[-1])
  met <- spellings_met(as.character(values_at(call[[2]], context)$values), wanted,
    isTRUE(options$loose), options$inside)
  list(
    node = call("%in%", call[[2]], met),
    note = new_note(formula_text(call), met)
  )
}

spellings_met <- function(texts, wanted, loose, inside = NULL) {
  if (!is.null(inside)) {
    return(sort_points(unique(texts[holds(texts, wanted, inside == "patterns", loose,
      inside == "words")])))
  }
  form <- if (loose) loosen else normal_text
  met <- texts[form(texts) %in% form(wanted)]
  sort_points(unique(c(met, if (!length(met)) wanted)))
}

# The distinct values of a variable, in no order, and the rows of each.
values_at <- function(node, context) {
  if (is.symbol(node) && !is.null(context$met)) return(context$met(as.character(node)))
  context <- context_for(node, context)
  x <- evaluate(node, context)
  counts_of(x[!is.na(x)], rows = context$stand_for[!is.na(x)])
}

# rare_values(x, "rarer_than", share, named ...): the values held by too few, those named aside.
learn_rare <- function(call, of, context) {
  args <- as.list(call)[-1]
  seen <- values_at(args[[1]], context)
  values <- sort_values(seen$values)
  rows <- seen$rows[match(values, seen$values)]
  all <- sum(rows)
  few <- if (args[[2]] == "rarer_than") rows / all < args[[3]] else rank(-rows,
    ties.method = "min") > args[[3]]
  new_note(of, setdiff(values[few], unlist(args[-(1:3)])), all)
}

# The values a variable takes, in their order.
learn_categories <- function(call, of, context) {
  if (inherits(evaluate(call[[2]], context_for(call, context)), "Date")) {
    fail("group-date", of = of, name = formula_text(call[[2]]))
  }
  seen <- values_at(call[[2]], context)
  codes <- if (is.symbol(call[[2]]) &&
    !is.null(context$codes)) context$codes(as.character(call[[2]]))
  new_note(of, category_order(seen$values, codes), sum(seen$rows))
}

learn_cuts <- function(call, of, context) {
  if (is_far_statistic(call, context)) return(learn_far_cuts(call, of, context))
  context <- context_for(call, context)
  part <- with_weight_only(statistic_parts(call, context))
  known <- known_moments(call[[2]], part, context)
  rows <- as.integer(known[["rows"]])
  if (!rows) fail("nothing-to-learn", of = of, rows = counted(0, "row"))
  cuts <- do.call(cut_points, c(list(part$x, part$w), part$others, list(known = known,
    times = part$times)))
  if (!all(is.finite(cuts))) fail("nothing-to-learn", of = of, rows = counted(rows, "row"))
  new_note(of, cuts, rows)
}

# One note a group: the distinct values and the weight at or below each.
learn_distribution <- function(call, of, context) {
  if (is_far_statistic(call, context)) return(learn_far_distribution(call, of, context))
  part <- statistic_parts(call, context_for(call, context))
  if (is.null(part$use)) return(list(learn_whole_distribution(part$x, of, part$times)))
  cell_of_row <- if (length(part$within)) part$cells$cell else rep(1, length(part$x))
  rows_of_cell <- split(which(part$use), cell_of_row[part$use])
  if (!length(rows_of_cell)) fail("nothing-to-learn", of = of, rows = counted(0, "row"))
  lapply(unname(rows_of_cell), function(rows) {
    times <- some_of(part$times, rows)
    seen <- distribution_of(part$x[rows], part$w[rows], times)
    new_note(of, seen$values, as.integer(rows_in(rows, times)), seen$cumulative,
      if (length(part$within)) lapply(part$within, function(g) unname(g[rows[1]])))
  })
}

learn_whole_distribution <- function(x, of, times = 1) {
  seen <- distribution_of(x, NULL, times)
  if (!length(seen$values)) fail("nothing-to-learn", of = of, rows = counted(0, "row"))
  new_note(of, seen$values, seen$cumulative[length(seen$cumulative)], seen$cumulative)
}

# A sum of dates says nothing, and ranks of dates are no scores.
check_date_statistic <- function(call) {
  head <- call_head(call)
  if (!has_word_trait(head, "may give a date") && !head %in% spreads) {
    fail("statistic-of-date", of = formula_text(call))
  }
}

# Texts have a statistic where they hold numbers.
check_text_statistic <- function(call, x) {
  if (all(is.na(x)) || any(grepl(plain_number, x))) return()
  known <- x[!is.na(x)]
  id <- if (all(grepl(iso_date, known))) "statistic-of-day" else
    if (all(grepl(iso_moment, known))) "statistic-of-time" else "statistic-of-text"
  fail(id, of = formula_text(call),
    part = formula_text(call[[2]]), head = call_head(call))
}

# The variable of a statistic, its groups and its weight; where there are such, `use` tells the rows
# that count: valid, in a group, and of positive weight.
statistic_parts <- function(call, context) {
  x <- evaluate(call[[2]], context)
  options <- as.list(call)
  w <- if (!is.null(options$weight)) weight_column(options$weight, context)
  within <- lapply(self_named(option_vars(options$within)), context$value)
  days <- names(Filter(function(g) inherits(g, "Date"), within))
  if (length(days)) fail("group-date", of = formula_text(call), name = days[1])
  dated <- inherits(x, "Date")
  if (dated) check_date_statistic(call)
  if (is.character(x)) check_text_statistic(call, x)
  x <- if (is.logical(x)) as.integer(x) else as_number(x)
  cells <- if (length(within)) group_cells(within)
  use <- if (!is.null(w) || !is.null(cells)) is.finite(x)
  if (!is.null(cells)) use <- use & !is.na(cells$cell)
  if (!is.null(w)) use <- use & !is.na(w) & w > 0
  list(x = x, w = w, use = use, within = within, cells = cells,
    others = unname(row_items(call)[-1]), date = dated, times = context$stand_for %||% 1)
}

weight_column <- function(name, context) {
  w <- as_number(context$value(as.character(name)))
  below <- sum(w < 0, na.rm = TRUE)
  if (below) fail("weight-negative", name = as.character(name), rows = counted(below, "row"))
  w
}

# What is known of a variable is found once for all statistics of a turn.
known_moments <- function(node, part, context) {
  if (!is.null(part$w) || is.null(context$memo) || !identical(part$times, 1)) {
    return(moments_in(part$x, part$times))
  }
  key <- formula_text(node)
  if (is.null(context$memo[[key]])) assign(key, column_moments(node, part$x, context), context$memo)
  context$memo[[key]]
}

# Of a variable of few answers from these, and not from its rows.
column_moments <- function(node, x, context) {
  cells <- if (is.symbol(node) && !is.null(context$cells)) context$cells(as.character(node))
  if (is.null(cells)) return(moments(x))
  moments_of_cells(as.double(as_number(cells$values)), cells$rows)
}

# What was learned: `of` is the formula of the statistic, `is` its value or values, `rows` the
# number of rows it rests on; of a distribution the `cumulative` weight up to each value; within
# groups the values of `groups`.
new_note <- function(of, is, rows = NULL, cumulative = NULL, groups = NULL) {
  compact(list(of = of, is = is, rows = rows, cumulative = cumulative, groups = groups))
}

# The word of the formula language that a note is of.
note_word <- function(note) call_head(parse_formula(note$of))
