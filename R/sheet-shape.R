# Readers for the values of a sheet, by their shape. Each gets the value and its spot, a list such
# as ("turns", 3, "rules", 2), and says what is wrong there.
read_shape <- list(
  names = function(x, spot) read_texts(x, spot),
  texts = function(x, spot) read_texts(x, spot),
  text = function(x, spot) {
    if (is_one(x, is.character)) return(enc2utf8(x))
    if (is_one(x, is.numeric)) return(show_number(x))
    bad_spot(spot, "it must be one text", "Write it in quotes.")
  },
  word = function(x, spot) read_shape$text(x, spot),
  flag = function(x, spot) {
    if (is_one(x, is.logical)) {
      x
    } else {
      bad_spot(spot, "it must be true or false", "Write true or false.")
    }
  },
  number = function(x, spot) {
    if (is_one(x, is.numeric)) {
      x
    } else {
      bad_spot(spot, "it must be a number", "Write it without quotes.")
    }
  },
  numbers = function(x, spot) {
    x <- unlist(x)
    if (is.numeric(x)) x else bad_spot(spot, "it must be a list of numbers", "Write it as [1, 5].")
  },
  values = function(x, spot) {
    if (is.list(x) && any(lengths(x) != 1)) {
      bad_spot(spot, "it must be a list of values", "Write it as [2, 4, 1].")
    }
    unlist(x)
  },
  value = function(x, spot) {
    if (is_one(x, is.numeric) || is_one(x, is.character)) return(x)
    bad_spot(spot, "it must be one number or one word", "Write it without a list.")
  },
  matchers = function(x, spot) read_when(x, spot),
  formula = function(x, spot) at_spot(spot, read_formula(x)),
  rules = function(x, spot) {
    if (!is.list(x) || !is.null(names(x))) bad_spot(spot, "it must be a list of rules",
      "Write each as - {code: 1, when: \"1 .. 4\"}.")
    Map(function(rule, i) read_rule(rule, c(spot, list(i))), x, seq_along(x))
  },
  accepts = function(x, spot) read_accepts(x, spot),
  renames = function(x, spot) read_renames(x, spot),
  table = function(x, spot) read_table_columns(x, spot),
  instrument = function(x, spot) at_spot(spot, check_instrument(list(scales = x))$scales),
  meanings = function(x, spot) read_meanings(x, spot),
  learned = function(x, spot) {
    lapply(seq_along(x), function(i) {
      read_learned(x[[i]],
        c(spot, list(i)))
      })
  }
)

read_renames <- function(x, spot) {
  if (is.list(x) && is_named(x) && all(vapply(x, is_one, NA, type = is.character))) {
    return(unlist(x))
  }
  bad_spot(spot, "it must give each new name the usual one", "Write {new: old}.")
}

read_formula <- function(x) {
  node <- parse_formula(x)
  check_formula(node, formula_vars(node), x)
  formula_text(node)
}

is_one <- function(x, type) length(x) == 1 && !is.list(x) && type(x) && !is.na(x)

read_texts <- function(x, spot) {
  x <- unlist(x)
  if (is.character(x) && length(x)) enc2utf8(x) else bad_spot(spot,
    "it must be a text or a list of texts", "Write it as name or [name, name].")
}

read_rule <- function(raw, spot) {
  if (!is.list(raw) || is.null(names(raw))) bad_spot(spot, "it is no rule",
    "Write it as {code: 1, when: \"1 .. 4\"}.")
  check_keys(raw, c(names(rule_keys), "keep"), spot)
  if (is.null(raw$keep) && !"code" %in% names(raw)) bad_spot(spot, "it gives no code",
    "Add code: 1, or keep: true.")
  if (is.null(raw$when) && is.null(raw$where) && !isTRUE(raw$rest)) {
    bad_spot(spot, "it does not say what its code is made from", "Add when, where or rest: true.")
  }
  label <- if (!is.null(raw$label)) read_shape$text(raw$label, c(spot, list("label")))
  at_spot(spot, new_rule(read_rule_code(raw), label,
    when = if (!is.null(raw$when)) read_when(raw$when, c(spot, list("when"))),
    where = if (!is.null(raw$where)) read_where(raw$where, c(spot, list("where"))),
    rest = isTRUE(raw$rest)
  ))
}

read_rule_code <- function(raw) if (isTRUE(raw$keep)) unchanged() else raw$code %||% NA

read_where <- function(raw, spot) {
  if (is.list(raw) && is.null(names(raw)) && all(vapply(raw, is.list, NA))) raw <- do.call(c, raw)
  if (!is.list(raw) || !is_named(raw)) {
    bad_spot(spot, "it must name variables", "Write it as {q1: 2, q2: \"3 ..\"}.")
  }
  Map(function(value, name) read_when(value, c(spot, list(name))), raw, names(raw))
}

read_when <- function(raw, spot) {
  if (is.list(raw) && is.null(names(raw))) {
    return(merge_values(lapply(raw, read_matcher, spot = spot)))
  }
  list(read_matcher(raw, spot))
}

read_matcher <- function(raw, spot) {
  if (is.list(raw)) return(read_named_matcher(raw, spot))
  if (is_one(raw, is.character)) return(at_spot(spot, read_range(raw)) %||% new_matcher("values",
    values = enc2utf8(raw)))
  if (is_one(raw, function(x) is.numeric(x) || is.logical(x))) {
    return(new_matcher("values", values = as_code(raw)))
  }
  no_matcher(spot)
}

read_named_matcher <- function(raw, spot) {
  if (length(raw) != 1 || !is_named(raw)) no_matcher(spot)
  switch(names(raw),
    text = new_matcher("values", values = read_texts(raw$text, spot)),
    number = if (identical(raw$number, "any")) from(-Inf) else no_matcher(spot),
    holding = read_holding(raw$holding, spot), missing = read_missing_matcher(raw$missing, spot),
    no_matcher(spot)
  )
}

# Words, {inside: pieces} or {regex: pattern}.
read_holding <- function(raw, spot) {
  if (!is.list(raw) || is.null(names(raw))) return(at_spot(spot, holding(read_texts(raw, spot))))
  if (identical(names(raw), "inside")) {
    return(at_spot(spot, holding(read_texts(raw$inside, spot), whole = FALSE)))
  }
  if (!identical(names(raw), "regex")) no_matcher(spot)
  at_spot(spot, holding(regex = read_texts(raw$regex, spot)))
}

no_matcher <- function(spot) {
  bad_spot(spot, "it names no values",
    paste("Write a number, a range such as \"1 .. 4\", {text: \"...\"}, {holding: \"...\"} or",
      "{missing: any}."))
}

read_missing_matcher <- function(kind, spot) {
  kind <- read_shape$text(kind, spot)
  if (kind == "any") unanswered() else unanswered(kind)
}

read_meanings <- function(raw, spot) {
  if (is.null(raw)) return(list())
  if (!is.list(raw) || is.null(names(raw))) bad_spot(spot, "it must name variables",
    "Write define, then a variable on each line.")
  Map(function(entry, name) read_meaning(entry, c(spot, list(name))), raw, names(raw))
}

read_meaning <- function(raw, spot) {
  if (!is.list(raw) || is.null(names(raw))) bad_spot(spot, "it must say what the variable means",
    "Write it as {label: \"...\", level: ordinal}.")
  check_keys(raw, names(meaning_keys), spot)
  for (key in intersect(names(raw),
    names(meaning_keys)[meaning_keys %in% c("text", "word", "formula")])) {
    raw[[key]] <- read_shape$text(raw[[key]], c(spot, list(key)))
  }
  if (!is.null(raw$codes)) raw$codes <- read_codes(raw$codes, c(spot, list("codes")))
  if (!is.null(raw$limits)) raw$limits <- read_shape$numbers(raw$limits, c(spot, list("limits")))
  if (!is.null(raw$missing)) {
    raw$missing <- Map(function(x, kind) read_when(x, c(spot, list("missing", kind))), raw$missing,
      names(raw$missing))
  }
  at_spot(spot, do.call(check_meaning, raw))
}

# Codes named by their labels, or {code: 2, label: "Other"} for each.
read_codes <- function(raw, spot) {
  wrong <- function() {
    bad_spot(spot, "it must give each label a code", "Write it as {\"Never\": 1, \"Always\": 5}.")
  }
  is_pair <- function(entry) is.list(entry) && setequal(names(entry), c("code", "label"))
  pairs <- is.list(raw) && is.null(names(raw)) && all(vapply(raw, is_pair, NA))
  if (pairs) raw <- setNames(lapply(raw, `[[`, "code"), vapply(raw, function(e) paste(e$label), ""))
  if (!is.list(raw) || !is_named(raw) || any(lengths(raw) != 1) || any(vapply(raw, is.list, NA))) {
    wrong()
  }
  unlist(raw)
}

read_learned <- function(raw, spot) {
  check_keys(raw, c("of", "is", "rows", "groups", "cumulative"), spot)
  if (!is_one(raw$of, is.character)) bad_spot(spot, "it does not say of what",
    "Write it as {of: \"median(x)\", is: 12, rows: 100}.")
  new_note(raw$of, unlist(lapply(raw$is, function(v) v %||% NA)) %||% character(), unlist(raw$rows),
    unlist(raw$cumulative), if (!is.null(raw$groups)) lapply(raw$groups, unlist))
}

# Findings that were judged: - {finding: boundary, because: "..."}.
read_accepts <- function(x, spot) {
  if (!is.list(x) || !is.null(names(x))) bad_spot(spot, "it must be a list",
    "Write - {finding: boundary, because: \"...\"}.")
  each <- Map(function(entry, i) {
    check_keys(entry, c("finding", "because"), c(spot, list(i)))
    setNames(entry$because %||% "judged", entry$finding %||% "")
  }, x, seq_along(x))
  at_spot(spot, read_accept(unlist(unname(each))))
}

# Columns of one length, named.
read_table_columns <- function(x, spot) {
  if (!is.list(x) || is.null(names(x))) bad_spot(spot, "it must be columns with names",
    "Write {code: [1, 2], value: [10, 20]}.")
  columns <- lapply(x, function(column) unlist(lapply(column, function(v) v %||% NA)))
  if (length(unique(lengths(columns))) != 1) bad_spot(spot, "its columns are not of one length",
    "Give each code its value.")
  columns
}
