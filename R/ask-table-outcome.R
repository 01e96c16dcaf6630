# A result that is worked out in the table of its sources, see work_out(): in its answers, each with
# the rows that hold it; of a long one in its reasons alone.
#' @export
work_out_at.ableturn_table_site <- function(site, out, sources) {
  for (call in calls_of(out$expr, "previous")) check_occasions(site, call)
  draft <- draft_of(out, sources, site)
  at <- also_knowing(site, setNames(list(draft), out$name))
  planned <- outcome_by_plan(out, sources, site, draft, at)
  if (!is.null(planned)) {
    return(c(planned, list(at = at), if (is.null(planned$points)) list(points = at)))
  }
  about <- compact(list(reason = reason_node(out$name), branch = branch_node(out$expr),
    valid = valid_node(out$expr)))
  found <- counts_at(at, c(unname(about), list(as.name(out$name))), most = site$most)
  outcome <- if (is.null(found)) long_outcome(at, draft, about) else
    few_outcome(site, draft, setNames(found$keys, c(names(about), "value")), found$rows)
  keys <- outcome$keys
  outcome$keys <- NULL
  outcome$branch <- rules_met(at, out, keys$branch, outcome$counted)
  if (!is.null(keys$valid)) {
    outcome$with <- rows_at_places(keys$valid + 1, length(row_items(out$expr)) + 1L,
      outcome$counted)
    if (out$scale) outcome$sums <- products_at(at, row_items(out$expr), total = TRUE)
  }
  c(outcome, list(at = at, points = at))
}

# The variable as it will be, without any values.
draft_of <- function(out, sources, site) {
  variables <- lapply(self_named(names_needed(out)), site$variable)
  blank <- lapply(variables, function(variable) {
    column <- column_of(variable)
    new_column(column$x[0][1], 1L, column$kinds)
  })
  x <- evaluate_column(out$expr, site_of_columns(blank, variables, 1L))$x
  if (out$codes || is_choose(out$expr)) x <- as_code(x)
  new_variable(name = out$name, x = far_values(x[0], site$rows),
    kinds = kinds_in_order(out, sources), expr = out$expr, rules = out$rules,
    rule_kinds = out$kinds, carry = out$carry, looked_up = out$looked_up, from = out$from,
    sources = variables, meaning = out$meaning, site = site, facts = facts_of_column(numeric()))
}

long_outcome <- function(at, draft, about) {
  known <- known_of(at, draft$name, draft$x, unname(about))
  keys <- setNames(known$keys, names(about))
  why <- as.integer(keys$reason)
  met <- sort(unique(why[!is.na(why)]))
  rows <- rows_at_places(match(why, met), length(met), known$n)
  c(long_column(draft$x, draft$kinds[met], rows, at$rows, known$whole),
    list(facts = known$facts, missing = counts_by_kind(rows, draft$kinds[met]), keys = keys,
      counted = known$n))
}

# As first_true() has it: how many rows each rule caught, and how many of these a later one would
# catch as well.
rules_met <- function(at, out, branch, rows) {
  if (is.null(branch)) return(NULL)
  tests <- choose_parts(out$expr)$tests
  k <- length(tests)
  also <- matrix(0, k, k)
  if (k > 1) {
    # none comes before the first
    met <- counts_at(at, list(branch_node(out$expr)), sums = lapply(tests[-1], tally_node))
    some <- which(met$keys[[1]] %in% seq_len(k))
    also[met$keys[[1]][some], -1] <- met$sums[some, ]
    also[!upper.tri(also)] <- 0
  }
  caught <- function(of) sum(rows[branch %in% of])
  list(rows = vapply(seq_len(k), caught, 0), none = caught(0), also = also)
}

# Earlier occasions of a unit are looked for where its rows are: they must lie together there, and
# be one of each.
check_occasions <- function(site, call) {
  check_unit(site, call)
  parts <- as.list(call)[c("unit", "order")]
  twice <- repeats_at(site, unname(parts))
  if (is.null(twice)) return()
  fail("occasions-twice", unit = as.character(parts$unit), order = as.character(parts$order),
    rows = twice$rows, value = paste(show_value(twice$values[[1]]), "at",
      show_value(twice$values[[2]])))
}

# Whether a query that each server of a table answers for itself would miss rows of a unit: an error
# where it would.
check_unit <- function(site, call) UseMethod("check_unit")
