# What comes of a formula, at the site of its variables:
#   x, why, kinds, cells, long, facts  as a variable has them
#   branch   of rules: `rows` that each caught, `none`, and `also`, the rows of one (by row) that a
#            later one would catch as well (by column)
#   with     of a score: how many rows have how many valid items; `items`, and `sums`, what their
#            reliability rests on
#   lacking  where it is known already, how many rows lack each of several sources
#   at       the site to be asked about the rows of the data with the result among its variables
#   points   the same, or one whose rows are values that the formula compares its source with
work_out <- function(out, sources, site) {
  cells <- cells_behind(out, site)
  if (is.null(cells)) return(work_out_at(site, out, sources))
  small <- work_out_at(cells$site, out, lapply(self_named(names(sources)), cells$site$variable))
  whole <- cells$spread(small)
  whole$facts <- facts_in_cells(small$x, cells$site$times)
  whole$missing <- count_kinds(small, cells$site$times)
  points <- also_knowing(cells$site, setNames(list(result_in(small, out)), out$name))
  c(whole, small[c("branch", "with", "items", "sums", "sample")],
    list(at = if (cells$exact) points else with_result(site, out, whole), points = points))
}

# The site with the result as one of its variables.
with_result <- function(site, out, column) {
  also_knowing(site, setNames(list(result_in(column, out)), out$name))
}

result_in <- function(column, out) {
  new_variable(name = out$name, x = column$x, why = column$why, kinds = column$kinds,
    cells = column$cells, expr = out$expr, meaning = out$meaning, site = in_memory)
}

work_out_at <- function(site, out, sources) UseMethod("work_out_at")

#' @export
work_out_at.ableturn_memory <- function(site, out, sources) {
  full <- evaluate_column(out$expr, site)
  if (out$codes || is_choose(out$expr)) full$x <- as_code(full$x)
  column <- if (!is.null(full$cells)) new_indexed(full$cells, item_kinds) else
    column_as_source(full, out, sources) %||% explained_column(full, out, sources, site)
  if (is.null(site$times)) column <- c(with_index(column), column["lacking"])
  column$branch <- if (!is.null(full$branch)) full[c("rows", "none", "also")]
  column <- c(column, full[c("with", "items", "sums")])
  if (!is.null(site$times)) return(column)
  column$facts <- if (!is.null(column$cells)) facts_by_index(column) else full$facts %||%
    facts_of_column(column$x)
  column$missing <- count_kinds(column)
  column$at <- column$points <- with_result(site, out, column)
  column
}

explained_column <- function(full, out, sources, site) {
  told <- explain_missing(full, out, sources, site)
  c(new_column(full$x, told$why, told$kinds), list(lacking = told$lacking))
}

# A result as a variable of a book:
#   expr, rules, rule_kinds, carry, looked_up  as its turn lowered it, see new_lowered()
#   sources  the variables that its formula reads, by name; from: the names of those that it is made
#            from
#   counts   the rows of each rule, of none, and with so many valid items
#   learned  the notes of what was learned; reads: the names of all variables that it and these rest
#            on
#   verb     its kind of turn; found: what looks wrong with it
derived_variable <- function(out, outcome, site, sources, learned, reads) {
  new_variable(
    name = out$name, meaning = out$meaning, site = site, x = outcome$x, why = outcome$why,
    kinds = outcome$kinds, cells = outcome$cells, long = outcome$long, facts = outcome$facts,
    expr = out$expr, rules = out$rules, rule_kinds = out$kinds, carry = out$carry,
    looked_up = out$looked_up, from = out$from, sources = sources,
    counts = c(outcome$branch[c("rows", "none")],
      outcome["with"]),
    learned = learned, reads = reads, found = list()
  )
}
