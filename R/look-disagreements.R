#' List the rows that coders disagree about
#'
#' The rows in which at least two coders gave a code and not all codes are the same.
#'
#' @param book A turnbook, or a data frame.
#' @param coders The variables of the coders, a tidyselect selection of two or more.
#' @param ... Not used.
#' @return A data frame with a row for each such row: the row identifier (or `row`, its number,
#'   where the book has none), and the codes, a column for each coder. It prints as a table. From a
#'   table of
#'   a database at most 10,000 rows are fetched; how many there are is its attribute `rows`.
#' @section Errors: `ableturn_error_one_coder`; `ableturn_error_no_id` for a table of a database
#'   without a row identifier.
#' @seealso [turn_consensus()]
#' @examples
#' third <- turnbook(demo_file("ferry-wave3.csv"),
#'   codebook = demo_file("ferry-wave3.codebook.json"), id = person)
#' disagreements(third, c(why_less_a, why_less_b))
#' @export
disagreements <- function(book, coders, ...) {
  refuse_dots(...)
  book <- as_book(book)
  names <- select_vars(book, rlang::enquo(coders), "coders")
  if (length(names) < 2) fail("one-coder", name = names)
  id <- info_of(book)$id
  site <- site_of(book)
  test <- codes_differ(lapply(names, as.name))
  rows <- rows_where(site, test)
  out <- if (site_can(site, "row numbers")) rows_that_differ_here(site, names, test, id) else
    rows_that_differ_there(site, names, test, id)
  as_table(out, "ableturn_disagreements", rows = rows, coders = names, of = row_count(book),
    codes = lapply(self_named(names), function(name) meaning_in(book, name)$codes))
}

most_disagreements <- 10000

# Two of them were given and are not the same.
codes_differ <- function(x) {
  any_of_tests(lapply(utils::combn(length(x), 2, simplify = FALSE), function(pair) {
    call("==", tally_node(call("!=", x[[pair[1]]], x[[pair[2]]])), 1)
  }))
}

rows_that_differ_here <- function(site, names, test, id) {
  at <- which(as_truth(full_length(evaluate(test, site), site$rows)))
  columns <- lapply(self_named(names), function(name) column_of(site$variable(name))$x[at])
  first <- if (is.null(id)) list(row = at) else setNames(list(column_of(site$variable(id))$x[at]),
    id)
  structure(c(first, columns[setdiff(names, id)]), class = "data.frame",
    row.names = .set_row_names(length(at)))
}

rows_that_differ_there <- function(site, names, test, id) {
  if (is.null(id)) fail("no-id")
  found <- counts_at(site, lapply(c(id, names), as.name), test, most = most_disagreements)
  if (is.null(found)) fail("disagreements-many", most = grouped(most_disagreements))
  structure(setNames(found$keys, c(id, names)), class = "data.frame",
    row.names = .set_row_names(length(found$rows)))
}
