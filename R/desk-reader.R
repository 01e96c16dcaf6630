#' @include base-fail.R meaning-typed.R
NULL

# One reader of numbers, lists and ranges for all fields, as people type them; as_typed and
# write_range() say it back in our notation.

# Numbers parted by blanks, commas or semicolons; `size`, how many there must be, if that is known.
# A comma between two figures is a decimal mark, unless only as many numbers fit as parts are there:
# where both may be meant, that has to be said.
read_number_list <- function(text, size = NULL) {
  text <- plain_signs(text)
  pieces <- strsplit(text, "\\s*;\\s*|,\\s+|\\s+(?!%)", perl = TRUE)[[1]]
  pieces <- pieces[nzchar(pieces)]
  parts <- strsplit(text, "[,;[:space:]]+")[[1]]
  if (length(pieces) == 1 && grepl("^[-+]?[0-9]+,[-+]?[0-9]+(,[-+]?[0-9]+)*$", pieces)) {
    if (identical(length(parts), as.integer(size)) || length(parts) > 2) {
      return(vapply(parts, read_number, 0, USE.NAMES = FALSE))
    }
    if (is.null(size)) fail("typed-both", typed = text, list = paste(parts, collapse = "; "),
      decimal = sub(",", ".", text, fixed = TRUE))
  }
  vapply(pieces, read_number, 0, USE.NAMES = FALSE)
}

# Two limits: 1 5, 1-5, 1 to 5, 1,5.
read_both_ends <- function(text) {
  range <- read_typed_range(text)
  ends <- if (!is.null(range)) c(range$low, range$high)
  if (length(ends) && all(is.finite(ends))) ends else read_number_list(text, 2)
}

# A day as 2031-03-20, from 20.3.2031 or 20/3/2031; anything else as it is. Where day and month may
# change places, that has to be said.
read_day <- function(text) {
  part <- regmatches(text, regexec("^([0-9]{1,2})([./])([0-9]{1,2})[./]([0-9]{4})$", text))[[1]]
  if (!length(part)) return(text)
  ends <- as.integer(part[c(2, 4)])
  day <- function(day, month) sprintf("%s-%02d-%02d", part[5], month, day)
  if (part[3] == "." || ends[1] > 12) return(day(ends[1], ends[2]))
  if (ends[2] > 12 || ends[1] == ends[2]) return(day(ends[2], ends[1]))
  fail("typed-day", typed = text, one = day(ends[1], ends[2]), other = day(ends[2], ends[1]))
}

# What stands between two answers; that which cannot be seen goes by its name.
separators <- c(blank = " ", tab = "\t", line = "\n")

read_separator <- function(text) unname(separators[text]) %|% text

write_separator <- function(text) {
  names(separators)[match(text, separators)] %|% text
}

word_errors(list(
  "typed-day" = c("{typed} may be two days.", "Write {one} or {other}."),
  "typed-both" = c("{typed} may be two numbers or one.", "Write {list} or {decimal}.")
))
