#' Cross one variable with another
#'
#' Counts every combination of the values of two variables, missing answers
#' included by their reasons, so that any contradiction shows. With one derived
#' variable, its source is put beside it.
#'
#' @param book A turnbook, or a data frame.
#' @param row,column Variables; with `row` alone, a derived variable made from one source.
#' @return A data frame with a row for each combination that occurs: `row`,
#'   `row_label`, `row_missing`, `column`, `column_label`, `column_missing`,
#'   `rows`. It prints as a table.
#' @section Errors: Class `ableturn_error` for unknown variables.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_recode(book, crossings, as = "rider2",
#'   becomes(0, 0, label = "Non-rider"), the_rest(1, label = "Rider"))
#' cross(book, crossings, rider2)
#' @export
cross <- function(book, row, column = NULL) {
  book <- as_book(book)
  second <- rlang::enquo(column)
  row <- select_vars(book, rlang::enquo(row), "row")[1]
  if (!rlang::quo_is_null(second)) {
    return(cross_two(book, row, select_vars(book, second, "column")[1]))
  }
  from <- if (is_derived(book, row)) held(book, "columns")[[row]]$from
  if (length(from) != 1) fail("cross-one", name = row)
  cross_two(book, from, row)
}

cross_two <- function(book, row, column) {
  a <- cross_levels(book, row)
  b <- cross_levels(book, column)
  pair <- (a$place - 1) * nrow(b$levels) + b$place
  seen <- sort(unique(pair))
  i <- (seen - 1) %/% nrow(b$levels) + 1
  j <- (seen - 1) %% nrow(b$levels) + 1
  out <- data.frame(
    row = a$levels$value[i], row_label = a$levels$label[i], row_missing = a$levels$missing[i],
    column = b$levels$value[j], column_label = b$levels$label[j], column_missing = b$levels$missing[j],
    rows = tabulate(match(pair, seen), length(seen))
  )
  structure(out, class = c("ableturn_cross", "data.frame"), vars = c(row, column))
}

# Valid values in their order, then the kinds of missing answers.
cross_levels <- function(book, name) {
  column <- column_in(book, name)
  values <- sort_values(unique(column$x[!is.na(column$x)]))
  place <- match(column$x, values)
  place[is.na(column$x)] <- length(values) + column$why
  label <- c(label_of(values, meaning_in(book, name)$codes) %|% "", rep("", length(column$kinds)))
  levels <- data.frame(
    value = c(show_value(values), column$kinds), label = label,
    missing = rep(c(FALSE, TRUE), c(length(values), length(column$kinds)))
  )
  list(levels = levels, place = place)
}
