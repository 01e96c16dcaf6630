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

# What stands between two answers; that which cannot be seen goes by its name.
separators <- c(blank = " ", tab = "\t", line = "\n")

read_separator <- function(text) unname(separators[text]) %|% text

write_separator <- function(text) {
  names(separators)[match(text, separators)] %|% text
}

word_errors(list(
  "typed-both" = c("{typed} may be two numbers or one.", "Write {list} or {decimal}.")
))
