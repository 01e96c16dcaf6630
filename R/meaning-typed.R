#' @include meaning-notation.R
NULL

# Numbers and ranges as people type them, on a page or in a table of norms. write_range() says a
# range back in our notation.

number_typed <- "[-+]?(?:[0-9]+(?:[.,][0-9]+)?|[.,][0-9]+)(?:[eE][-+]?[0-9]+)?"

# Dashes, signs and dots that a word processor makes of plain ones.
plain_signs <- function(text) {
  from <- c("\u2212", "\u2013", "\u2014", "\u2265", "\u2264", "\u2026", "\u00a0", "\u202f")
  to <- c("-", "-", "-", ">=", "<=", "..", " ", " ")
  for (i in seq_along(from)) text <- gsub(from[i], to[i], text, fixed = TRUE)
  trimws(text)
}

# A number: 2.5, 2,5, 10 % for 0.1. NA where it is none. A comma before three figures may part
# thousands: that has to be said.
read_number <- function(text) {
  text <- plain_signs(text)
  share <- grepl("%$", text)
  digits <- trimws(sub("%$", "", text))
  if (!grepl(paste0("^", number_typed, "$"), digits, perl = TRUE)) return(NA_real_)
  thousands <- grepl("[0-9],[0-9]{3}$", digits) && !grepl("^[-+]?0,", digits)
  if (thousands) fail("typed-comma", typed = text,
    thousand = sub(",", "", digits, fixed = TRUE), decimal = sub(",", ".", digits, fixed = TRUE))
  as.numeric(sub(",", ".", digits, fixed = TRUE)) / if (share) 100 else 1
}

# Each way to say a range, around %n for a number, and what it is in our functions.
range_ways <- list(
  list("%n ?(?:-|to|\\.\\.\\.?|:|until) ?%n", function(a, b) from(a, upto = b)),
  list("(?:between|from) %n (?:and|to|until) %n", function(a, b) from(a, upto = b)),
  list("%n ?(?:\\.\\.|to) ?(?:<|under|below) ?%n", function(a, b) from(a, under = b)),
  list("(?:>=|=>|at least|from|minimum|not under|not below) ?%n", function(a) from(a)),
  list("%n ?(?:\\+|\\.\\.\\.?|and (?:more|over|above|up|older)|or (?:more|over|above|older)|up)",
    function(a) from(a)),
  list("%n ?(?:-|to|\\.\\.\\.?) ?(?:high|highest|max|maximum|up)", function(a) from(a)),
  list("(?:<=|=<|up to|upto|to|until|at most|maximum|\\.\\.\\.?) ?%n", function(a) upto(a)),
  list("%n (?:and|or) (?:less|fewer|under|below|younger)", function(a) upto(a)),
  list("(?:low|lowest|min|minimum) ?(?:-|to|\\.\\.\\.?) ?%n", function(a) upto(a)),
  list("(?:>|over|above|more than|older than) ?%n", function(a) over(a)),
  list("(?:<|under|below|less than|fewer than|younger than) ?%n", function(a) under(a))
)

# A range as it was typed; NULL where it is none. `texts` are values that look like one and are not.
read_typed_range <- function(text, texts = character()) {
  if (text %in% texts) return(NULL)
  own <- read_range(text)
  if (!is.null(own)) return(own)
  text <- gsub("\\s+", " ", tolower(plain_signs(text)))
  for (way in range_ways) {
    form <- paste0("^", gsub("%n", paste0("(", number_typed, ")"), way[[1]], fixed = TRUE), "$")
    part <- regmatches(text, regexec(form, text, perl = TRUE))[[1]][-1]
    if (length(part)) return(do.call(way[[2]], lapply(part, read_number)))
  }
}

word_errors(list(
  "typed-comma" = c("{typed} may be a thousand or a decimal number.",
    "Write {thousand} or {decimal}.")
))
