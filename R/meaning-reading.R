#' @include base-fail.R
NULL

# How a file is to be read, as it is stated in `reading`. Each entry checks what is stated of it.
reading_checks <- list(
  separator = function(x) check_choice(x, "separator", separators_known),
  encoding = function(x) check_choice(x, "encoding", names(encodings_known)),
  skip = function(x) {
    if (is.character(x)) check_text(x, "skip", none = FALSE) else check_number(x, "skip")
  },
  second_line = function(x) check_choice(x, "second_line", c("labels", "left out")),
  decimal = function(x) check_choice(x, "decimal", c(".", ",")),
  dates = function(x) check_choice(x, "dates", c("day first", "month first")),
  blank = function(x) if (!is.character(x) || anyNA(x)) fail("bad-blank", got = describe_type(x)),
  table = function(x) check_text(x, "table", none = FALSE),
  range = function(x) check_range_of_cells(x),
  columns = function(x) check_ways(x)
)

separators_known <- c(",", ";", "\t", "|")

# As they are called in `reading`, and as R calls them.
encodings_known <- c("UTF-8" = "UTF-8", "Latin-1" = "latin1", "Windows-1252" = "windows-1252",
  "UTF-16" = "UTF-16")

check_stated_reading <- function(reading) {
  if (is.null(reading)) return(list())
  if (!is.list(reading) || (length(reading) && !is_named(reading))) {
    fail("bad-reading", got = describe_type(reading))
  }
  for (key in names(reading)) {
    if (!key %in% names(reading_checks)) {
      fail("reading-key", key = key, hint = near_hint(key, names(reading_checks)),
        known = names(reading_checks))
    }
    reading_checks[[key]](reading[[key]])
  }
  reading
}

check_range_of_cells <- function(range) {
  check_text(range, "range", none = FALSE)
  if (!grepl("^[A-Za-z]{1,3}[1-9][0-9]*:[A-Za-z]{1,3}[1-9][0-9]*$", range)) {
    fail("bad-range", range = range)
  }
}

check_ways <- function(columns) {
  if (!is.character(columns) || (length(columns) && !is_named(columns))) {
    fail("bad-reading-columns", got = describe_type(columns))
  }
  for (way in columns) check_choice(way, "columns", names(ways_to_read))
}

# What was stated that this format has no use for would be set aside unseen. `values` is a word of
# ours: the values are wanted rather than the texts, where a reader can tell them.
refuse_unused <- function(stated, used, path) {
  odd <- setdiff(names(stated), c(used, "decimal", "dates", "columns", "blank", "values"))
  if (length(odd)) fail("reading-unused", path = path, key = odd)
}

word_errors(list(
  "bad-reading" = c("`reading` must be a list that says how a file is read, not {got}.",
    "Write reading = list(decimal = \",\", blank = c(\"NA\", \"-\"))."),
  "reading-key" = c("`reading` has an entry {key}, which says nothing about a file.{hint}",
    "Known are {known}."),
  "bad-reading-columns" = c(
    "`columns` in `reading` must name a way to read each column, not {got}.",
    "Write reading = list(columns = c(cost = \"decimal comma\"))."),
  "reading-text" = c("The text {text} after --reading does not say how a file is read.",
    "Write --reading \"decimal: ',', dates: day first\"."),
  "bad-range" = c("`range` must name the first and the last cell of the table, not {range}.",
    "Write reading = list(range = \"B3:H200\")."),
  "reading-unused" = c("{key} of `reading` says nothing about a file such as {path}.",
    "Leave it out.")
))
