#' Write columns to a file
#'
#' Originals are written exactly as they came, those that are read from texts (by decimal comma, day
#' first) as the numbers and days that were read, derived columns in the shortest
#' form that reads back the same, in the order asked for. The file appears whole
#' or not at all.
#'
#' @param book A turnbook.
#' @param path A connection to a database, or the file to write, whose ending says how: `.csv`;
#'   `.tsv`, with tabs between the
#'   fields; `.xlsx` (by the package writexl) or `.ods` (zip), a spreadsheet with a sheet of the
#'   data and one of the codebook; `.parquet` (nanoparquet); `.rds`, a data frame for R; `.jsonl`,
#'   a record in JSON on each line.
#' @param columns The columns, a tidyselect selection; left out, all of them.
#' @param values `"codes"`, or `"labels"` to write value labels, or `"typed"` to write the texts of
#'   variables that are read (by decimal comma, day first) as they were typed, and not the numbers,
#'   days and moments that were read from them.
#' @param missing `"codes"` writes the originals' declared missing codes as they
#'   came, `"na"` leaves them empty, and `"reasons"` as well, with a column beside
#'   each derived variable that says why an answer is missing.
#' @param rename New names in the file for derived columns: `c(st_2 = "st_2_r")`
#'   writes `st_2_r` under the name `st_2`. A source that would have the same name
#'   is left out, and that is said.
#' @param formulas Some texts would be run as formulas by a spreadsheet that opens the file: those
#'   that begin with `=`, `+`, `-`, `@` or a tab and are no numbers. `"keep"` writes them as they
#'   are, since the file must give the data back unchanged to whoever reads it, and tells how many
#'   there are and where. `"mark"` puts an apostrophe before each, names of columns as well: for a
#'   file that goes into a spreadsheet.
#'   Other formats hold texts as texts, which no spreadsheet runs.
#' @param separator,decimal For `.csv`: what stands between the fields, `","`, `";"`, a tab or
#'   `"|"`, and the decimal mark, `"."` or `","`.
#' @param overwrite Replace a file, or a table, that exists. What the book came from is never
#'   replaced. A table on which something hangs (rights, comments, indexes, keys) is emptied and
#'   filled again, so that all of it is kept, where its columns stay the same; else it is refused
#'   with the list.
#' @param table,view Where `path` is a connection to a database: the name of the new table there,
#'   and whether it is to be a view, which works the variables out whenever it is read. It appears
#'   whole or not at all; in PostgreSQL also within a transaction that you have open. Of a book on a
#'   table of the same database no row leaves it.
#' @param ... Not used; the arguments after it are written in full.
#' @return The path, invisibly.
#' @section Errors: `ableturn_error_file_exists`, `ableturn_error_file_unwritable`,
#'   `ableturn_error_file_is_source`, `ableturn_error_table_is_source` and
#'   `ableturn_error_table_loses`.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"), id = person)
#' write_data(book, tempfile(fileext = ".csv"), columns = c(person, age))
#' @export
write_data <- function(book, path, columns = NULL, ..., values = "codes", missing = "codes",
                       rename = NULL, formulas = "keep", separator = NULL, decimal = ".",
                       overwrite = FALSE, table = NULL, view = FALSE) {
  refuse_dots(...)
  book <- as_book(book)
  need_given(path)
  chosen <- rlang::enquo(columns)
  names <- if (rlang::quo_is_null(chosen)) names(book) else select_vars(book, chosen, "columns")
  in_file <- list(values = values != "codes", missing = missing != "codes",
    formulas = formulas != "keep", separator = !is.null(separator), decimal = decimal != ".")
  if (inherits(path, "DBIConnection")) {
    refuse_idle(in_file, "writing-database")
    return(write_to_database(book, path, renamed_columns(book, names, rename), table, view,
      overwrite))
  }
  refuse_idle(list(table = !is.null(table), view = !isFALSE(view)), "writing-file", path)
  format <- format_to_write(path)
  check_not_source(path, book)
  check_choice(values, "values", value_ways)
  check_choice(missing, "missing", missing_ways)
  check_choice(formulas, "formulas", c("keep", "mark"))
  how <- check_writing(format, path, separator, decimal)
  how$codebook <- function() codebook_rows(book, renamed, values == "typed")
  renamed <- renamed_columns(book, names, rename)
  book <- local_book(book, names)
  fields <- lapply(renamed, written_column, book = book, values = values, missing = missing,
    spells = format$spells && decimal == ".")
  texts <- vapply(renamed, function(name) {
    values == "labels" || has_text(variable_in(book, name))
  }, NA)
  if (missing == "reasons") fields <- beside_each(fields, reason_columns(book, renamed))
  texts <- names(fields) %in% paste0(renamed, "_why") | names(fields) %in% names(renamed)[texts]
  how[c("came", "bare")] <- columns_as_came(book, renamed, values == "typed")
  if (format$cells) fields <- settled_formulas(fields, texts, formulas, row_count(book))
  if (values != "typed") tell_read(book, renamed)
  write_atomically(path, overwrite, function(put) format$write(fields, row_count(book), put, how))
}

# Of a book of a file the columns whose texts are written as they `came`, and those in which NA
# stands `bare`, without quotes.
columns_as_came <- function(book, renamed, typed) {
  info <- info_of(book)
  if (is.null(info$file)) return(list(NULL, NULL))
  made <- c(derived_names(book), if (!typed) Filter(function(name) is_read(book, name), renamed))
  lapply(list(info$reading$exact, info$reading$quoted_na), function(others) {
    names(renamed)[!renamed %in% c(made, others)]
  })
}

# What is written as it was read, and how many texts fitted no number or day, is told.
tell_read <- function(book, names) {
  names <- Filter(function(name) is_read(book, name), unname(names))
  if (!length(names)) return(invisible())
  unfit <- vapply(self_named(names), function(name) {
    sum(is_kind(column_of(variable_in(book, name)), "unreadable"))
  }, 1)
  told <- list(verb = "written as read", names = names, unfit = unfit[unfit > 0])
  show_receipt(new_receipt(told, list(), row_count(book)))
}

# Arguments that say nothing where this is written to.
refuse_idle <- function(given, error, path = NULL) {
  given <- names(given)[unlist(given)]
  if (length(given)) fail(error, argument = given[1], path = path)
}

# How a table with separators is to be written; other formats have none.
check_writing <- function(format, path, separator, decimal) {
  check_choice(decimal, "decimal", c(".", ","))
  if (!is.null(separator)) check_choice(separator, "separator", separators_known)
  if (!format$cells && (!is.null(separator) || decimal != ".")) {
    fail("writing-unused", path = basename(path))
  }
  used <- separator %||% if (ending_of(path) == "tsv") "\t" else ","
  if (used == decimal) fail("writing-clash", sign = decimal)
  list(separator = separator, decimal = decimal)
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
  unrelated <- Filter(function(name) !name %in% derived_in(book, rename[[name]])$reads, taken)
  if (length(unrelated)) fail("rename-taken", name = unrelated)
  base::names(columns)[match(rename, columns)] <- base::names(rename)
  twice <- unique(base::names(rename)[duplicated(base::names(rename))])
  if (length(twice)) fail("rename-taken", name = twice)
  told <- list(verb = "write", left_out = taken, rename = rename)
  if (length(taken)) show_receipt(new_receipt(told, list(), row_count(book)))
  columns[!columns %in% taken]
}

written_column <- plainly(function(book, name, values, missing, spells) {
  spelled <- info_of(book)$spelling[[name]]
  typed <- values == "typed" || !is_read(book, name)
  as_came <- spells && missing == "codes" && values != "labels" && typed
  if (as_came && !is.null(spelled)) return(spelled_in_file(original_in(book, name), spelled))
  keep <- missing == "codes"
  if (values != "labels") return(written_values(book, name, keep, typed))
  show_value(as_labels(labelled_values(book, name, keep), meaning_in(book, name)))
})

# A table with tabs between its fields, as lines of text.
tsv_lines <- function(table) {
  fields <- lapply(c(table, list()), function(column) enc2utf8(show_value(column)))
  text <- rawToChar(c(csv_bytes(as.list(names(table)), 1, 1, "\t"),
    csv_bytes(unname(fields), 1, nrow(table), "\t")))
  Encoding(text) <- "UTF-8"
  text
}

# What a spreadsheet would take for a formula: text that begins with one of these, also in their
# wide form or behind blanks that cannot be seen, and is no number.
runs_in_spreadsheet <- function(text) {
  sign <- "[=+@\t\r\uff1d\uff0b\uff0d\uff20\u2212-]"
  begins <- stringi::stri_detect_regex(text, paste0("^[ \u00a0\u200b\u2060\ufeff]*", sign))
  begins %in% TRUE & !grepl(plain_number, text)
}

met_formulas <- function(texts) texts[!is.na(texts) & runs_in_spreadsheet(texts)]

# Such texts, and such names of columns, are marked, or written as they are and counted; only
# columns of `texts` can hold them.
settled_formulas <- function(fields, texts, formulas, rows) {
  run <- lapply(fields[texts], function(text) met_formulas(unique(text)))
  run <- run[lengths(run) > 0]
  if (formulas == "mark") return(marked_formulas(fields, run))
  hits <- vapply(names(run), function(name) sum(fields[[name]] %in% run[[name]]), 1L)
  hits <- c("column names" = length(met_formulas(names(fields))), hits)
  hits <- hits[hits > 0]
  if (length(hits)) show_receipt(new_receipt(list(verb = "formulas", hits = hits), list(), rows))
  fields
}

# `run`: by name of the column, its texts that would be run.
marked_formulas <- function(fields, run) {
  mark <- function(text, which) ifelse(which, paste0("'", text), text)
  for (name in names(run)) fields[[name]] <- mark(fields[[name]], fields[[name]] %in% run[[name]])
  names(fields) <- mark(names(fields), runs_in_spreadsheet(names(fields)))
  fields
}
