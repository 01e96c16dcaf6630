# Findings about rules and bands, and about the values that none of them names.
find_in_rules <- function(made) {
  out <- made$out
  single <- is_single_rule_set(out)
  c(
    if (single) list(open_range(made), code_merge(made), near_miss(made)),
    empty_rules(out, made$outcome$branch),
    if (!has_trait(made$turn$verb, "its rules may overlap")) list(rule_overlap(made)),
    if (made$turn$verb == "tally") list(empty_tally(made)),
    list(label_contradicts(made))
  )
}

# What the receipt has counted: values that no rule or table names, rows on a cut point.
find_in_receipt <- function(made) {
  told <- made$receipt
  if (is.null(told$unmatched) && is.null(told$boundary)) return(NULL)
  gaps <- if (is_single_rule_set(made$out)) range_gaps(made$out, made)
  list(gaps$finding, unmatched_finding(made, gaps$values), boundary_finding(made))
}

# Texts that differ in case, spaces or accents alone.
find_in_texts <- function(made) {
  if (!any_text(made$sources) && is.null(made$turn$within)) return(NULL)
  c(spelled_apart(made), if (!is.null(made$turn$table)) nearly_in_table(made))
}

is_single_rule_set <- function(out) !is.null(out$rules) && length(out$from) == 1

rules_tested <- function(out) Filter(function(r) !r$rest, out$rules)

# Values at one end that look like missing codes, caught by a range that is open there.
open_range <- function(made) {
  out <- made$out
  source <- made$sources[[out$from]]
  if (is_made(source) || has_text(source)) return(NULL)
  suspects <- suspects_of(source)
  if (!length(suspects)) return(NULL)
  seen <- numbers_of(source)
  caught <- rules_catching(suspects, out, source)
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
rules_catching <- function(values, out, source) {
  column <- cell_column(values, column_of(source)$kinds)
  small <- site_of_columns(setNames(list(column), out$from), setNames(list(source), out$from),
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
  id <- if (identical(made$out$looked_up, "table")) "key-unmatched" else "unmatched"
  new_finding(id, made$out$name, values = rows_in_words(lost$value, lost$rows))
}

# The texts that a table has but for case, outer spaces or accents.
nearly_in_table <- function(made) {
  table <- unlist(Filter(is.character, made$turn$table))
  if (is.null(table) || isTRUE(made$turn$loose)) return(NULL)
  lapply(made$out$from, function(name) {
    source <- made$sources[[name]]
    met <- if (has_text(source)) few_answers(source)
    near <- loosen(met$values) %in% loosen(table) & !met$values %in% normal_text(table)
    if (any(near)) near_miss_finding(made$out$name, name, met, near, "row of the table",
      if (made$turn$verb == "crosswalk") {
        for_reader("add loose = TRUE, or add them to the table",
          "add loose: true, or add them to the table",
          "let texts match whatever their case, or add them to the table")
      } else {
        paste("add them to the table, or recode them first with",
          for_reader("loose = TRUE", "loose: true",
            "texts that match whatever their case"))
      })
  })
}

near_miss_finding <- function(name, source, met, near, rule, how) {
  new_finding("near-miss", name, source = source, rule = rule, how = how,
    values = rows_in_words(quote_text(met$values[near]), met$rows[near]))
}

# Texts that differ in these alone and are told apart by a turn; said once for each variable.
spelled_apart <- function(made) {
  apart <- if (made$turn$verb %in% c("dummy", "collapse")) made$out$from
  lapply(unique(c(apart, made$turn$within)), function(source) {
    variable <- made$outcome$at$variable(source)
    if (!is_first_of_source(made, made$out$from[1]) || !has_text(variable)) return(NULL)
    alike <- texts_alike(few_answers(variable)$values)
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
near_miss <- function(made) {
  out <- made$out
  source <- made$sources[[out$from]]
  if (isTRUE(made$turn$loose) || !has_text(source)) return(NULL)
  matchers <- unlist(lapply(rules_tested(out), `[[`, "when"), recursive = FALSE)
  met <- answers_of(source)
  near <- !text_named(met$values, matchers, FALSE) & text_named(met$values, matchers, TRUE)
  if (any(near)) near_miss_finding(out$name, out$from, met, near, "rule",
    for_reader("add loose = TRUE, or name them", "add loose: true, or name them",
      "let texts match whatever their case, or name them"))
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
code_merge <- function(made) {
  out <- made$out
  keeps <- any(vapply(out$rules, function(r) is_unchanged(r$code), NA))
  if (!keeps) return(NULL)
  source <- made$sources[[out$from]]
  seen <- answers_of(source)
  codes <- unlist(lapply(Filter(function(r) !is_unchanged(r$code) && !is.na(r$code), out$rules),
    `[[`, "code"))
  named <- unlist(lapply(out$rules, `[[`, "when"), recursive = FALSE)
  named <- Filter(function(m) m$type != "missing", named)
  clash <- Filter(function(code) code %in% seen$values && !match_rows(code, named), unique(codes))
  labels <- source$meaning$codes
  clash <- clash[!text_named(label_of(clash, labels), named, isTRUE(made$turn$loose))]
  if (!length(clash)) return(NULL)
  new_finding("code-merge", out$name, source = out$from,
    values = rows_in_words(show_value(clash), seen$rows[match(clash, seen$values)]))
}
