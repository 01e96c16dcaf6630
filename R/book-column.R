# The columns a turn makes, the turn with what it learned, and the receipt. What a turn makes later
# may rest on what it made before.
make_columns <- function(book, turn, recorded = list()) {
  check_turn(turn)
  parts <- list()
  memo <- new.env()
  progress <- progress_of(length(turn$makes), "variable")
  for (out in lower(turn,
    world_of(book, recorded, telling(learning_context(book, memo), progress)))) {
    part <- make_column(out, book, learning_context(book, memo), recorded)
    part$column$verb <- turn$verb
    part <- with_findings(part, turn, parts, book, recorded)
    book <- with_parts(book, columns = c(derived_of(book), setNames(list(part$column), out$name)))
    parts <- c(parts, list(part))
    progress(length(parts))
  }
  columns <- lapply(parts, `[[`, "column")
  names(columns) <- turn$makes
  learned <- unique(unlist(lapply(parts, `[[`, "learned"), recursive = FALSE))
  turn$learned <- if (length(learned)) learned
  receipt <- new_receipt(turn, lapply(parts, `[[`, "receipt"), row_count(book),
    recorded = length(recorded) > 0)
  list(columns = columns, turn = turn, receipt = receipt)
}

# What looks wrong with the column, and what of it the analyst has accepted.
with_findings <- function(part, turn, before, book, recorded) {
  made <- c(part[c("out", "full", "column")], list(turn = turn, before = before,
    receipt = part$receipt, on_record = vapply(recorded, `[[`, "", "of")))
  part$column$found <- with_accepted(find_all(structure(made, class = "ableturn_made"), book),
    turn$accept)
  part$receipt$found <- part$column$found
  part
}

# A list of findings; the rooms above know what to look for.
find_all <- function(made, book) UseMethod("find_all")

# Findings that a turn's `accept` names carry the reason.
with_accepted <- function(found, accept) {
  lapply(found, function(f) {
    if (f$id %in% names(accept)) f$because <- accept[[f$id]]
    f
  })
}

make_column <- function(out, book, context, recorded) {
  out$meaning$unit <- out$meaning$unit %||% unit_of_result(out$expr, book)
  learned <- learn_formula(out$expr, context, recorded)
  learned$learned <- c(out$notes, learned$learned)
  out$from <- formula_vars(learned$node)
  reads <- c(formula_vars(out$expr), learned_reads(learned$learned))
  out$expr <- rewrite_kinds(learned$node, book)
  needs <- formula_vars(out$expr)
  worked <- work_out(out, book)
  derived <- new_derived(worked$column, out, facts = worked$facts,
    counts = worked$full[c("rows", "none", "with")],
    learned = learned$learned, reads = unique(c(reads, needs)), needs = needs)
  list(column = derived, learned = learned$learned, out = out, full = worked$full,
    receipt = receipt_part(out, worked, derived, learned, book))
}

# The unit of time that a formula gives; units that do not go together are an error.
unit_of_result <- function(node, book) {
  unit_of <- function(name) span_unit(meaning_in(book, name)$unit)
  type_of <- function(name) variable_type(book, name)
  timed <- Filter(function(name) !is.null(unit_of(name)) || type_of(name) == "date",
    formula_vars(node))
  if (length(timed) || uses(node, words_with("gives a span"))) formula_unit(node, unit_of, type_of)
}

# A derived variable, as a book holds it:
#   x, why, kinds  its values, and the reason of each that is missing, see new_column()
#   cells    where its answers are few, see new_indexed(); far: of a long one, see book-far.R
#   meaning, expr, rules, rule_kinds, carry, lost  as its turn lowered it, see new_lowered()
#   from     the variables it is made from
#   facts    what is known of its values; mark: a number that tells it from most other columns
#   counts   the rows of each rule, of none, and with so many valid items
#   learned  the notes of what was learned; reads: all variables that it and these rest on; needs:
#            its formula's
#   verb     its kind of turn
#   found    what looks wrong with it
new_derived <- function(column, out, facts, counts, learned, reads, needs, verb = NULL,
                        found = list()) {
  list(
    x = column$x, why = column$why, kinds = column$kinds, cells = column$cells, far = column$far,
    meaning = out$meaning, expr = out$expr, rules = out$rules,
    rule_kinds = out$kinds, carry = out$carry, lost = out$lost, from = out$from, facts = facts,
    mark = mark_of(column$x, c(column, list(facts = facts))), counts = counts, learned = learned,
    reads = reads, needs = needs, verb = verb, found = found
  )
}

# `full`, all that the formula gives, and `own`, the column, stand in the rows of `small`: the book
# of its cells, each of which stands for some rows of `column`, or the book itself. `shown` has the
# values of the data.
work_out <- function(out, book) {
  if (is_on_site(book)) check_occasions_at_site(out, book)
  cells <- cells_of(out, book)
  if (is.null(cells) && is_on_site(book)) return(work_out_at_site(out, book))
  small <- cells$book %||% book
  full <- evaluate_column(out$expr, context_of(small))
  if (out$codes || formula_type(out) == "code") full$x <- as_code(full$x)
  own <- if (is.null(full$cells)) column_as_source(full, out, small) %||%
    explained_column(full, out, small) else
    new_indexed(full$cells, item_kinds)
  worked <- list(full = full, own = own, small = small, rows = cells$rows, column = own)
  if (is.null(cells)) {
    worked$column <- with_index(own)
    facts <- facts_of_made(full, worked$column)
    return(c(worked, list(facts = facts, shown = list(column = own, book = book))))
  }
  worked$column <- cells$spread(own)
  worked$facts <- facts_in_cells(own$x, cells$rows)
  worked$shown <- if (cells$exact) list(column = own, book = small, rows = cells$rows)
  else list(column = worked$column, book = book)
  worked
}

explained_column <- function(full, out, book) {
  told <- explain_missing(full, out, book)
  column <- new_column(full$x, told$why, told$kinds)
  column$lacking <- told$lacking
  column
}

facts_of_made <- function(full, column) {
  if (!is.null(column$cells)) return(facts_by_index(column))
  full$facts %||% facts_of_column(column$x)
}

# The variables that statistics were learned from.
learned_reads <- function(notes) {
  unlist(lapply(notes, function(note) formula_vars(parse_formula(note$of))))
}

# Codes of rules and flags are integer where they are whole; other results stay as they are.
formula_type <- function(out) {
  if (is.call(out$expr) && call_head(out$expr) == "choose") "code" else "result"
}
