# Findings about rules and bands over one source.
find_in_rules <- function(made, book) {
  out <- made$out
  gaps <- if (is_single_rule_set(out)) range_gaps(out, made)
  c(
    if (is_single_rule_set(out)) list(open_range(out, book), code_merge(made, book)),
    if (!is.null(out$rules)) empty_rules(out, made$outcome$branch),
    if (!is.null(out$rules) && !has_trait(made$turn$verb,
      "its rules may overlap")) list(rule_overlap(made)),
    if (is_single_rule_set(out)) list(near_miss(made, book)),
    if (identical(made$turn$verb, "tally")) list(empty_tally(made)),
    list(gaps$finding, unmatched_finding(made, gaps$values), boundary_finding(made),
      label_contradicts(made)), spelled_apart(made, book), nearly_in_table(made, book)
  )
}

is_single_rule_set <- function(out) !is.null(out$rules) && length(out$from) == 1

rules_tested <- function(out) Filter(function(r) !r$rest, out$rules)

# Values at one end that look like missing codes, caught by a range that is open there.
open_range <- function(out, book) {
  if (is_derived(book, out$from) || has_text(variable_in(book, out$from))) return(NULL)
  suspects <- suspects_of(variable_in(book, out$from))
  if (!length(suspects)) return(NULL)
  seen <- numbers_of(variable_in(book, out$from))
  caught <- rules_catching(suspects, out, book)
  open <- lapply(rules_tested(out), function(r) {
    Filter(function(m) m$type == "range" && (is.infinite(m$low) || is.infinite(m$high)), r$when)
  })
  hit <- suspects[vapply(seq_along(suspects), function(i) {
    rule <- caught[i]
    !is.na(rule) && rule > 0 && length(open[[rule]]) > 0 && match_rows(suspects[i], open[[rule]])
  }, NA)]
  if (length(hit)) suspects_found("open-range", out$name, out$from, hit, seen)
}

# The first rule that each of some values of the source falls under.
rules_catching <- function(values, out, book) {
  source <- list(variable_in(book, out$from))
  column <- cell_column(values, column_of(source[[1]])$kinds)
  small <- site_of_columns(setNames(list(column), out$from), setNames(source, out$from),
    rep(1L, length(column$x)))
  evaluate_full(out$expr, small)$branch[seq_along(values)]
}

suspects_found <- function(id, name, source, values, seen) {
  new_finding(id, name, source = source, values = rows_in_words(show_number(values),
    seen$rows[match(values, seen$values)]),
  codes = paste0("\"...\" = ", show_number(values), collapse = ", "))
}

# Values that lie between a range and another rule.
range_gaps <- function(out, made) {
  lost <- made$receipt$unmatched
  if (is.null(lost)) return(NULL)
  number <- suppressWarnings(as.numeric(lost$value))
  ends <- lapply(rules_tested(out), function(r) {
    ranges <- Filter(function(m) m$type == "range", r$when)
    list(low = vapply(ranges, `[[`, 0, "low"), high = vapply(ranges, `[[`, 0, "high"))
  })
  lows <- unlist(lapply(ends, `[[`, "low"))
  highs <- unlist(lapply(ends, `[[`, "high"))
  between <- !is.na(number) & vapply(number, function(v) any(highs <= v) && any(lows >= v), NA)
  if (!any(between)) return(NULL)
  above <- min(lows[lows >= number[between][1]])
  list(values = lost$value[between], finding = new_finding("range-gap", out$name, source = out$from,
    values = rows_in_words(lost$value[between], lost$rows[between]), above = show_number(above)))
}

unmatched_finding <- function(made, apart) {
  lost <- made$receipt$unmatched
  lost <- lost[!lost$value %in% apart, ]
  if (is.null(lost) || !nrow(lost)) return(NULL)
  id <- if (identical(made$out$lost, "not in the table")) "key-unmatched" else "unmatched"
  new_finding(id, made$out$name, values = rows_in_words(lost$value, lost$rows))
}

# The texts that a table has but for case, outer spaces or accents.
nearly_in_table <- function(made, book) {
  table <- unlist(Filter(is.character, made$turn$table))
  if (is.null(table)) return(NULL)
  lapply(made$out$from, function(name) {
    met <- if (has_text(variable_in(book, name))) few_answers(variable_in(book, name))
    near <- loosen(met$values) %in% loosen(table) & !met$values %in% normal_text(table)
    if (any(near)) near_miss_finding(made$out$name, name, met, near, "row of the table",
      paste("add them to the table, or recode them first with",
        in_door_words("loose = TRUE", "loose: true")))
  })
}

near_miss_finding <- function(name, source, met, near, rule, how) {
  new_finding("near-miss", name, source = source, rule = rule, how = how,
    values = rows_in_words(quote_text(met$values[near]), met$rows[near]))
}

# Texts that differ in these alone and are told apart by a turn; said once for each variable.
spelled_apart <- function(made, book) {
  apart <- if (made$turn$verb %in% c("dummy", "collapse")) made$out$from
  lapply(unique(c(apart, made$turn$within)), function(source) {
    if (!is_first_of_source(made, made$out$from[1]) || !has_text(variable_in(book, source))) return(NULL)
    alike <- texts_alike(few_answers(variable_in(book, source))$values)
    if (length(alike)) new_finding("spelled-apart", made$out$name, source = source, values = alike)
  })
}

boundary_finding <- function(made) {
  rows <- made$receipt$boundary
  if (is.null(rows)) return(NULL)
  each <- paste0(show_number(rows$value), " (", rows$rows, ", now ", rows$code, ")")
  new_finding("boundary", made$out$name, values = utils::head(each, 8))
}

empty_rules <- function(out, branch) {
  rules <- rules_tested(out)
  hits <- branch$rows[seq_along(rules)]
  asks <- vapply(rules, asks_for_missing, NA)
  lapply(rules[hits == 0 & !asks], function(r) {
    new_finding("empty-rule", out$name, source = out$from[1] %||% "", values = describe_rule(r))
  })
}

# A tally of which no item of any row holds a value.
empty_tally <- function(made) {
  facts <- made$column$facts
  if (facts$valid && facts$high == 0) new_finding("empty-rule", made$out$name,
    source = made$out$from[1], values = describe_matchers(made$turn$of))
}

# Texts that no rule names, though one names them but for case, outer spaces or accents.
near_miss <- function(made, book) {
  out <- made$out
  if (isTRUE(made$turn$loose) || !has_text(variable_in(book, out$from))) return(NULL)
  matchers <- unlist(lapply(rules_tested(out), `[[`, "when"), recursive = FALSE)
  met <- answers_of(variable_in(book, out$from))
  near <- !text_named(met$values, matchers, FALSE) & text_named(met$values, matchers, TRUE)
  if (any(near)) near_miss_finding(out$name, out$from, met, near, "rule",
    in_door_words("add loose = TRUE, or name them", "add loose: true, or name them"))
}

# Whether some matcher names, or is held by, a text.
text_named <- function(texts, matchers, loose) {
  form <- if (loose) loosen else normal_text
  hit <- form(texts) %in% form(as.character(unlist(lapply(matchers, `[[`, "values"))))
  for (m in Filter(function(m) m$type == "holding", matchers)) {
    hit <- hit | texts_holding(texts, m, loose)
  }
  hit
}

asks_for_missing <- function(rule) {
  matchers <- c(rule$when, unlist(rule$where, recursive = FALSE))
  all(vapply(matchers, function(m) identical(m$type, "missing"), NA))
}

# Rows that a later rule would catch as well.
rule_overlap <- function(made) {
  rules <- rules_tested(made$out)
  also <- made$outcome$branch$also[seq_along(rules), seq_along(rules), drop = FALSE]
  both <- which(also > 0, arr.ind = TRUE)
  if (!nrow(both)) return(NULL)
  told <- vapply(rules, describe_rule, "")
  pairs <- paste0(told[both[, 1]], " and ", told[both[, 2]], " (", also[both], ")")
  new_finding("rule-overlap", made$out$name, values = utils::head(pairs, 4))
}

# A kept value, or a text, that falls on a code which a rule gives to others.
code_merge <- function(made, book) {
  out <- made$out
  keeps <- any(vapply(out$rules, function(r) is_unchanged(r$code), NA))
  if (!keeps) return(NULL)
  seen <- answers_of(variable_in(book, out$from))
  codes <- unlist(lapply(Filter(function(r) !is_unchanged(r$code) && !is.na(r$code), out$rules),
    `[[`, "code"))
  named <- unlist(lapply(out$rules, `[[`, "when"), recursive = FALSE)
  named <- Filter(function(m) m$type != "missing", named)
  clash <- Filter(function(code) code %in% seen$values && !match_rows(code, named), unique(codes))
  labels <- meaning_in(book, out$from)$codes
  clash <- clash[!text_named(label_of(clash, labels), named, isTRUE(made$turn$loose))]
  if (!length(clash)) return(NULL)
  new_finding("code-merge", out$name, source = out$from,
    values = rows_in_words(show_value(clash), seen$rows[match(clash, seen$values)]))
}
