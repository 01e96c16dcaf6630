#' Read a table from a file
#'
#' Comma, semicolon or tab between the fields, a header, UTF-8 (with or without
#' a byte-order mark) or Latin-1. A column is a number only if all its values
#' are plain numbers without leading zeros; `TRUE`/`FALSE` and ISO dates are
#' read as such; everything else is text, as it stands. Empty fields are blank;
#' so is `NA` in a file where it is all that keeps some column from being one of numbers,
#' but not in a column of short codes in capitals, where it may be one of them (a country).
#'
#' @param path The file.
#' @param blank Texts that stand for a blank answer in every column, such as `c("NA", "-")`; left out, what is
#'   said above. `character()` for none but empty fields.
#' @return A data frame. How the file was read is in its attribute `reading`.
#' @section Errors: `ableturn_error_file`, `ableturn_error_ragged`,
#'   `ableturn_error_column_twice` and others of class `ableturn_error`, which
#'   name the line.
#' @examples
#' head(read_data(demo_file("status-score.csv")))
#' @export
read_data <- function(path, blank = NULL) {
  check_readable(path)
  if (!is.null(blank) && !(is.character(blank) && !anyNA(blank))) fail("bad-blank", got = describe_type(blank))
  in_plain_settings(read_checked(path, blank))
}

read_checked <- function(path, blank = NULL) {
  reading <- how_to_read(path)
  text <- check_table(read_small_table(path, reading) %||% read_text_table(path, reading), reading, path)
  reading$na <- unique(c("", if (is.null(blank)) if (says_na(text)) "NA" else NULL else blank))
  reading$kept_na <- if (is.null(blank) && "NA" %in% reading$na) names(text)[vapply(text, holds_code_na, NA)]
  typed <- Map(function(column, name) guess_column(column, setdiff(reading$na, if (name %in% reading$kept_na) "NA")),
    text, names(text))
  data <- lapply(typed, `[[`, "x")
  spelling <- Map(function(t, raw) if (t$differs) raw, typed, text)
  spelling <- spelling[!vapply(spelling, is.null, NA)]
  structure(data,
    class = "data.frame", row.names = .set_row_names(length(text[[1]])),
    reading = reading, spelling = spelling
  )
}

#' @export
open_data.character <- function(data, blank = NULL) {
  read <- read_data(data, blank)
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

# Encoding, delimiter and form, from the file's own bytes.
how_to_read <- function(path) {
  bytes <- file_bytes(path)
  if (any(bytes == 0)) fail("file-binary", path = path)
  bom <- length(bytes) >= 3 && all(bytes[1:3] == as.raw(c(0xef, 0xbb, 0xbf)))
  header <- first_line(bytes)
  several <- grepl("[,;\t]", header, useBytes = TRUE)
  likely <- likely_separators(header)
  shapes <- lapply(likely, function(sep) csv_shape(bytes, sep, several))
  fits <- which(!vapply(shapes, is_broken, NA))
  sep <- likely[c(fits, 1)[1]]
  shape <- shapes[[c(fits, 1)[1]]]
  refuse_broken(shape, path)
  list(encoding = encoding_of(bytes), bom = bom, sep = sep, several = several, shape = shape)
}

# What is no UTF-8 is the old encoding of Western Europe, with the quotes and the ellipsis of Windows where
# they occur.
encoding_of <- function(bytes) {
  if (validUTF8(rawToChar(bytes))) return("UTF-8")
  windows <- as.raw(setdiff(0x80:0x9f, c(0x81, 0x8d, 0x8f, 0x90, 0x9d)))
  odd <- as.raw(c(0x81, 0x8d, 0x8f, 0x90, 0x9d))
  if (any(bytes %in% windows) && !any(bytes %in% odd)) "windows-1252" else "latin1"
}

# A quote that is never closed would swallow the rest of the file; rows of another length would be filled up
# or cut; both are told with their line.
refuse_broken <- function(shape, path) {
  if (shape$unclosed) fail("open-quote", path = path, line = shape$unclosed)
  if (shape$after_line) fail("after-quote", path = path, line = shape$after_line,
    begun = shape$after_begun)
  if (shape$ragged) fail("ragged", path = path, line = shape$ragged_line, expected = fields_in_words(shape$fields),
    actual = fields_in_words(shape$ragged_fields), lines = shape$ragged)
}

fields_in_words <- function(n) paste(n, if (n == 1) "column" else "columns")

# The line of names; where its names are in quotes, with the line ends inside these.
first_line <- function(bytes) {
  start <- utils::head(bytes, 1e6)
  quotes <- cumsum(start == as.raw(0x22)) %% 2
  ends <- which(start %in% as.raw(c(10, 13)))
  outside <- ends[quotes[ends] == 0]
  end <- c(if (length(outside)) outside else ends, length(start) + 1)[1]
  rawToChar(bytes[seq_len(end - 1)])
}

# The separators that the header holds, the most frequent first.
likely_separators <- function(header) {
  bare <- gsub('"([^"]|"")*"', "", header, useBytes = TRUE)
  counts <- vapply(c(",", ";", "\t"), function(s) {
    lengths(regmatches(bare, gregexpr(s, bare, fixed = TRUE, useBytes = TRUE)))
  }, 1L)
  order <- order(-counts)
  names(counts)[order][seq_len(max(1, sum(counts > 0)))]
}

is_broken <- function(shape) shape$unclosed > 0 || shape$after_line > 0 || shape$ragged > 0

# Every field as text; readr knows the format, we judge what it found.
read_text_table <- function(path, reading) {
  at <- whole_path(path)
  # By the path alone: readr would take some names for content, or for files to be unpacked.
  if (grepl("[\r\n]|[.](gz|bz2|xz|zip|zst)$", at, ignore.case = TRUE)) at <- file(at, "rb", raw = TRUE)
  table <- withCallingHandlers(
    readr::read_delim(at,
      delim = reading$sep, col_types = readr::cols(.default = readr::col_character()),
      locale = readr::locale(encoding = reading$encoding), name_repair = "minimal",
      na = "", trim_ws = FALSE, progress = readr::show_progress(), show_col_types = FALSE, lazy = FALSE,
      skip_empty_rows = reading$several
    ),
    warning = function(w) tryInvokeRestart("muffleWarning")
  )
  lapply(as.list(table), enc2utf8)
}

# Names that tell the columns apart, and as many rows as the file has.
check_table <- function(text, reading, path) {
  twice <- unique(names(text)[duplicated(names(text))])
  if (length(twice)) fail("column-twice", name = twice)
  empty <- which(is.na(names(text)) | !nzchar(trimws(names(text))))
  if (length(empty)) fail("column-unnamed", place = empty)
  shape <- reading$shape
  if (length(text) != shape$fields || length(text[[1]]) != shape$rows - 1) fail("misread", path = path,
    rows = length(text[[1]]), lines = shape$rows - 1)
  text
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

# NA among short codes in capitals: a country, initials.
holds_code_na <- function(text) {
  if (!any(text %in% "NA")) return(FALSE)
  other <- unique(text[!text %in% c("NA", "", NA)])
  length(other) > 0 && all(grepl("^[A-Z]{2,3}$", other))
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
