#' How far predictors overlap
#'
#' The variance inflation of each variable of a set, 1/(1 - R squared) with the
#' others, over rows with every variable; and sets that add up exactly, such as
#' all dummies of one variable (the dummy trap).
#'
#' @param book A turnbook, or a data frame.
#' @param vars The predictors, a tidyselect selection of two or more.
#' @return A data frame with a row for each variable: `variable`, `label`, `vif`
#'   (Inf where it follows from the others) and `tolerance`; its attribute `complete` is
#'   the number of rows. It prints as a table.
#' @section Errors: `ableturn_error_one_item`, `ableturn_error_text_not_numbers`.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' collinearity(book, c(wait_min, hours, household, children))
#' @export
collinearity <- function(book, vars) {
  book <- as_book(book)
  names <- select_vars(book, rlang::enquo(vars))
  if (length(names) < 2) fail("one-predictor", name = names)
  check_numbers(names, world_of(book))
  matrix <- do.call(cbind, lapply(self_named(names), function(name) finite_numbers(values_of(book, name))))
  matrix <- matrix[stats::complete.cases(matrix), , drop = FALSE]
  if (nrow(matrix) < length(names) + 2) fail("few-complete", rows = counted(nrow(matrix), "row"))
  vif <- vapply(seq_along(names), function(i) inflation(matrix[, i], matrix[, -i, drop = FALSE]), 0)
  out <- data.frame(variable = names, label = vapply(names, function(v) meaning_in(book, v)$label %||% "", ""),
    vif = vif,
    tolerance = 1 / vif, row.names = NULL)
  as_table(out, "ableturn_collinearity", complete = nrow(matrix),
    trap = trapped_sources(names, matrix, book))
}

inflation <- function(x, others) {
  total <- sum((x - mean(x))^2)
  left <- sum(stats::lm.fit(cbind(1, others), x)$residuals^2)
  if (total == 0 || left / total < 1e-12) Inf else total / left
}

# Variables all of whose levels are in the set: their dummies add up to one.
trapped_sources <- function(names, matrix, book) {
  dummies <- names[verb_of(book, names) == "dummy"]
  sources <- vapply(dummies, function(name) derived_in(book, name)$from[1], "")
  Filter(function(source) {
    columns <- matrix[, dummies[sources == source], drop = FALSE]
    ncol(columns) > 1 && all(columns %in% 0:1) && all(rowSums(columns) == 1)
  }, unique(sources))
}
