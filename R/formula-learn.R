# Replaces the statistics in a formula by their values, learned from the columns or taken from
# what is `recorded`. Gives the formula and what was learned: of, is, rows, and for a statistic
# within groups their values, `groups`.
learn_formula <- function(node, at, recorded = list()) {
  notes <- new.env()
  notes$learned <- list()
  node <- walk_formula(node, function(call) {
    word <- formula_words[[call_head(call)]]
    if (!isTRUE(word$learned)) return(call)
    note <- learn_call(call, at, recorded)
    notes$learned <- c(notes$learned, list(note$note))
    note$node
  })
  list(node = node, learned = unique(notes$learned))
}

learn_call <- function(call, at, recorded) {
  if (call_head(call) == "spelled") return(learn_spelling(call, at))
  of <- formula_text(call)
  known <- Filter(function(r) identical(r$of, of), recorded)
  note <- if (length(known)) known[[1]] else learner_of(call)(call, of, at)
  list(node = learned_node(call, note), note = note)
}

# All notes of a distribution, one for each group.
learn_notes <- function(call, at, recorded) {
  of <- formula_text(call)
  known <- Filter(function(r) identical(r$of, of), recorded)
  if (length(known)) known else learn_distribution(call, of, at)
}

learner_of <- function(call) {
  switch(call_head(call), rare_values = learn_rare, categories = learn_categories, cut_points = learn_cuts,
    learn_statistic)
}

# A constant, or within groups a table of constants.
learned_node <- function(call, note) {
  if (length(note$groups)) return(lookup_node(note$is, note$groups, table_name(call)))
  if (is.character(note$is) && call_head(call) %in% c("min", "max")) as_date(note$is) else note$is
}

table_name <- function(call) {
  of <- call[[2]]
  paste(c(call_head(call), if (is.symbol(of)) as.character(of)), collapse = "_")
}

learn_statistic <- function(call, of, at) {
  part <- statistic_parts(call, at)
  use <- part$use
  cells <- part$cells
  rows <- list(which(use))
  if (length(part$within)) rows <- split(rows[[1]], factor(cells$cell[use], seq_len(cells$cells)))
  value <- vapply(rows, function(i) statistic_value(call, part, i), 0, USE.NAMES = FALSE)
  if (all(is.na(value))) fail("nothing-to-learn", of = of, rows = rows_of(sum(use)))
  if (length(part$within)) return(list(of = of, is = value, rows = unname(lengths(rows)), groups = cells$keys))
  list(of = of, is = if (part$date) format(as_date(value)) else value, rows = sum(use))
}

statistic_value <- function(call, part, rows) {
  if (!length(rows)) return(NA_real_)
  run <- formula_words[[call_head(call)]]$run
  as.double(do.call(run, c(list(part$x[rows], part$w[rows]), part$others)))
}
