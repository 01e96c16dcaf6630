#' Read a table from a file
#'
#' A table with separators: comma, semicolon or tab between the fields, a header, UTF-8 (with or without
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
  in_plain_settings(format_of(path)$read(path, blank))
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
