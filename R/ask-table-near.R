# Rows of a table that are fetched as cells, and asked about in place of the table.

#' @export
nearest_site.ableturn_table_site <- function(site, names, many = FALSE) {
  site_near(site, names) %||% (if (many) site_fetched(site, names)) %||% site
}

# Cells of a table as a site; NULL where they are too many.
site_near <- function(site, names) {
  variables <- lapply(self_named(unique(names)), site$variable)
  if (length(variables) && all_few(variables)) joint_cells(variables, site$rows)$site
}

# The same of up to a million cells, which are fetched for this once.
site_fetched <- function(site, names) {
  nodes <- unlist(lapply(names, function(name) list(as.name(name), reason_node(name))))
  found <- counts_at(site, nodes, most = register_values)
  if (is.null(found)) return(NULL)
  variables <- lapply(self_named(names), site$variable)
  columns <- Map(function(variable, i) {
    column <- column_of(variable)
    reasoned_column(as_column(found$keys[[2 * i - 1]], column$x), as.integer(found$keys[[2 * i]]),
      column$kinds)
  }, variables, seq_along(names))
  site_of_columns(columns, variables, as_row_counts(found$rows))
}

# Its answers are few: the cells in which it stands, known in the table by the variable itself.
few_outcome <- function(site, draft, keys, rows) {
  kinds <- draft$kinds
  x <- as_column(keys$value, draft$x)
  small <- reasoned_column(x, as.integer(keys$reason), kinds)
  groups <- groups_among(list(small$x %|% NA, as.double(keys$reason)), length(rows))
  once <- groups$first
  own <- pick_rows(small, once)
  kind <- integer(length(once))
  kind[is.na(own$x)] <- own$why
  each <- as_row_counts(sums_in_groups(rows, groups))
  root <- list(own$x, as.integer(keys$reason)[once])
  cells <- list(codes = far_codes(site, list(draft), list(root)),
    rows = each, values = own$x, kind = kind)
  column <- new_indexed(cells, own$kinds)
  c(column, list(facts = facts_in_cells(own$x, each), missing = count_kinds(own, each),
    keys = keys, counted = rows))
}

# One row for each group: its answer, or why it has none.
reasoned_column <- function(x, why, kinds) {
  x[!is.na(why)] <- NA
  met <- sort(unique(why[!is.na(why)]))
  new_column(x, match(why[is.na(x)], met), kinds[met])
}
