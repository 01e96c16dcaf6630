#' @include base-fail.R desk-reader.R
NULL

# What is typed into a field of the desk, as the value of an argument. What a user types is data or
# a formula; nothing of it is ever run as R.

# Each kind of field: a function of what was typed, which is not empty, of its label, and of the
# `texts` among the values that look like ranges.
typed_kinds <- list(
  text = function(typed, label, ...) one_typed(typed),
  path = function(typed, label, ...) one_typed(typed),
  separator = function(typed, label, ...) read_separator(one_typed(typed)),
  texts = function(typed, label, ...) typed_lines(typed),
  choice = function(typed, label, ...) one_typed(typed),
  flag = function(typed, label, ...) isTRUE(typed),
  number = function(typed, label, ...) {
    if (is.numeric(typed)) return(typed)
    number <- as_code(read_number(one_typed(typed)))
    if (is.na(number)) fail("typed-number", label = label, typed = typed) else number
  },
  numbers = function(typed, label, ...) typed_list_of_numbers(typed, label),
  limits = function(typed, label, ...) {
    if (is.numeric(typed)) return(typed)
    ends <- as_code(read_both_ends(one_typed(typed)))
    if (anyNA(ends) || length(ends) != 2) fail("typed-limits", label = label, typed = typed)
    ends
  },
  name = function(typed, label, ...) rlang::call2("all_of", one_typed(typed)),
  names = function(typed, label, ...) rlang::call2("all_of", as.character(unlist(typed))),
  value = function(typed, label, ...) typed_value(typed),
  values = function(typed, label, texts, ...) typed_values(typed, texts),
  formula = function(typed, label, ...) typed_formula(one_typed(typed)),
  condition = function(typed, label, ...) typed_formula(one_typed(typed)),
  moments = function(typed, label, ...) {
    setNames(typed_list_of_numbers(typed, label, 2), c("mean", "sd"))
  },
  named = function(typed, label, ...) lapply(compact_typed(typed), typed_value),
  rules = function(typed, label, ...) typed_rules(typed),
  accepts = function(typed, label, ...) {
    empty <- names(typed)[vapply(typed, is_untyped, NA)]
    if (length(empty)) fail("accept-reason")
    unlist(compact_typed(typed))
  },
  table = function(typed, label, ...) typed,
  codes = function(typed, label, ...) unlist(lapply(compact_typed(typed), typed_value)),
  reasons = function(typed, label, texts, ...) {
    lapply(compact_typed(typed), typed_values, texts = texts)
  },
  pairs = function(typed, label, ...) unlist(compact_typed(typed))
)

# A value of an argument from what was typed; NULL where nothing was, or what the verb does anyway.
typed_argument <- function(field, typed, texts = character()) {
  if (is_untyped(typed) || identical(typed, FALSE)) return(NULL)
  typed_kinds[[field$kind]](typed, field$label, texts)
}

is_untyped <- function(typed) {
  !length(typed) || (is.character(typed) && all(is.na(typed) | !nzchar(trimws(typed))))
}

compact_typed <- function(typed) Filter(Negate(is_untyped), as.list(typed))

one_typed <- function(typed) trimws(enc2utf8(as.character(unlist(typed))[1]))

# One text a line.
typed_lines <- function(typed) {
  lines <- trimws(enc2utf8(unlist(strsplit(as.character(unlist(typed)), "\r?\n"))))
  lines[nzchar(lines)]
}

# A formula of the closed language, checked before any verb sees it: the verbs take signs such as !!
# for a request to run what follows. Written out, one not after another stands in parentheses.
typed_formula <- function(text) {
  node <- parse_formula(read_formula(text))
  if ("{" %in% all.names(node)) fail("typed-block", typed = text)
  node
}

typed_list_of_numbers <- function(typed, label, wanted = NULL) {
  if (is.numeric(typed)) return(typed)
  numbers <- as_code(read_number_list(one_typed(typed), wanted))
  fits <- length(numbers) > 0 && !anyNA(numbers) && (is.null(wanted) || length(numbers) == wanted)
  if (fits) return(numbers)
  if (is.null(wanted)) fail("typed-numbers", label = label, typed = typed)
  fail("typed-pair", label = label, typed = typed)
}

# Values parted by semicolons or commas with a blank: ranges, numbers, else texts or labels.
typed_values <- function(typed, texts = character()) {
  if (!is.character(typed)) return(typed)
  pieces <- unlist(strsplit(typed_lines(typed), "\\s*;\\s*|\\s*,\\s+"))
  values <- lapply(pieces[nzchar(pieces)], function(piece) {
    read_typed_range(piece, texts) %||% typed_value(piece)
  })
  if (all(vapply(values, is.numeric, NA)) || all(vapply(values, is.character, NA))) {
    return(unlist(values))
  }
  values
}

typed_value <- function(typed) {
  text <- one_typed(typed)
  read_range(text) %||% if (grepl(plain_number, text)) as_code(as.numeric(text)) else text
}

# Rules as a sheet states them; what is wrong is told with the number of its rule.
typed_rules <- function(typed) {
  Map(function(rule, place) {
    tryCatch(read_rule(rule, list(place)), ableturn_sheet_spot = function(spot) {
      fail("typed-rule", place = place, why = conditionMessage(spot))
    })
  }, unname(typed), seq_along(typed))
}

# [["a", "b"], ...] as list(a = "b").
pairs_as_list <- function(pairs) {
  pairs <- Filter(function(pair) length(pair) == 2 && !is_untyped(unlist(pair[[1]])), pairs)
  values <- lapply(pairs, function(pair) one_typed(pair[[2]]))
  setNames(values, vapply(pairs, function(pair) one_typed(pair[[1]]), ""))
}

# What goes wrong with an argument is told with its name.
at_argument <- function(argument, code) {
  withCallingHandlers(code, ableturn_error = function(e) {
    e$argument <- argument
    stop(e)
  })
}

word_errors(list(
  "typed-rule" = c("Rule {place}: {why}.",
    "Fill in what it becomes, and its values or a range, such as 1 .. 4."),
  "typed-number" = c("{label}: {typed} is not one number.", "Write one, such as 2.5 or 10 %."),
  "typed-numbers" = c("{label}: {typed} is no list of numbers.",
    "Write them parted by blanks or semicolons, such as 30 60.5."),
  "typed-limits" = c("{label}: {typed} are not two numbers.",
    "Write the lowest and the highest, such as 1 to 5."),
  "typed-block" = c("{typed} has braces, which are for steps in a script.",
    "Write one formula without them, such as log(income)."),
  "typed-pair" = c("{label}: {typed} is not a mean and a standard deviation.",
    "Write both, parted by a blank, such as 50 10.")
))
