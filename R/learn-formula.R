# Replaces the statistics in a formula by their values, learned at a site or taken from what is
# `recorded`. Gives the formula and what was learned: of, is, rows, and for a statistic within
# groups their values, `groups`.
learn_formula <- function(node, site, recorded = list()) {
  if (!uses(node, words_with("learned"))) return(list(node = node, learned = list()))
  notes <- list()
  node <- walk_formula(node, function(call) {
    if (!isTRUE(formula_words[[call_head(call)]]$learned)) return(call)
    note <- learn_call(call, site, recorded)
    notes <<- c(notes, list(note$note))
    note$node
  })
  list(node = node, learned = unique(notes))
}

learn_call <- function(call, site, recorded) {
  if (call_head(call) == "spelled") return(learn_spelling(call, site))
  of <- formula_text(call)
  known <- Filter(function(r) identical(r$of, of), recorded)
  note <- if (length(known)) known[[1]] else learner_of(call)(call, of, site)
  list(node = learned_node(call, note), note = note)
}

# All notes of a distribution, one for each group.
learn_notes <- function(call, site, recorded) {
  of <- formula_text(call)
  known <- Filter(function(r) identical(r$of, of), recorded)
  if (length(known)) known else learn_distribution(call, of, site)
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

# What was learned: `of` is the formula of the statistic, `is` its value or values, `rows` the
# number of rows it rests on; of a distribution the `cumulative` weight up to each value; within
# groups the values of `groups`.
new_note <- function(of, is, rows = NULL, cumulative = NULL, groups = NULL) {
  compact(list(of = of, is = is, rows = if (!is.null(rows)) as_row_counts(rows),
    cumulative = cumulative, groups = groups))
}

# The word of the formula language that a note is of.
note_word <- function(note) call_head(parse_formula(note$of))

# The variables that statistics were learned from.
learned_reads <- function(notes) {
  unlist(lapply(notes, function(note) formula_vars(parse_formula(note$of))))
}

# A sheet holds the values of so many groups, such as those of norms. More than these are units,
# whose values are learned anew from the data at hand.
most_groups_on_record <- 100

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
