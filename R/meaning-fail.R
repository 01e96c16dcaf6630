# Stops with a classed error whose words stand in `error_words`: what is wrong, and what to do; `sheet`: what to do
# for who works on a turn sheet rather than in R, where that differs.
fail <- function(id, ...) {
  values <- lapply(list(...), name_list)
  for (key in setdiff(names(values), several_lines)) values[[key]] <- show_controls(values[[key]])
  for (key in intersect(names(values), several_lines)) values[[key]] <- show_controls(values[[key]], "\n")
  words <- error_words[[id]]
  text <- fill_words(words[1:2], values)
  in_sheet <- if ("sheet" %in% names(words)) fill_words(words["sheet"], values)
  if (speaks_sheet()) text[2] <- in_sheet %||% text[2]
  stop(errorCondition(
    paste(text, collapse = "\n"),
    class = c(paste0("ableturn_error_", gsub("-", "_", id)), "ableturn_error"),
    call = NULL, detail = list(...), in_sheet = in_sheet
  ))
}

# Whether what to do is said for a turn sheet and the command line, rather than for R.
speaks_sheet <- function() isTRUE(getOption("ableturn.speaks_sheet"))

in_door_words <- function(in_r, in_sheet) if (speaks_sheet()) in_sheet else in_r

# Pieces of an error that may be lines in themselves.
several_lines <- c("shown", "why", "todo")

fill_words <- function(words, values) {
  filled <- vapply(words, function(w) {
    as.character(glue::glue_data(values, w, .envir = baseenv(), .trim = FALSE))
  }, "")
  unname(filled)
}

# At most `most` names in a row, the rest counted.
name_list <- function(x, most = 16) {
  if (!length(x)) return("none")
  if (length(x) == 1) return(x)
  shown <- utils::head(as.character(x), most)
  more <- length(x) - length(shown)
  if (more) shown <- c(shown, paste("and", more, "more"))
  paste(shown, collapse = ", ")
}

# The nearest of `known` to a misspelt name, worded as a hint; "" when nothing is near.
near_hint <- function(name, known) {
  near <- nearest(name, known)
  if (is.na(near)) "" else paste0(" Did you mean `", near, "`?")
}

nearest <- function(name, known) {
  if (!length(known) || nchar(name) < 2) return(NA_character_)
  away <- utils::adist(name, known, ignore.case = TRUE)[1, ]
  best <- which.min(away)
  if (away[best] <= max(1, ceiling(nchar(name) / 3))) known[best] else NA_character_
}

# One of a closed list of words, or an error that lists them.
check_choice <- function(value, argument, allowed) {
  ok <- is.character(value) && length(value) == 1 && value %in% allowed
  if (!ok) {
    shown <- if (is.character(value)) paste0('"', value, '"') else describe_type(value)
    fail("bad-choice", argument = argument, value = shown, allowed = paste0('"', allowed, '"'))
  }
  value
}

describe_type <- function(value) {
  if (is.null(value)) return("nothing")
  kind <- if (is.numeric(value)) "numbers" else if (is.character(value)) "text" else class(value)[1]
  if (length(value) == 1) sub("s$", "", paste("a", kind)) else paste(length(value), kind)
}

# Nothing may stand in the dots: a misspelt argument must not be passed over.
refuse_dots <- function(...) {
  given <- as.list(substitute(list(...)))[-1]
  if (!length(given)) return(invisible())
  name <- names(given)[1] %||% ""
  shown <- if (nzchar(name)) name else paste(deparse(given[[1]]), collapse = " ")
  arguments <- setdiff(names(formals(sys.function(-1))), "...")
  fail("unused-argument", name = shown, hint = near_hint(shown, arguments), known = arguments)
}

check_text <- function(value, argument, none = TRUE) {
  ok <- (none && is.null(value)) || (is.character(value) && length(value) == 1 && !is.na(value))
  if (!ok) fail("not-a-text", argument = argument, got = describe_type(value))
  check_letters(value, paste0("`", argument, "`"))
}

# Text whose bytes are no letters in the encoding it is marked with, or that Unicode has set apart as none.
check_letters <- function(texts, where) {
  if (all_ascii(texts)) return(invisible(texts))
  marked <- Encoding(texts) == "latin1" | (!l10n_info()[["UTF-8"]] & Encoding(texts) == "unknown")
  met <- texts
  if (any(marked)) met[marked] <- enc2utf8(met[marked])
  bad <- which(!validUTF8(met))
  if (!length(bad)) bad <- which(stringi::stri_detect_regex(met, "[\\ufffe\\uffff]"))
  if (length(bad)) fail("bad-letters", name = where, text = texts[bad[1]], count = length(bad))
  invisible(texts)
}

check_flag <- function(value, argument) {
  ok <- is.logical(value) && length(value) == 1 && !is.na(value)
  if (!ok) fail("not-yes-no", argument = argument, got = describe_type(value))
  value
}

check_number <- function(value, argument, size = 1) {
  ok <- is.numeric(value) && length(value) == size && all(is.finite(value))
  wanted <- if (size == 1) "one number" else paste(size, "numbers")
  if (!ok) fail("not-a-number", argument = argument, size = wanted, got = describe_type(value))
  value
}
