#' @include base-fail.R
NULL

#' Read a table from a file
#'
#' Spreadsheets (`.xlsx` by the package readxl, `.ods`), Parquet (nanoparquet), records in JSON,
#' a record in JSON on each line, and tables of a Data Package are told by their bytes or
#' their ending. All other files are tables with separators: comma, semicolon, tab or bar between
#' the fields, a header, UTF-8 (with or without a byte-order mark), Latin-1, Windows-1252 or UTF-16;
#' as it is, packed by gzip, bzip2 or xz, or inside a zip file. A column is a number only if all its
#' values are plain numbers without leading zeros; `TRUE`/`FALSE` and ISO dates are
#' read as such; everything else is text, as it stands. Empty fields are blank;
#' so is `NA` in a column where it is all that keeps it from being one of numbers or dates, and
#' where it stands without quotes in a column of texts in quotes, as programs write it for no
#' answer; in quotes it is an answer. In a column of texts without quotes nothing tells: there `NA`
#' is taken for blank (among short codes in capitals for an answer, a country), and that is told,
#' as are `N/A`,
#' `NULL`, `.` and `-`, which are taken for answers. Say what they are by `blank` in `reading`.
#'
#' What else is typed in another way is read where just one way fits all texts of a column: numbers
#' with a decimal comma, marks at the thousands or percent signs, dates with the day or the month
#' first, with or without a time, moments with their time zone (told in UTC then). Where two ways
#' fit (03.04.2021; 1,234), the column stays text and is told: say in `reading` which it is.
#'
#' A file of R's own (`.rds`) is not opened, as it can run code when it is: if you trust where it
#' comes from, open it yourself and give the data frame, `turnbook(readRDS("survey.rds"))`.
#'
#' @param path The file.
#' @param reading How the file is to be read, where that is not plain to see: a list with any of
#'   - `separator`: `","`, `";"`, `"\t"` or `"|"`;
#'   - `encoding`: `"UTF-8"`, `"Latin-1"`, `"Windows-1252"` or `"UTF-16"`;
#'   - `skip`: how many lines stand above the line of names, or the sign that these begin with,
#'     such as `"#"`;
#'   - `second_line`: where a second line under the names is no row of data, `"labels"` to take
#'     it for the labels of the variables, or `"left out"`; one that looks so is told on opening;
#'   - `decimal`: `","` or `"."`, the decimal mark of all numbers in the file;
#'   - `dates`: `"day first"` or `"month first"`;
#'   - `blank`: texts that stand for a blank answer in every column, such as `c("NA", "-")`;
#'     `character()` for none but empty fields;
#'   - `table`: which table of a file that holds several;
#'   - `columns`: ways to read single columns, as `read` of [define()] has them:
#'     `c(cost = "decimal comma")`; `character()` for none: no way is looked for then.
#' @return A data frame. How the file was read is in its attribute `reading`.
#' @section Errors: `ableturn_error_file`, `ableturn_error_ragged`,
#'   `ableturn_error_column_twice` and others of class `ableturn_error`, which
#'   name the line.
#' @examples
#' head(read_data(demo_file("status-score.csv")))
#' @export
read_data <- function(path, reading = NULL) {
  stated <- c(check_stated_reading(reading), values = TRUE)
  table <- in_plain_settings(read_settled(path, stated))
  columns <- lapply(self_named(setdiff(names(table$ways), table$values)), function(name) {
    read_texts_as(trimws(show_value(table$texts(name))), table$ways[[name]])
  })
  tell_opening(length(table$data[[1]]), ways = table$shown, asked = table$asked,
    mixed = attr(table$data, "reading")$mixed, signs = attr(table$data, "reading")$signs)
  table$data[names(columns)] <- columns
  table$data
}

# A table whose columns still hold what is typed, and what is known of how: see settle_ways().
# `texts(name)` gives the texts of a column in the file; `shown`, one text of each column that is
# read in some way; `values`, the columns that were read so at once; `ascii`, whether all letters
# are known to be of ASCII.
read_settled <- function(path, stated, format = format_to_read(path)) {
  check_readable(path)
  data <- read_steady(path, function() format$read(path, stated))
  if (is.null(attr(data, "reading")$format)) attr(data, "reading")$format <- format$name
  data <- with_labels_of_line(data, stated)
  if (format$typed) stated$columns <- stated$columns %||% character()
  spelling <- attr(data, "spelling")
  texts <- function(name) spelled_in_file(data[[name]], spelling[[name]])
  comma_file <- identical(attr(data, "reading")$sep, ";")
  known <- attributes(data)[c("commas", "ascii")]
  for (aside in c("commas", "ascii")) attr(data, aside) <- NULL
  settled <- settle_ways(data, stated, comma_file, texts, names(known$commas))
  settled$ascii <- known$ascii
  settled$values <- Filter(function(name) is.numeric(data[[name]]), names(known$commas))
  settled$texts <- texts
  settled$shown <- lapply(self_named(names(settled$ways)), function(name) {
    sure <- name %in% names(known$commas)
    list(way = settled$ways[[name]],
      example = if (sure) known$commas[[name]] else
        example_read(texts(name), settled$ways[[name]]))
  })
  above <- attr(data, "reading")$likely_labels
  settled$asked <- compact(Map(function(ways, name) {
    open_question(ways, texts(name), above[name])
  }, settled$asked, names(settled$asked)))
  settled
}

# The file must be the same before and after.
read_steady <- function(path, read) {
  state <- function() file.info(absolute_path(path))[c("size", "mtime")]
  before <- state()
  data <- read()
  if (!identical(before, state())) fail("file-changed", path = path)
  data
}

# The type of a column: that of all its values, and whether it is spelled otherwise in the file.
# Where its texts are few, they are judged, and not the rows.
guess_column <- function(text, na = "", type_of = guess_type) {
  index <- index_column(text, integer(), 1L)
  if (is.null(index)) return(guess_texts(text, na, type_of))
  found <- guess_texts(index$values, na, type_of)
  # the last cell is of what is missing, whether or not some row is
  list(x = indexed_values(index$codes, found$x), differs = found$differs)
}

guess_texts <- function(text, na, type_of = guess_type) {
  came <- text
  for (blank in na) text[which(text == blank)] <- NA
  x <- type_of(text)
  number <- is.numeric(x) && !is.object(x)
  same <- if (number) spelled_as_written(x, came) else identical(write_field(x), came)
  list(x = x, differs = !same)
}

guess_type <- function(text) {
  given <- text[!is.na(text)]
  if (!length(given)) return(rep(NA, length(text)))
  some <- given[some_rows(length(given))]
  for (type in list(text_as_numbers, as_truths, as_dates)) {
    x <- if (!is.null(type(some, some))) type(text, given)
    if (!is.null(x)) return(x)
  }
  text
}

# Whether NA is all that stands in a column, or all that keeps it from being numbers or dates.
says_na <- function(text) {
  other <- unique(text[!text %in% c("NA", "")])
  !any(!is.na(other)) || !is.character(guess_type(other))
}

# NA among short codes in capitals: a country, initials.
holds_code_na <- function(text) {
  other <- unique(text[!text %in% c("NA", "", NA)])
  length(other) > 0 && all(grepl("^[A-Z]{2,3}$", other))
}

text_as_numbers <- function(text, given) {
  numbers <- plain_numbers(text)
  if (!is.null(numbers)) as_code(numbers)
}

as_truths <- function(text, given) if (all(given %in% c("TRUE", "FALSE"))) text == "TRUE"

as_dates <- function(text, given) {
  if (!all(grepl("^[0-9]{4}-[0-9]{2}-[0-9]{2}$", given))) return(NULL)
  dates <- as.Date(text, format = "%Y-%m-%d")
  if (!anyNA(dates[!is.na(text)])) dates
}

write_field <- function(x) {
  if (inherits(x, "Date")) format(x) else show_value(x)
}

# What can be wrong with the tables, codebooks and columns of files.
word_errors(list(
  "reading-frame" = c("`reading` says how a file is read, and these data are a data frame.",
    "Leave it out, or say what a column holds: define(book, cost, read = \"decimal comma\")."),
  "bad-blank" = c("`blank` must be texts that stand for a blank answer, not {got}.",
    "Write blank = c(\"NA\", \"-\")."),
  "field-unknown" = c(
    "A turn of kind {verb} holds `{field}`, which a turn sheet cannot hold. Nothing was saved.",
    "This is a fault of the package: please report it."),
  "writing-unused" = c("`separator` and `decimal` say nothing about a file such as {path}.",
    "Leave them out, or write a .csv file."),
  "writing-clash" = c("{sign} cannot both part the fields and be the decimal mark.",
    "Write separator = \";\", decimal = \",\"."),
  "rename-form" = c("`rename` must be names for columns, not {got}.",
    "Write rename = c(st_2 = \"st_2_r\")."),
  "rename-what" = c("{name} is to be renamed, but is no derived column among those to write.",
    "Only derived columns are renamed; originals are written as they came."),
  "reasons-taken" = c("There is a column {name} already, which the reasons would be named.",
    "Leave that column out: columns = ...",
    desk = "Leave that column out."),
  "rename-taken" = c("The file would have two columns named {name}.",
    "Choose another name, or leave one out with `columns`."),
  "working-by-id" = c("The rows of a table in a database have no order, so none can be named.",
    "Name them by {name}: show_working(book, strain, id = 17).",
    desk = "Type the identifier of a row."),
  "no-such-row" = c("There is no row {rows}; the rows run from 1 to {most}.",
    "Give positions, or id = ...",
    desk = "Give a number from 1 to {most}."),
  "no-id" = c("The data have no row identifier.",
    "Give positions: rows = 17; or open the data with id = ...",
    desk = "Open the data with a row identifier."),
  "no-such-id" = c("No row has the {name} {value}.", "Check the identifier with look().",
    desk = "Check the identifier."),
  "codebook-pair" = c("An entry of {key} is no value with its label.",
    "Write {{\"value\": 1, \"label\": \"Never\"}}.")
))

# The input cannot be read.
word_errors(list(
  "ragged" = c("{path}, line {line}: {actual} where the header has {expected} ({lines} such).",
    "Look for a missing or extra separator, or an unclosed quote, in that line."),
  "short-header" = c(
    "{path} has {names} names in its header, and {fields} fields in the rows below.",
    paste("Put the missing name where it belongs, or begin the header with a separator if the",
      "first fields are names of rows; or take away a separator that ends each row.")),
  "line-endless" = c("{path} holds a line of more than 16 million letters, or an open quote.",
    "Look at the quotes of this file."),
  "open-quote" = c("{path}, line {line}: a quote is opened and never closed.",
    "Close it, or take it out."),
  "after-quote" = c(
    "{path}, line {line}: something follows the quote that closes a field begun in line {begun}.",
    "Double the quotes inside a field, or put a separator after it."),
  "sheet-columns" = c("The data lack columns that {path} reads: {names}.",
    paste("If they have other names here: apply_turns(..., rename = c(age = \"AGE_YRS\")). To",
      "make the others: skip = TRUE."),
    sheet = "If they have other names here: --rename age=AGE_YRS. To make the others: --skip.",
    desk = "Tell which column stands for each, or leave out what needs them."),
  "sheet-rename-taken" = c("The data have a column {name} already.",
    "Leave it out of `rename`, or out of the data."),
  "codebook" = c("The codebook {path} cannot be used: {why}.",
    paste("It must be a Data Package descriptor in JSON, a DDI codebook in XML, or a table with",
      "columns variable, label, code, code label, missing."))
), unread = TRUE)

# Files that the layers below ask for by their names.

#' @export
open_data.character <- function(data, reading = NULL, table = NULL) {
  if (!is.null(table)) fail("table-frame")
  stated <- check_stated_reading(reading)
  check_readable(data)
  note_opened(data)
  format <- format_to_read(data)
  packed <- if (is.null(stated$table) && !is.null(format$with_turns)) {
    format$with_turns(data, stated)
  }
  if (!is.null(packed)) stated <- packed$stated
  table <- in_plain_settings(read_settled(data, stated, format))
  stated$unpacked <- NULL
  read <- table$data
  out <- list(
    data = read, file = data, name = file_variable(data, names(read)),
    finish = packed$finish %||% identity, altered = packed$altered,
    reading = attr(read, "reading"), spelling = attr(read, "spelling"), stated = stated,
    ways = table$ways, shown = table$shown, asked = table$asked, ascii = table$ascii
  )
  for (aside in c("reading", "spelling")) attr(out$data, aside) <- NULL
  out
}

#' @export
open_rules.character <- function(rules) {
  note_opened(rules)
  read_data(rules)
}

# A short name for the data in scripts.
file_variable <- function(path, taken) if ("survey" %in% taken) "survey_data" else "survey"

#' @export
open_instrument.character <- function(file) {
  check_readable(file)
  note_opened(file)
  lines <- file_lines(file)
  raw <- parse_yaml(paste(lines, collapse = "\n"), function(why) {
    fail("instrument-yaml",
      path = file, why = why)
  })
  if (is.list(raw$scales)) raw$scales <- lapply(raw$scales, with_norm_file, path = file)
  raw
}

# A norm table may stand in a CSV file beside the instrument file.
with_norm_file <- function(scale, path) {
  if (is.list(scale) && is.character(scale$norm) && length(scale$norm) == 1) {
    scale$norm <- as.list(open_rules(file_beside(scale$norm, dirname(path), "file-outside", path)))
  }
  scale
}
