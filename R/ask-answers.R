# The answers of a variable, each with its rows, and what can be told from them.

# The distinct values of a variable, numbers or texts, and how many rows hold each.
answers_of <- function(variable) {
  if (!site_can(variable$site, "values")) return(answers_in_cells(column_of(variable)))
  x <- values_of(variable)
  facts <- facts_of(variable)
  if (!facts$few || sum(facts$rows) < facts$valid) return(counts_of(x[!is.na(x)]))
  list(values = if (is.character(x)) facts$values else self_typed(facts$values, x),
    rows = facts$rows)
}

answers_in_cells <- function(variable) {
  cells <- variable$cells
  if (is.null(cells)) refuse_answers(variable)
  use <- cells$kind == 0 & cells$rows > 0
  counts_of(cells$values[use], rows = cells$rows[use])
}

refuse_answers <- function(variable) {
  fail("answers-many", name = variable$name, most = grouped(variable$site$most))
}

# The same; NULL where there are too many to be looked at one by one.
few_answers <- function(variable) {
  if (facts_of(variable)$few &&
    (site_can(variable$site, "values") || !is.null(cells_of(variable)))) {
    answers_of(variable)
  }
}

# The same; NULL only where they stay in a table, as they are more than are fetched.
answers_listed <- function(variable) {
  if (site_can(variable$site, "values") || !is.null(cells_of(variable))) answers_of(variable)
}

# How many different answers a variable has, or `most`, if there are more.
answers_upto <- function(variable, most) {
  facts <- facts_of(variable)
  if (facts$few && sum(facts$rows) == facts$valid) return(min(most, length(facts$values)))
  if (!facts$few && most < many_values) return(most)
  found <- counts_at(site_of_one(variable), list(as.name(variable$name)), most = most)
  if (is.null(found)) most else min(most, sum(!is.na(found$keys[[1]])))
}

# The site of a variable, at which it alone is known.
site_of_one <- function(variable) {
  near <- if (!site_can(variable$site, "values") && !is.null(cells_of(variable))) {
    joint_cells(setNames(list(variable), variable$name), variable$site$rows)$site
  }
  near %||% scoped(with_rows_of(variable$site, variable), function(name) variable)
}

# The distinct numbers of a variable in their order and how many rows hold each; of one with very
# many those at its ends, a thousand at each.
numbers_of <- function(variable) {
  if (is.null(variable$numbers)) variable$numbers <- read_numbers(variable$site, variable)
  variable$numbers
}

read_numbers <- function(site, variable) UseMethod("read_numbers")

#' @export
read_numbers.ableturn_memory <- function(site, variable) {
  number_counts(values_of(variable), facts_of(variable))
}

#' @export
read_numbers.ableturn_table_site <- function(site, variable) {
  column <- column_of(variable)
  if (!is.null(column$cells)) return(numbers_in_cells(column$cells))
  at <- site_of_one(variable)
  node <- as.name(variable$name)
  all <- counts_at(at, list(node), most = register_values) %||%
    outer_numbers(at, node, column$facts)
  values <- as.double(all$keys[[1]])
  use <- which(is.finite(values))
  list(values = values[use], rows = as_row_counts(all$rows[use]))
}

numbers_in_cells <- function(cells) {
  x <- as.double(as_number(cells$values))
  use <- is.finite(x) & cells$rows > 0
  counts_of(x[use], sort, cells$rows[use])
}

# By their ranks: so many shares of the rows.
outer_numbers <- function(at, node, facts) {
  last <- facts$valid - 1
  places <- unique(c(seq(0, min(999, last)), seq(max(0, last - 999), last)))
  ends <- ranks_at(at, node, places / last)$values
  counts_at(at, list(node), call("%in%", node, unique(as.double(ends))), most = register_values)
}

# The values of a variable that look like missing codes nobody declared.
suspects_of <- function(variable) {
  if (is.null(variable$suspects)) {
    variable$suspects <- if (!may_hold_suspects(facts_of(variable))) numeric() else
      do.call(suspect_values, unname(numbers_of(variable)))
  }
  variable$suspects
}

# The numbers of a variable that lie beyond some limits, with the rows of each.
values_outside <- function(variable, limits) {
  met <- few_answers(variable)
  if (is.null(met)) {
    x <- call("+", as.name(variable$name), 0)
    found <- counts_at(site_of_one(variable), list(x), outside_node(x, limits),
      most = register_values)
    if (is.null(found)) refuse_answers(variable)
    met <- list(values = found$keys[[1]], rows = found$rows)
  }
  x <- as_number(met$values)
  off <- !is.na(x) & (x < limits[1] | x > limits[2])
  list(values = x[off], rows = met$rows[off])
}

# Whether all numbers of a variable are whole.
has_whole_values <- function(variable) {
  if (is.null(variable$whole)) {
    long <- if (!site_can(variable$site, "values")) column_of(variable)$long
    variable$whole <- if (is.null(long)) is_whole(as_number(values_held(variable))) else long$whole
  }
  variable$whole
}

# Values among which each stands that a variable holds: the column, or, where its rows are
# elsewhere, its answers.
values_held <- function(variable) {
  if (site_can(variable$site, "values")) values_of(variable) else answers_of(variable)$values
}

# How many rows are missing for each reason, the largest first.
missing_of <- function(variable) {
  column <- column_of(variable)
  if (is.null(column$long)) count_kinds(column) else
    counts_by_kind(column$long$rows, column$kinds)
}

# Whether some value of a variable is infinite.
is_infinite_somewhere <- function(variable) {
  column <- column_of(variable)
  if (!is.null(column$long)) return(isTRUE(column$long$infinite))
  x <- if (site_can(variable$site, "values")) column$x else column$cells$values
  is.double(x) && any(is.infinite(x))
}
