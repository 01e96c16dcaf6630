# Replaces the statistics in a formula by their values, learned from the columns or taken from what
# is `recorded`. Gives the formula and what was learned: of, is, rows, and for a statistic within
# groups their values, `groups`.
learn_formula <- function(node, context, recorded = list()) {
  if (!uses(node, words_with("learned"))) return(list(node = node, learned = list()))
  notes <- new.env()
  notes$learned <- list()
  node <- walk_formula(node, function(call) {
    word <- formula_words[[call_head(call)]]
    if (!isTRUE(word$learned)) return(call)
    note <- learn_call(call, context, recorded)
    notes$learned <- c(notes$learned, list(note$note))
    note$node
  })
  list(node = node, learned = unique(notes$learned))
}

# Inside a block a statistic may be of a name given there: that name is spelled out, as the columns
# do not have it.
spell_out_statistics <- function(node, known = list()) {
  if (!is.call(node) || !uses(node, "<-") && !length(known)) return(node)
  if (call_head(node) %in% words_with("learned")) return(spelled_out(node, known))
  if (call_head(node) != "{") {
    for (i in seq_along(node)[-1]) node[[i]] <- spell_out_statistics(node[[i]], known)
    return(node)
  }
  for (i in seq_along(node)[-1]) {
    step <- spell_out_statistics(node[[i]], known)
    if (is_assignment(step)) known[[as.character(step[[2]])]] <- spelled_out(step[[3]], known)
    node[[i]] <- step
  }
  node
}

# Names put one into the other may grow without end: what gets too long is put in as a sign that no
# statistic can hold.
spelled_out <- function(node, known) {
  out <- replace_names(node, known)
  too_long <- length(all.names(out)) > 2000 || uses(out, "too long")
  if (!too_long) return(out)
  if (is.call(node) && call_head(node) %in% words_with("learned")) {
    fail("statistic-long", of = call_head(node))
  }
  as.name("too long")
}

learn_call <- function(call, context, recorded) {
  if (call_head(call) == "spelled") return(learn_spelling(call, context))
  of <- formula_text(call)
  known <- Filter(function(r) identical(r$of, of), recorded)
  note <- if (length(known)) known[[1]] else learner_of(call)(call, of, context)
  list(node = learned_node(call, note), note = note)
}

# All notes of a distribution, one for each group.
learn_notes <- function(call, context, recorded) {
  of <- formula_text(call)
  known <- Filter(function(r) identical(r$of, of), recorded)
  if (length(known)) known else learn_distribution(call, of, context)
}

learner_of <- function(call) {
  switch(call_head(call), rare_values = learn_rare, categories = learn_categories,
    cut_points = learn_cuts, learn_statistic)
}

# A constant, or within groups a table of constants.
learned_node <- function(call, note) {
  value <- note$is
  if (is.character(value) && has_word_trait(call_head(call), "may give a date")) {
    value <- known_date(value)
  }
  if (length(note$groups)) lookup_node(value, note$groups, table_name(call)) else value
}

table_name <- function(call) {
  of <- call[[2]]
  paste(c(call_head(call), if (is.symbol(of)) as.character(of)), collapse = "_")
}

learn_statistic <- function(call, of, context) {
  if (is_far_statistic(call, context)) return(learn_far_statistic(call, of, context))
  context <- context_for(call, context)
  part <- statistic_parts(call, context)
  if (length(part$within)) return(learn_in_groups(call, of, part))
  part <- with_weight_only(part)
  known <- known_moments(call[[2]], part, context)
  value <- if (is.null(part$w)) as.list(known)[[call_head(call)]]
  if (is.null(value)) value <- statistic_value(call, part$x, part$w, part$others, part$times)
  value <- no_mere_rounding(call, value, max(abs(known[["min"]]), abs(known[["max"]])))
  if (is.na(value)) fail("nothing-to-learn", of = of, rows = counted(known[["rows"]], "row"))
  new_note(of, recorded_value(value, call, part), as.integer(known[["rows"]]))
}

# Of dates, days since 1970 are recorded as dates: the mean and the median by the day they fall on.
# A distance between dates stays a number of days.
recorded_value <- function(value, call, part) {
  dated <- part$date && has_word_trait(call_head(call), "may give a date")
  if (dated) format(as_date(floor(value))) else value
}

learn_in_groups <- function(call, of, part) {
  cells <- part$cells
  plain <- is.null(part$w) && identical(part$times, 1)
  found <- if (plain && call_head(call) %in% setdiff(group_ways, c("size", "valid"))) {
    group_statistics(as.double(part$x), as.integer(cells$cell), cells$cells, call_head(call))
  } else {
    rows <- split(which(part$use), factor(cells$cell[part$use], seq_len(cells$cells)))
    value <- vapply(rows, function(i) {
      statistic_value(call, part$x[i], part$w[i], part$others, some_of(part$times, i))
    }, 0, USE.NAMES = FALSE)
    list(value = value, rows = unname(vapply(rows, function(i) {
      as.integer(rows_in(i, some_of(part$times, i)))
    }, 1L)))
  }
  if (all(is.na(found$value))) nothing_to_learn(of, sum(part$use * part$times), part)
  sizes <- if (call_head(call) %in% spreads) {
    group_statistics(abs(as.double(part$x)), as.integer(cells$cell), cells$cells, "max")$value
  }
  found$value <- no_mere_rounding(call, found$value, sizes)
  new_note(of, recorded_value(found$value, call, part), found$rows, groups = cells$keys)
}

# A statistic that no row, or no group of rows, gives.
nothing_to_learn <- function(of, rows, part) {
  if (rows && length(part$within)) fail("groups-single", of = of)
  fail("nothing-to-learn", of = of, rows = counted(rows, "row"))
}

# A sheet holds the values of so many groups, such as those of norms. More than these are units,
# whose values are learned anew from the data at hand.
most_groups_on_record <- 100

spreads <- c("sd", "mad")

# A spread below 1e-14 of the size of the values is what rounding leaves of none.
no_mere_rounding <- function(call, value, size) {
  if (call_head(call) %in% spreads) value[!is.na(value) & value < 1e-14 * size] <- 0
  value
}

statistic_value <- function(call, x, w, others, times = 1) {
  if (!length(x)) return(NA_real_)
  as.double(do.call(formula_words[[call_head(call)]]$run, c(list(x, w), others,
    list(times = times))))
}

# Where a statistic is learned: the context itself, or one of the cells of the variables that the
# call reads, where the rows are elsewhere.
context_for <- function(call, context) {
  if (is.null(context$joint)) context else context$joint(formula_vars(call))
}

# Where rows are weighted, only those that count are left.
with_weight_only <- function(part) {
  if (is.null(part$w)) return(part)
  part$times <- some_of(part$times, part$use)
  part[c("x", "w")] <- list(part$x[part$use], part$w[part$use])
  part
}
