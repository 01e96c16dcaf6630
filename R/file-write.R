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
#' @param rename New names in the file for derived columns: `c(st_2 = "st_2_r")`
#'   writes `st_2_r` under the name `st_2`. A source that would have the same name
#'   is left out, and that is said.
#' @param overwrite Replace a file that exists.
#' @param ... Not used; the arguments after it are written in full.
#' @return The path, invisibly.
#' @section Errors: `ableturn_error_file_exists`, `ableturn_error_file_unwritable`.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"), id = person)
#' write_data(book, tempfile(fileext = ".csv"), columns = c(person, age))
#' @export
write_data <- function(book, path, columns = NULL, ..., values = "codes", missing = "codes",
                       rename = NULL, overwrite = FALSE) {
  refuse_dots(...)
  book <- as_book(book)
  chosen <- rlang::enquo(columns)
  check_choice(values, "values", c("codes", "labels"))
  check_choice(missing, "missing", c("codes", "na"))
  names <- if (rlang::quo_is_null(chosen)) names(book) else select_vars(book, chosen, "columns")
  renamed <- renamed_columns(book, names, rename)
  fields <- lapply(renamed, written_column, book = book, values = values, missing = missing)
  write_whole(path, overwrite, function(file) write_fields(fields, row_count(book), file))
}

# The columns by the names they get in the file. A source gives way to what was made from it.
renamed_columns <- function(book, names, rename) {
  columns <- self_named(names)
  if (is.null(rename)) return(columns)
  if (!is.character(rename) || !is_named(rename)) fail("rename-form", got = describe_type(rename))
  lost <- setdiff(rename, intersect(names, derived_names(book)))
  if (length(lost)) fail("rename-what", name = lost)
  others <- setdiff(names, rename)
  taken <- intersect(base::names(rename), others)
  unrelated <- Filter(function(name) !name %in% held(book, "columns")[[rename[[name]]]]$reads, taken)
  if (length(unrelated)) fail("rename-taken", name = unrelated)
  base::names(columns)[match(rename, columns)] <- base::names(rename)
  twice <- unique(base::names(rename)[duplicated(base::names(rename))])
  if (length(twice)) fail("rename-taken", name = twice)
  told <- list(verb = "write", left_out = taken, rename = rename)
  if (length(taken)) show_receipt(new_receipt(told, list(), row_count(book)))
  columns[!columns %in% taken]
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
