# How originals in memory are read: their index, what is known of their values, and the values with
# the reasons for those that are missing.

#' @export
read_index.ableturn_memory <- function(site, variable) index_of_raw(variable$raw)

#' @export
read_facts.ableturn_memory <- function(site, variable) {
  if (is.null(index_of(variable))) return(facts_of_column(values_of(variable)))
  column <- column_of(variable)
  if (is.null(column$cells)) facts_of_column(column$x) else facts_by_index(column)
}

#' @export
read_original.ableturn_memory <- function(site, variable) {
  index <- index_of(variable)
  meaning <- variable$meaning
  column <- if (is.null(index)) valid_column(source_of(variable), meaning) else
    valid_by_index(index, meaning)
  asked <- asked_node(meaning)
  if (is.null(asked)) return(column)
  asked_by_cells(column, asked, variable, site) %||% set_not_asked(column,
    as_truth(evaluate(asked, scoped(site, function(name) variable$asked[[name]]))))
}

# The column of those who were asked, worked out for cells; NULL where these are not few.
asked_by_cells <- function(column, asked, variable, site) {
  others <- variable$asked
  if (is.null(column$cells) || !all_few(others)) return(NULL)
  index <- index_of_several(c(list(column), lapply(unname(others), column_of)),
    sum(column$cells$rows))
  if (is.null(index)) return(NULL)
  small <- Map(function(other, places) column_of_cells(column_of(other), places), others,
    index$places[-1])
  small <- site_of_columns(small, others, index$rows)
  made <- set_not_asked(column_of_cells(column, index$places[[1]]),
    as_truth(evaluate(asked, small)), index$rows)
  c(column_of_rows(made, index$codes, index$rows), made["answered_unasked"])
}
