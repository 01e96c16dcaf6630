#' State what variables mean
#'
#' On an original the statement holds from the start, so that everything made
#' from it is made again. On a derived variable it amends its turn. It is part
#' of the record: it is saved, replayed, and can be undone.
#'
#' @param book A turnbook, or a data frame.
#' @param vars The variables, a tidyselect selection.
#' @param label The variable's label.
#' @param codes Value labels: `c("Never" = 1, "Always" = 5)`.
#' @param missing Codes that are no answers, named by the reason:
#'   `c("Don't know" = 98, "Refused" = 99)`, or a range:
#'   `list("Not asked" = from(900))`.
#' @param level Level of measurement: `"nominal"`, `"ordinal"`, `"interval"` or
#'   `"ratio"`.
#' @param limits Theoretical limits: `c(1, 5)`.
#' @param high,low What a high, or a low, value stands for.
#' @param unit Unit of measurement.
#' @param note A note.
#' @param ... Not used; all arguments are written in full.
#' @return The book.
#' @section Errors: Class `ableturn_error`, for values without names, twice the
#'   same code, or limits in the wrong order.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"), id = person)
#' book <- define(book, crossings, missing = c("Don't know" = 98, "Refused" = 99))
#' @export
define <- function(book, vars, ..., label = NULL, codes = NULL, missing = NULL, level = NULL,
                   limits = NULL, high = NULL, low = NULL, unit = NULL, note = NULL) {
  refuse_dots(...)
  book <- as_book(book)
  vars <- select_vars(book, rlang::enquo(vars))
  meaning <- check_meaning(label, codes, missing, level, limits, high, low, unit, note)
  if (!length(meaning)) fail("define-nothing", name = vars)
  define_vars(book, vars, meaning)
}

define_vars <- function(book, vars, meaning) {
  entry <- list(type = "define", vars = vars, meaning = meaning)
  refuse_kinds_of_derived(book, vars, meaning)
  book <- with_parts(book, log = c(held(book, "log"), list(entry)))
  book <- set_meanings(book, intersect(vars, original_names(book)), meaning)
  remade <- remake(book, vars)
  keep_sheet(held(remade, "info")$sheet, remade)
  show_definition(remade, vars, meaning)
  remade
}

refuse_kinds_of_derived <- function(book, vars, meaning) {
  derived <- intersect(vars, derived_names(book))
  if (length(derived) && length(meaning$missing)) fail("missing-derived", name = derived)
}

show_definition <- function(book, vars, meaning) {
  counts <- lapply(vars, function(name) {
    counts <- count_kinds(column_in(book, name))
    counts[names(counts) %in% names(meaning$missing)]
  })
  names(counts) <- vars
  turn <- list(verb = "define", makes = vars, users = users_of(book, vars))
  show_receipt(new_receipt(turn, counts, row_count(book)))
}
