#' State what must hold
#'
#' Your own check of the data, on the record: it is replayed with the turns, and
#' the rows for which it fails are shown. Nothing is changed or stopped. A row for
#' which the condition cannot be told, because an answer is missing, does not fail.
#'
#' @param book A turnbook, or a data frame.
#' @param condition A condition, as in [turn_flag()].
#' @param label What the check is for.
#' @return `must_hold()` gives the book. `checks()` gives a data frame with a row
#'   for each check: `condition`, `label`, `holds`, `fails` and `open` (cannot be
#'   told), in rows; its attribute `rows` holds the rows that fail.
#' @section Errors: Those of [turn_flag()].
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- must_hold(book, children <= household)
#' checks(book)
#' @export
must_hold <- function(book, condition, label = NULL) {
  book <- as_book(book)
  need_given(condition)
  text <- formula_text(tidy_node(rlang::enexpr(condition)))
  hold_check(book, text, check_text(label, "label"))
}

hold_check <- plainly(function(book, text, label = NULL, learned = NULL) {
  made <- checked_column(book, text, learned)
  entry <- list(type = "check", formula = text, label = label, learned = made$turn$learned)
  new <- with_parts(book, log = c(steps_of(book), list(entry)))
  told <- list(verb = "check", formula = text, label = label, result = check_result(made),
    id = ids_of(book, made))
  finish_step(new, book, list(type = "check", formula = text),
    new_receipt(told, list(), row_count(book)))
})

checked_column <- function(book, text, learned = NULL) {
  turn <- new_turn("flag", "checked", formula = text)
  made <- make_columns(book, turn, learned %||% list())
  c(made, list(x = made$columns$checked$x))
}

check_result <- function(made) {
  column <- made$columns$checked
  if (is_far(column)) {
    rows <- function(use) as.integer(sum(column$cells$rows[use]))
    value <- column$cells$values
    return(c(holds = rows(value %in% 1L), fails = rows(value %in% 0L), open = rows(is.na(value))))
  }
  c(holds = sum(made$x %in% 1L), fails = sum(made$x %in% 0L), open = sum(is.na(made$x)))
}

# The rows that fail, by their identifiers where the book has them.
ids_of <- function(book, made) {
  id <- info_of(book)$id
  if (is_on_site(book)) return(ids_in_cells(book, made$columns$checked, id))
  rows <- which(made$x %in% 0L)
  if (is.null(id)) paste("row", rows) else paste(id, show_value(original_in(book, id)[rows]))
}

# Where the rows are elsewhere: none of more rows than are fetched at once.
ids_in_cells <- function(book, checked, id) {
  if (is.null(id) || !any(checked$cells$values %in% 0L)) return(character())
  found <- groups_at_site(info_of(book)$site, book_with(book, guest, checked), list(as.name(id)),
    cells_at_once, call("==", as.name(guest), 0))
  if (is.null(found)) character() else paste(id, show_value(sort_values(found$keys[[1]])))
}

#' @rdname must_hold
#' @export
checks <- function(book) {
  book <- as_book(book)
  entries <- check_entries(book)
  made <- lapply(entries, function(e) checked_column(book, e$formula, e$learned))
  counts <- vapply(made, check_result, c(holds = 1L, fails = 1L, open = 1L))
  rows <- function(what) if (length(made)) counts[what, ] else integer()
  out <- data.frame(
    condition = vapply(entries, `[[`, "", "formula"), label = vapply(entries,
      function(e) e$label %||% "", ""),
    holds = rows("holds"), fails = rows("fails"), open = rows("open"), row.names = NULL
  )
  as_table(out, "ableturn_checks", rows = lapply(made, rows_that_fail),
    named = lapply(made, ids_of, book = book))
}

rows_that_fail <- function(made) {
  if (is_far(made$columns$checked)) integer() else which(made$x %in% 0L)
}

# The conditions of checks that fail, with their rows.
failing_checks <- function(book) {
  if (!length(check_entries(book))) return(NULL)
  all <- checks(book)
  setNames(all$fails, all$condition)[all$fails > 0]
}
