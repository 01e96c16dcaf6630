# What is learned of a variable as a list of values: spellings, rare values, categories, cut
# points, and the whole distribution.

# spelled(x, "a", "b", loose = TRUE) becomes x %in% the spellings met in the data.
learn_spelling <- function(call, at) {
  loose <- isTRUE(as.list(call)$loose)
  wanted <- unlist(row_items(call)[-1])
  met <- spellings_met(evaluate(call[[2]], at), wanted, loose)
  list(
    node = call("%in%", call[[2]], met),
    note = list(of = formula_text(call), is = met, rows = NULL)
  )
}

spellings_met <- function(x, wanted, loose) {
  texts <- unique(as.character(x[!is.na(x)]))
  form <- if (loose) loosen else normal_text
  met <- texts[form(texts) %in% form(wanted)]
  sort_points(unique(c(met, if (!length(met)) wanted)))
}

# rare_values(x, "rarer_than", share, named ...): the values held by too few, those named aside.
learn_rare <- function(call, of, at) {
  args <- as.list(call)[-1]
  x <- evaluate(args[[1]], at)
  x <- x[!is.na(x)]
  values <- sort_values(unique(x))
  rows <- tabulate(match(x, values), length(values))
  few <- if (args[[2]] == "rarer_than") rows / length(x) < args[[3]] else rank(-rows, ties.method = "min") > args[[3]]
  list(of = of, is = setdiff(values[few], unlist(args[-(1:3)])), rows = length(x))
}

# The values a variable takes, in their order.
learn_categories <- function(call, of, at) {
  x <- evaluate(call[[2]], at)
  if (inherits(x, "Date")) fail("group-date", of = of, name = formula_text(call[[2]]))
  x <- x[!is.na(x)]
  list(of = of, is = sort_values(unique(x)), rows = length(x))
}

learn_cuts <- function(call, of, at) {
  part <- statistic_parts(call, at)
  rows <- which(part$use)
  if (!length(rows)) fail("nothing-to-learn", of = of, rows = rows_of(0))
  cuts <- do.call(cut_points, c(list(part$x[rows], part$w[rows]), part$others))
  if (anyNA(cuts)) fail("nothing-to-learn", of = of, rows = rows_of(length(rows)))
  list(of = of, is = cuts, rows = length(rows))
}

# One note a group: the distinct values and the weight at or below each.
learn_distribution <- function(call, of, at) {
  part <- statistic_parts(call, at)
  cell_of_row <- part$cells$cell
  seen_cells <- sort(unique(cell_of_row[part$use]))
  if (!length(seen_cells)) fail("nothing-to-learn", of = of, rows = rows_of(0))
  lapply(seen_cells, function(cell) {
    rows <- which(part$use & cell_of_row == cell)
    seen <- distribution_of(part$x[rows], part$w[rows])
    list(of = of, is = seen$values, rows = length(rows), cumulative = seen$cumulative,
      groups = if (length(part$within)) lapply(part$within, function(g) unname(g[rows[1]])))
  })
}
