# Arguments are checked here, each in the words of an analyst.

# One of a closed list of words, or an error that lists them.
check_choice <- function(value, argument, allowed) {
  ok <- is.character(value) && length(value) == 1 && value %in% allowed
  if (!ok) {
    near <- allowed[tolower(allowed) %in% tolower(value)]
    shown <- if (is.character(value)) paste0('"', value, '"') else describe_type(value)
    hint <- if (length(near)) paste0(" Did you mean \"", near[1], "\"?") else ""
    fail("bad-choice", argument = argument, value = shown, hint = hint,
      allowed = paste0('"', allowed, '"'))
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
  fail("unused-argument", name = shown, hint = guess_hint(shown, arguments), known = arguments)
}

# Arguments as people guess them, and what they lead to where the call has the argument named.
guessed_arguments <- list(
  quantiles = c(groups = "groups = 4"), quartiles = c(groups = "groups = 4"),
  tiles = c(groups = "groups = 4"), n = c(groups = "groups = 4"),
  breaks = c(at = "at = c(30, 60)"), cuts = c(at = "at = c(30, 60)"),
  upto = c(at = "at = c(30, 60), edge = \"ends\""), right = c(edge = "edge = \"ends\""),
  mean = c(reference = "reference = c(mean = 50, sd = 10)"),
  sd = c(reference = "reference = c(mean = 50, sd = 10)"),
  limits = c(reversed = "define(book, items, limits = c(1, 5)) first"),
  base = c(reference = "reference = \"...\""),
  baseline = c(from = "from = wave == 1", reference = "reference = \"...\""),
  since = c(from = "from = \"first\""), first = c(from = "from = \"first\""),
  id = c(unit = "unit = person"), person = c(unit = "unit = person"),
  time = c(order = "order = wave"), wave = c(order = "order = wave"),
  alpha = c(reliability = "reliability = 0.85"), probs = c(at = "at = c(0.01, 0.99)"),
  trim = c(at = "at = c(0.01, 0.99)"), method = c(how = "how = \"...\""),
  sep = c(by = "by = \";\""), delim = c(by = "by = \";\""), min = c(at_least = "at_least = 3"),
  exclude_self = c(leave_out = "leave_out = TRUE"), guessing = c(wrong = "wrong = \"chance\""),
  min_valid = c(at_least = "at_least = 3"), min_items = c(at_least = "at_least = 3"),
  na.rm = c(at_least = "at_least = 3, how many items must be valid"),
  na = c(missing = "define(book, x, missing = c(\"No answer\" = 99)) first"),
  by = c(within = "within = ..."), group = c(within = "within = ...",
    by = "by = ..."),
  groups = c(within = "within = ..."), key = c(from = "from = \"...\""),
  value = c(to = "to = \"...\""), values = c(to = "to = \"...\""), name = c(as = "as = \"...\""),
  into = c(as = "as = \"...\""), new = c(as = "as = \"...\""), file = c(path = "path"),
  rows = c(n = "n = 20"), filter = c(where = "where = income > 2000"),
  subset = c(where = "where = income > 2000"), condition = c(where = "where = income > 2000"),
  order_by = c(sort_by = "sort_by = -income"), sort = c(sort_by = "sort_by = -income"),
  factors = c(values = "values = \"labels\""), weights = c(weight = "weight = ...")
)

guess_hint <- function(name, arguments) {
  meant <- guessed_arguments[[name]]
  meant <- meant[names(meant) %in% arguments]
  if (length(meant)) paste0(" Write ", meant[[1]], ".") else near_hint(name, arguments)
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

# A whole number from `least` on.
check_whole <- function(value, argument, least = 0) {
  value <- check_number(value, argument)
  if (value != floor(value) || value < least || value > .Machine$integer.max) {
    fail("not-a-number", argument = argument, size = paste("a whole number from", least, "on"),
      got = show_value(value))
  }
  as.double(value)
}

# Dots that take variables have no names: one that has is a misspelt argument.
refuse_named <- function(dots, arguments) {
  name <- setdiff(names(dots), "")[1]
  if (length(dots) && !is.na(name) && nzchar(name)) fail("unused-argument", name = name,
    hint = guess_hint(name, arguments), known = arguments)
}

# A package that is only needed for some of the work.
need_package <- function(package, what) {
  if (!requireNamespace(package, quietly = TRUE)) {
    fail("package-needed", package = package, what = what)
  }
}
