# What was learned of the data, as turns and sheets hold it: `of` is the formula of the statistic,
# `is` its value or values, `rows` the number of rows it rests on; of a distribution the
# `cumulative` weight up to each value; within groups the values of `groups`.
new_note <- function(of, is, rows = NULL, cumulative = NULL, groups = NULL) {
  compact(list(of = of, is = is, rows = if (!is.null(rows)) as_row_counts(rows),
    cumulative = cumulative, groups = groups))
}

# The word of the formula language that a note is of.
note_word <- function(note) call_head(parse_formula(note$of))

# Whether it holds the texts in which one of several answers stands: what the column itself shows,
# and always found anew.
is_split_note <- function(note) {
  startsWith(note$of, "spelled(") && identical(as.list(parse_formula(note$of))$inside, "entries")
}

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
