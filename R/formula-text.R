# Text functions of the formula language: a missing text stays missing.

text_word <- function(f) {
  function(x, ...) {
    text <- as_text(x)
    out <- f(text, ...)
    out[is.na(text)] <- NA
    out
  }
}

as_text <- function(x) if (is.numeric(x) && !is.object(x)) number_text(x) else show_value(x)

# A number as text: whole numbers in full (100000, not 1e+05), others with 15 figures. Scripts hold
# the same function.
number_text <- function(x) {
  ifelse(trunc(x) == x & abs(x) <= 2^53, sprintf("%.0f", x + 0), sprintf("%.15g", x))
}

# Functions whose text comes last: grepl(pattern, x), sub(pattern, replacement, x). Where a pattern
# gives up on a text, the result is missing.
pattern_word <- function(f) {
  function(..., regex = FALSE) {
    given <- list(...)
    text <- as_text(given[[length(given)]])
    if (length(given) > 2) refuse_long(nchar(text, "bytes") * (nchar(given[[2]], "bytes") + 1))
    out <- matched(do.call(f, c(given[-length(given)], list(text, fixed = !regex, perl = regex))))
    out[is.na(text)] <- NA
    out
  }
}

# No text grows without end, however a formula doubles it.
longest_text <- 1e6
most_text <- 2e9

refuse_long <- function(bytes) {
  if (any(bytes > longest_text, na.rm = TRUE) || sum(as.double(bytes), na.rm = TRUE) > most_text) {
    fail("text-long", most = "1,000,000")
  }
}

join_text <- function(...) {
  parts <- lapply(list(...), as_text)
  gone <- Reduce(`|`, lapply(parts, is.na))
  refuse_long(Reduce(`+`, lapply(parts, nchar, type = "bytes")))
  out <- do.call(paste0, parts)
  out[gone] <- NA
  out
}
