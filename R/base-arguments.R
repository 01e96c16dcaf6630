# Arguments are checked here, each in the words of an analyst.

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

# An argument of the caller that has no default was given.
need_given <- function(argument) {
  name <- substitute(argument)
  gone <- eval(as.call(list(base::missing, name)), parent.frame())
  if (gone) fail("argument-needed", argument = as.character(name))
}

check_text <- function(value, argument, none = TRUE) {
  ok <- (none && is.null(value)) || (is.character(value) && length(value) == 1 && !is.na(value))
  if (!ok) fail("not-a-text", argument = argument, got = describe_type(value))
  check_letters(value, paste0("`", argument, "`"))
}

# Text whose bytes are no letters in the encoding it is marked with, or that Unicode has set apart
# as none.
check_letters <- function(texts, where) {
  if (all_ascii(texts)) return(invisible(texts))
  marked <- Encoding(texts) == "latin1" | (!l10n_info()[["UTF-8"]] & Encoding(texts) == "unknown")
  met <- texts
  if (any(marked)) met[marked] <- enc2utf8(met[marked])
  bad <- which(Encoding(texts) == "bytes" | !validUTF8(met))
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

# A package that is only needed for some of the work.
need_package <- function(package, what) {
  if (!requireNamespace(package, quietly = TRUE)) {
    fail("package-needed", package = package, what = what)
  }
}
