#' Write columns to a CSV file
#'
#' Originals are written exactly as they came, derived columns in the shortest
#' form that reads back the same, in the order asked for. The file appears whole
#' or not at all.
#'
#' @param book A turnbook.
#' @param path The file to write, ending in `.csv`.
#' @param columns The columns, a tidyselect selection; left out, all of them.
#' @param values `"codes"`, or `"labels"` to write value labels.
#' @param missing `"codes"` writes the originals' declared missing codes as they
#'   came, `"na"` leaves them empty.
#' @param overwrite Replace a file that exists.
#' @param ... Not used; the arguments after it are written in full.
#' @return The path, invisibly.
#' @section Errors: `ableturn_error_file_exists`, `ableturn_error_file_unwritable`.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"), id = person)
#' write_data(book, tempfile(fileext = ".csv"), columns = c(person, age))
#' @export
write_data <- function(book, path, columns = NULL, ..., values = "codes", missing = "codes",
                       overwrite = FALSE) {
  refuse_dots(...)
  book <- as_book(book)
  chosen <- rlang::enquo(columns)
  check_choice(values, "values", c("codes", "labels"))
  check_choice(missing, "missing", c("codes", "na"))
  names <- if (rlang::quo_is_null(chosen)) names(book) else select_vars(book, chosen, "columns")
  fields <- lapply(self_named(names), written_column, book = book, values = values, missing = missing)
  write_whole(path, overwrite, function(file) write_fields(fields, row_count(book), file))
}

written_column <- function(book, name, values, missing) {
  spelled <- held(book, "info")$spelling[[name]]
  as_came <- missing == "codes" && values == "codes"
  if (as_came && !is.null(spelled)) return(spelled)
  write_field(analysis_column(book, name, values == "labels", missing == "codes"))
}

write_fields <- function(fields, rows, file) {
  table <- structure(fields, class = "data.frame", row.names = .set_row_names(rows))
  readr::write_csv(table, file, na = "", progress = FALSE)
}
