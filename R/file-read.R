#' Read a table from a file
#'
#' Comma, semicolon or tab between the fields, a header, UTF-8 (with or without
#' a byte-order mark) or Latin-1. A column is a number only if all its values
#' are plain numbers without leading zeros; `TRUE`/`FALSE` and ISO dates are
#' read as such; everything else is text, as it stands. Empty fields are blank;
#' so is `NA` in a file where it is all that keeps some column from being one of numbers.
#'
#' @param path The file.
#' @return A data frame. How the file was read is in its attribute `reading`.
#' @section Errors: `ableturn_error_file`, `ableturn_error_ragged`,
#'   `ableturn_error_column_twice` and others of class `ableturn_error`, which
#'   name the line.
#' @examples
#' head(read_data(demo_file("status-score.csv")))
#' @export
read_data <- function(path) {
  check_readable(path)
  reading <- how_to_read(path)
  text <- read_small_table(path, reading) %||% read_text_table(path, reading)
  reading$na <- if (says_na(text)) c("", "NA") else ""
  typed <- lapply(text, function(column) guess_column(column, reading$na))
  data <- lapply(typed, `[[`, "x")
  spelling <- Map(function(t, raw) if (t$differs) raw, typed, text)
  spelling <- spelling[!vapply(spelling, is.null, NA)]
  structure(data,
    class = "data.frame", row.names = .set_row_names(length(text[[1]])),
    reading = reading, spelling = spelling
  )
}

#' @export
open_data.character <- function(data) {
  read <- read_data(data)
  out <- list(
    data = read, file = data, name = file_variable(data, names(read)),
    reading = attr(read, "reading"), spelling = attr(read, "spelling")
  )
  attributes(out$data)[c("reading", "spelling")] <- NULL
  out
}

#' @export
open_rules.character <- function(rules) read_data(rules)

# A short name for the data in scripts.
file_variable <- function(path, taken) if ("survey" %in% taken) "survey_data" else "survey"

# Encoding and delimiter, from the file's own bytes.
how_to_read <- function(path) {
  bytes <- readBin(path, "raw", file.size(path))
  if (any(bytes == 0)) fail("file-binary", path = path)
  refuse_open_quote(bytes, path)
  bom <- length(bytes) >= 3 && all(bytes[1:3] == as.raw(c(0xef, 0xbb, 0xbf)))
  utf8 <- validUTF8(rawToChar(bytes))
  header <- first_line(bytes)
  list(
    encoding = if (utf8) "UTF-8" else "latin1", bom = bom, sep = find_separator(header),
    several = grepl("[,;\t]", header, useBytes = TRUE)
  )
}

# A quote that opens a field and is never closed would swallow the rest of the file.
refuse_open_quote <- function(bytes, path) {
  quotes <- which(bytes == as.raw(0x22))
  if (length(quotes) %% 2 == 0) return(invisible())
  last <- quotes[length(quotes)]
  opens <- last == 1 || bytes[last - 1] %in% charToRaw(",;\t\n\r")
  if (opens) fail("open-quote", path = path, line = sum(bytes[seq_len(last)] == as.raw(10)) + 1)
}

first_line <- function(bytes) {
  ends <- which(utils::head(bytes, 1e6) %in% as.raw(c(10, 13)))
  rawToChar(bytes[seq_len(if (length(ends)) ends[1] - 1 else length(bytes))])
}

find_separator <- function(header) {
  bare <- gsub('"[^"]*"', "", header, useBytes = TRUE)
  counts <- vapply(c(",", ";", "\t"), function(s) {
    lengths(regmatches(bare, gregexpr(s, bare, fixed = TRUE, useBytes = TRUE)))
  }, 1L)
  names(counts)[which.max(counts)]
}

# Every field as text; readr knows the format, we judge what it found.
read_text_table <- function(path, reading) {
  table <- withCallingHandlers(
    readr::read_delim(path,
      delim = reading$sep, col_types = readr::cols(.default = readr::col_character()),
      locale = readr::locale(encoding = reading$encoding), name_repair = "minimal",
      na = "", trim_ws = FALSE, progress = readr::show_progress(), show_col_types = FALSE, lazy = FALSE,
      skip_empty_rows = reading$several
    ),
    warning = function(w) tryInvokeRestart("muffleWarning")
  )
  check_shape(table, path)
  lapply(as.list(table), enc2utf8)
}

check_shape <- function(table, path) {
  twice <- unique(names(table)[duplicated(names(table))])
  if (length(twice)) fail("column-twice", name = twice)
  empty <- which(is.na(names(table)) | !nzchar(trimws(names(table))))
  if (length(empty)) fail("column-unnamed", place = empty)
  ragged <- readr::problems(table)
  ragged <- ragged[grepl("columns", ragged$expected), ]
  if (nrow(ragged)) {
    fail("ragged", path = path, line = ragged$row[1], expected = ragged$expected[1],
      actual = ragged$actual[1], lines = nrow(ragged))
  }
}

# The type of a column: that of all its values, and whether it is spelled otherwise in the file.
guess_column <- function(text, na = "") {
  came <- text
  text[text %in% na] <- NA
  x <- guess_type(text)
  list(x = x, differs = !identical(write_field(x), came))
}

guess_type <- function(text) {
  given <- text[!is.na(text)]
  if (!length(given)) return(rep(NA, length(text)))
  for (type in list(text_as_numbers, as_truths, as_dates)) {
    x <- type(text, given)
    if (!is.null(x)) return(x)
  }
  text
}

# In some files NA stands for a blank answer: it is all that keeps a column from being numbers.
says_na <- function(columns) {
  for (text in columns) {
    if (!any(text %in% "NA")) next
    other <- text[!text %in% "NA"]
    if (any(!is.na(other)) && !is.character(guess_type(other))) return(TRUE)
  }
  FALSE
}

# Digits that are a name rather than a number: a leading zero, or more than a number can hold.
label_number <- "^[ \t]*[-+]?(0[0-9]|[0-9]{16})"

text_as_numbers <- function(text, given) {
  if (!all(grepl(plain_number, given)) || any(grepl(label_number, given))) return(NULL)
  as_code(as.numeric(text))
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
