# Text functions of the formula language: a missing text stays missing.

text_word <- function(f) {
  function(x, ...) {
    text <- show_value(x)
    out <- f(text, ...)
    out[is.na(text)] <- NA
    out
  }
}

# Functions whose text comes last: grepl(pattern, x), sub(pattern, replacement, x).
pattern_word <- function(f) {
  function(..., regex = FALSE) {
    given <- list(...)
    text <- show_value(given[[length(given)]])
    out <- do.call(f, c(given[-length(given)], list(text, fixed = !regex, perl = regex)))
    out[is.na(text)] <- NA
    out
  }
}

join_text <- function(...) {
  parts <- lapply(list(...), show_value)
  gone <- Reduce(`|`, lapply(parts, is.na))
  out <- do.call(paste0, parts)
  out[gone] <- NA
  out
}
