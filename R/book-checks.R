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
  came <- book
  book <- as_book(book)
  need_given(condition)
  text <- formula_of(rlang::enexpr(condition), book, parent.frame())
  as_given(hold_check(book, text, check_text(label, "label")), came)
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
  check_turn(turn)
  make_columns(book, turn, learned %||% list())
}

check_result <- function(made) {
  checked <- made$columns$checked
  holds <- checked$counts$rows[1]
  fails <- checked$counts$none
  c(holds = holds, fails = fails, open = made$receipt$rows - holds - fails)
}

# The rows that fail, by their identifiers where the book has them.
ids_of <- function(book, made) {
  id <- info_of(book)$id
  if (is.null(id)) return(paste("row", rows_that_fail(made, book), recycle0 = TRUE))
  if (!made$columns$checked$counts$none) return(character())
  at <- also_knowing(site_of(book), made$columns)
  # none of more rows than are fetched at once
  found <- counts_at(at, list(as_it_came(id)), call("==", as.name("checked"), 0),
    most = cells_at_once)
  if (is.null(found)) character() else paste(id, show_value(found$keys[[1]]))
}

#' @rdname must_hold
#' @export
checks <- function(book) {
  book <- as_book(book)
  entries <- check_entries(book)
  made <- lapply(entries, function(e) checked_column(book, e$formula, e$learned))
  counts <- vapply(made, function(one) as.double(check_result(one)),
    c(holds = 1, fails = 1, open = 1))
  rows <- function(what) as_row_counts(if (length(made)) counts[what, ] else integer())
  out <- data.frame(
    condition = vapply(entries, `[[`, "", "formula"), label = vapply(entries,
      function(e) e$label %||% "", ""),
    holds = rows("holds"), fails = rows("fails"), open = rows("open"), row.names = NULL
  )
  as_table(out, "ableturn_checks", rows = lapply(made, rows_that_fail, book = book),
    named = lapply(made, ids_of, book = book))
}

rows_that_fail <- function(made, book) {
  if (site_can(site_of(book), "row numbers")) which(made$columns$checked$x %in% 0L) else integer()
}

# The conditions of checks that fail, with their rows.
failing_checks <- function(book) {
  if (!length(check_entries(book))) return(NULL)
  all <- checks(book)
  setNames(all$fails, all$condition)[all$fails > 0]
}
