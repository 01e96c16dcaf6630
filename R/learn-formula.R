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
    cut_points = learn_cuts, split_entries = learn_entries, component_means = ,
    component_sds = , component_vector = , component_eigenvalues = ,
    component_size = learn_component, learn_statistic)
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
