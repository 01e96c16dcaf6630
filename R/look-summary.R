# All variables of a book, a line for each.

#' @export
summary.ableturn_book <- plainly(function(object, ...) {
  variables <- variables_in(object, self_named(names(object)))
  site <- site_of(object)
  in_one_state(home(site), read_together(home(site), Filter(Negate(is_made), variables)))
  facts <- lapply(variables, facts_of)
  valid <- vapply(facts, `[[`, 0, "valid")
  table <- quick_table(
    variable = names(variables), label = labels_in(variables),
    from = verbs_in(object, names(variables)), valid = as_row_counts(valid),
    missing = as_row_counts(row_count(object) - valid),
    values = vapply(variables, values_in_short, "")
  )
  as_table(table, "ableturn_summary", rows = row_count(object))
})

labels_in <- function(variables) {
  vapply(variables, function(variable) variable$meaning$label %||% "", "", USE.NAMES = FALSE)
}

# Where numbers lie; of few answers that are none, or stand for something, how many there are.
values_in_short <- function(variable) {
  facts <- facts_of(variable)
  named <- length(variable$meaning$codes) > 0 || has_text(variable)
  if (facts$few && named) return(counted(length(facts$values), "answer"))
  if (!facts$valid) return("none")
  if (has_text(variable)) return("many texts")
  ends <- show_value(like_column(c(facts$low, facts$high), variable$x %||% column_of(variable)$x))
  paste(unique(ends), collapse = " to ")
}
