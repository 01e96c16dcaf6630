#' Cross one variable with another
#'
#' Counts every combination of the values of two variables, missing answers
#' included by their reasons, so that any contradiction shows. With one derived
#' variable, its source is put beside it.
#'
#' @param book A turnbook, or a data frame.
#' @param row,column Variables, each a tidyselect selection; with `row` alone, derived
#'   variables that are made from one source.
#' @param ... Not used.
#' @return A data frame with a row for each combination that occurs: `row`,
#'   `row_label`, `row_missing`, `column`, `column_label`, `column_missing`,
#'   `rows`; for several pairs also `row_variable` and `column_variable`. It prints
#'   as a table for each pair.
#' @section Errors: Class `ableturn_error` for unknown variables.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_recode(book, crossings, as = "rider2",
#'   becomes(0, 0, label = "Non-rider"), the_rest(1, label = "Rider"))
#' cross(book, crossings, rider2)
#' @export
cross <- function(book, row, column = NULL, ...) {
  refuse_dots(...)
  book <- as_book(book)
  on.exit(let_go_of_copies(book))
  second <- rlang::enquo(column)
  rows <- select_vars(book, rlang::enquo(row), "row")
  if (rlang::quo_is_null(second)) {
    sources <- vapply(rows, one_source, "", book = book)
    return(cross_tables(Map(cross_two, sources, rows, MoreArgs = list(book = book))))
  }
  columns <- select_vars(book, second, "column")
  pairs <- expand.grid(column = columns, row = rows, stringsAsFactors = FALSE)
  cross_tables(Map(cross_two, pairs$row, pairs$column, MoreArgs = list(book = book)))
}

one_source <- function(name, book) {
  from <- if (is_derived(book, name)) derived_in(book, name)$from
  if (length(from) == 1) from else fail("cross-one", name = name)
}

# Several tables under each other, the variables named in front.
cross_tables <- function(tables) {
  tables <- unname(tables)
  if (length(tables) == 1) return(tables[[1]])
  named <- lapply(tables, function(table) {
    vars <- attr(table, "vars")
    cbind(row_variable = vars[1], column_variable = vars[2], as.data.frame(table))
  })
  as_table(do.call(rbind, named), "ableturn_cross", tables = tables)
}

cross_two <- function(row, column, book) {
  site <- also_knowing(site_of(book), list(row = variable_in(book, row),
    column = variable_in(book, column)))
  at <- nearest_site(site, c("row", "column"))
  found <- counts_at(at, list(as.name("row"), reason_node("row"), as.name("column"),
    reason_node("column")), most = most_crossed)
  if (is.null(found)) fail("answers-many", name = paste(row, "with", column),
    most = grouped(most_crossed))
  a <- levels_of_keys(found$keys[1:2], variable_in(book, row))
  b <- levels_of_keys(found$keys[3:4], variable_in(book, column))
  order <- order(a$place, b$place)
  i <- a$place[order]
  j <- b$place[order]
  out <- data.frame(
    row = a$levels$value[i], row_label = a$levels$label[i], row_missing = a$levels$missing[i],
    column = b$levels$value[j], column_label = b$levels$label[j],
    column_missing = b$levels$missing[j], rows = as_row_counts(found$rows[order])
  )
  as_table(out, "ableturn_cross", vars = c(row, column))
}

most_crossed <- 1e6

# The levels of a variable by which rows were counted, and the place of each group among them.
levels_of_keys <- function(keys, variable) {
  column <- column_of(variable)
  levels_of_column(reasoned_column(keys[[1]], as.integer(keys[[2]]), column$kinds),
    variable$meaning$codes)
}

# Valid values in their order, then the kinds of missing answers.
levels_of_column <- function(column, codes) {
  values <- category_order(unique(column$x[!is.na(column$x)]), codes)
  place <- match(column$x, values)
  place[is.na(column$x)] <- length(values) + column$why
  label <- c(telling_label(values, codes) %|% "",
    rep("", length(column$kinds)))
  levels <- data.frame(
    value = c(show_value(values), column$kinds), label = label,
    missing = rep(c(FALSE, TRUE), c(length(values), length(column$kinds)))
  )
  list(levels = levels, place = place)
}
