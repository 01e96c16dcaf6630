# The variables a turn makes, the turn with what it learned, and the receipt. What a turn makes
# later may rest on what it made before.
make_columns <- function(book, turn, recorded = list()) {
  in_one_state(home(site_of(book)), make_each_column(book, turn, recorded))
}

make_each_column <- function(book, turn, recorded) {
  progress <- progress_of(length(turn$makes), "variable")
  known <- new.env() # the variables that this turn has met, and those that it has made
  site <- site_of(book)
  before <- site$variable
  read_together(home(site), lapply(intersect(turn_reads(turn), names(book)), before))
  site <- scoped(site, function(name) {
    if (is.null(known[[name]])) assign(name, before(name), known)
    known[[name]]
  })
  lowered <- lower(turn, world_of(book, recorded, site, progress))
  parts <- list()
  for (out in lowered) {
    part <- make_column(out, turn, site, recorded)
    part <- with_findings(part, turn, parts, book, recorded)
    assign(out$name, part$column, known)
    book <- with_parts(book, columns = c(derived_of(book), setNames(list(part$column), out$name)))
    parts <- c(parts, list(part))
    progress(length(parts))
  }
  learned <- unique(unlist(lapply(parts, `[[`, "learned"), recursive = FALSE))
  turn$learned <- if (length(learned)) learned
  list(columns = setNames(lapply(parts, `[[`, "column"), turn$makes), turn = turn,
    receipt = new_receipt(turn, lapply(parts, `[[`, "receipt"), row_count(book),
      recorded = length(recorded) > 0))
}

# A variable, what is told of it, and what was learned for it.
make_column <- function(out, turn, site, recorded) {
  out$meaning$unit <- out$meaning$unit %||% unit_of_result(out$expr, site)
  learned <- learn_formula(out$expr, site, recorded)
  notes <- c(out$notes, learned$learned)
  out$from <- formula_vars(learned$node)
  reads <- c(formula_vars(out$expr), learned_reads(notes))
  out$expr <- rewrite_kinds(learned$node, site$variable)
  needs <- unique(c(out$from, formula_vars(out$expr)))
  sources <- lapply(self_named(needs), site$variable)
  outcome <- work_out(out, sources[out$from], site)
  variable <- derived_variable(out, outcome, home(site), sources, notes, unique(c(reads, needs)))
  variable$verb <- turn$verb
  list(column = variable, learned = notes, out = out, outcome = outcome, sources = sources,
    receipt = receipt_part(out, outcome, variable, sources, notes))
}

# What looks wrong with the variable, and what of it the analyst has accepted.
with_findings <- function(part, turn, before, book, recorded) {
  made <- c(part[c("out", "outcome", "column", "sources", "receipt")], list(turn = turn,
    before = before, on_record = vapply(recorded, `[[`, "", "of")))
  found <- with_accepted(find_all(structure(made, class = "ableturn_made"), book), turn$accept)
  part$column$found <- part$receipt$found <- found
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

# The unit of time that a formula gives; units that do not go together are an error.
unit_of_result <- function(node, site) {
  unit_of <- function(name) span_unit(site$variable(name)$meaning$unit)
  type_of <- function(name) value_type(site$variable(name))
  is_timed <- function(names) {
    for (name in names) if (!is.null(unit_of(name)) || type_of(name) == "date") return(TRUE)
    FALSE
  }
  if (is_timed(formula_vars(node)) || uses(node, words_with("gives a span"))) {
    formula_unit(node, unit_of, type_of)
  }
}
