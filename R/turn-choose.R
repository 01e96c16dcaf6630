# Rules as one choose node of the formula language: what all turns by rules have in common.

lowered_by_rules <- function(turn, place, chosen, meaning, note = NULL) {
  new_lowered(turn$makes[place], chosen$expr, meaning,
    rules = chosen$rules, kinds = chosen$kinds, carry = !identical(turn$missing, "plain"),
    notes = if (!is.null(note)) list(note)
  )
}

# Rules as one choose node, with the missing kind that each test gives.
choose_by_rules <- function(turn, rules, world, source) {
  rules <- order_rules(rules)
  named <- vars_with_missing(rules, source)
  tests <- lapply(Filter(function(r) !r$rest, rules), rule_test,
    source = source, named = named, loose = isTRUE(turn$loose), world = world
  )
  plain <- vapply(rules, `[[`, NA, "rest")
  expr <- build_choose(rules, tests, source, named)
  refuse_type_mix(rules, source, world)
  list(expr = expr, rules = rules, kinds = vapply(rules[!plain], kind_of_rule, ""))
}

order_rules <- function(rules) {
  c(Filter(function(r) !r$rest, rules), Filter(function(r) r$rest, rules))
}

kind_of_rule <- function(rule) {
  if (!is_unchanged(rule$code) && is.na(rule$code)) rule$label else NA_character_
}

# Variables for which some rule says what becomes of missing answers.
vars_with_missing <- function(rules, source) {
  asks <- function(matchers) any(vapply(matchers, function(m) m$type == "missing", NA))
  single <- any(vapply(rules, function(r) length(r$when) > 0 && asks(r$when), NA))
  several <- unlist(lapply(rules, function(r) names(r$where)[vapply(r$where, asks, NA)]))
  unique(c(if (single) source, several))
}

rule_test <- function(rule, source, named, loose, world) {
  where <- if (length(rule$when)) self_listed(source, rule$when) else rule$where
  known <- names(where) %in% world$names
  if (!all(known)) fail_unknown(names(where)[!known], world$names)
  all_of_tests(Map(function(name, matchers) {
    condition_test(name, matchers, name %in% named,
      loose, world)
  },
  names(where), where))
}

self_listed <- function(name, value) {
  out <- list(value)
  names(out) <- name
  out
}

# The rest never takes a row that is missing in a variable whose missing rows the rules name.
build_choose <- function(rules, tests, source, named) {
  rest <- Filter(function(r) r$rest, rules)
  given <- Filter(function(r) !r$rest, rules)
  pairs <- unlist(Map(list, tests, lapply(given, code_node, source = source)), recursive = FALSE)
  if (length(rest)) {
    open <- setdiff(named, all_missing_caught(given, source))
    guard <- lapply(open, function(name) list(call("unanswered", as.name(name)), NA))
    pairs <- c(pairs, unlist(guard, recursive = FALSE), list(code_node(rest[[1]], source)))
  }
  if (!length(tests) && length(pairs) == 1) {
    pairs <- c(list(call("unanswered", as.name(source)), NA), pairs)
  }
  as.call(c(list(as.name("choose")), unname(pairs)))
}

# Variables whose missing rows are all caught by a rule of their own.
all_missing_caught <- function(rules, source) {
  unlist(lapply(rules, function(rule) {
    where <- if (length(rule$when)) self_listed(source, rule$when) else rule$where
    any_missing <- vapply(where[[1]], function(m) identical(m$kind, "any"), NA)
    if (length(where) == 1 && any(any_missing)) names(where)
  }))
}

code_node <- function(rule, source) {
  if (!is_unchanged(rule$code)) return(rule$code)
  if (is.null(source)) fail("unchanged-several")
  as.name(source)
}

refuse_type_mix <- function(rules, source, world) {
  keeps <- any(vapply(rules, function(r) is_unchanged(r$code), NA))
  if (!keeps || is.null(source)) return()
  if (inherits(world$column(source), "Date")) fail("unchanged-date", name = source)
  codes <- Filter(function(code) !is_unchanged(code) && !is.na(code), lapply(rules, `[[`, "code"))
  text <- vapply(codes, is.character, NA)
  if (any(text != world$is_text(source))) fail("unchanged-type", name = source)
}

# Labels stay only with codes that no rule has given another meaning.
caught_codes <- function(codes, rules) {
  named <- unlist(lapply(rules, `[[`, "when"), recursive = FALSE)
  texts <- unlist(lapply(named, function(m) if (is.character(m$values)) m$values))
  match_rows(codes, Filter(function(m) m$type != "missing", named)) | names(codes) %in% texts |
    match_rows(names(codes), Filter(function(m) m$type == "holding", named))
}

recode_codes <- function(rules, old) {
  coded <- Filter(function(r) !is_unchanged(r$code) && !is.na(r$code), rules)
  said <- Filter(function(r) !is.null(r$label) || is.character(r$code), coded)
  codes <- unlist(lapply(said, `[[`, "code")) %||% integer()
  names(codes) <- vapply(said, function(r) r$label %||% r$code, "")
  keeps <- any(vapply(rules, function(r) is_unchanged(r$code), NA))
  if (keeps) codes <- c(codes, old$codes[!caught_codes(old$codes, rules) & !old$codes %in% codes])
  codes <- codes[!duplicated(codes)]
  # Texts stay in the order of their rules, numbers are put in the order of their size.
  if (is.character(codes)) codes else if (length(codes)) codes[order(codes, method = "radix")]
}
