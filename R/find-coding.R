# Findings about reversals, bands, dummies and standardizing.
find_in_coding <- function(made, book) {
  c(
    switch(made$turn$verb,
      reverse = list(reversed_twice(made), direction_unknown(made$out)),
      bin = list(uneven_groups(made)),
      dummy = dummy_findings(made, book),
      interact = interaction_traps(made, book)
    ),
    if (length(made$out$remarks)) remark_findings(made),
    list(if (any(c("==", "%in%") %in% made$words)) equals_float(made),
      if (any(words_with("tries a pattern") %in% made$words)) pattern_literal(made))
  )
}

direction_unknown <- function(out) {
  if (is.null(out$meaning$high) && is.null(out$meaning$low)) {
    new_finding("direction-unknown", out$name)
  }
}

reversed_twice <- function(made) {
  before <- if (length(made$out$from) == 1) made$sources[[made$out$from]]
  if (identical(before$verb, "reverse")) {
    new_finding("reversed-twice", made$out$name, source = before$name, first = before$from)
  }
}

# Bands that were to be of equal count and are not.
uneven_groups <- function(made) {
  if (is.null(made$turn$groups) || !identical(made$turn$by, "count") ||
    !is.null(made$turn$weight)) return(NULL)
  counts <- made$column$facts$rows
  even <- sum(counts) / made$turn$groups
  fewer <- length(counts) < made$turn$groups
  if (!length(counts) || !(fewer || max(counts) > 1.5 * even || min(counts) < 0.5 * even)) {
    return(NULL)
  }
  new_finding("uneven-groups", made$out$name,
    values = c(if (fewer) paste(length(counts), "bands instead of", made$turn$groups),
      paste(counts, "rows")))
}

# Said once for each variable: with its first column.
dummy_findings <- function(made, book) {
  source <- made$out$from[1]
  if (!is_first_of_source(made, source)) return(NULL)
  gone <- row_count(book) - facts_of(variable_in(book, source))$valid
  met <- answers_of(variable_in(book, source))
  list(
    if ((made$turn$coding %||% "indicator") == "indicator") few_hold(made, source,
      met$values, met$rows, meaning_in(book, source)$codes),
    if (gone && !identical(made$turn$missing, "level")) {
      new_finding("baseline-missing", made$out$name, source = source, values = counted(gone, "row"))
    },
    if (isTRUE(made$turn$all_levels)) trap_finding(made, source, "note"),
    order_lost(made, source, book)
  )
}

# An order that matters and comes only from sorting texts: surely of texts, and likely of a factor
# without an order whose levels are sorted. What is on record has its order from there.
order_lost <- function(made, source, book) {
  ordered <- !(made$turn$coding %||% "") %in% c("difference", "helmert", "polynomial") ||
    formula_text(call("categories", as.name(source))) %in% made$on_record ||
    !has_text(variable_in(book, source))
  if (ordered) return(NULL)
  meaning <- meaning_in(book, source)
  known <- have_order(answers_of(variable_in(book, source))$values, meaning$codes)
  sorted <- identical(meaning$level, "nominal") && length(meaning$codes) > 2 &&
    identical(names(meaning$codes), sort_points(names(meaning$codes)))
  if (!known || sorted) new_finding("order-lost", made$out$name, source = source,
    values = made$receipt$coded$code, severity = if (known) "note")
}

# Categories that fewer than 5 rows hold, or less than a twentieth and fewer than 30.
few_hold <- function(made, of, values, rows, codes) {
  all <- sum(rows)
  if (all < 50) return(NULL)
  few <- rows < 5 | all >= 100 & rows < 30 & rows < all / 20
  if (!any(few)) return(NULL)
  order <- order(values, method = "radix")
  values <- values[order]
  rows <- rows[order]
  few <- few[order]
  labels <- label_of(values, codes) %|% show_value(values)
  new_finding("rare-category", made$out$name, of = of, merge = merging_call(of, labels[few],
    rows[few], sum(rows)), values = rows_in_words(labels[few], rows[few]),
    severity = if (any(rows < 5)) "warn" else "note")
}

# Several are merged with each other; one has to be merged with another, which only the analyst can
# choose.
merging_call <- function(of, labels, rows, all) {
  if (length(rows) == 1) {
    return(for_reader(paste0("turn_collapse(book, ", of, ", becomes(\"...\", c(",
      quote_text(labels), ", \"...\")))"), "a turn collapse with rules that name both",
      "the same name beside both"))
  }
  share <- show_number(max(5, floor(100 * max(rows) / all) + 1) / 100)
  for_reader(paste0("turn_collapse(book, ", of, ", rarer_than = ", share, ")"),
    paste0("a turn collapse with rarer_than: ", share),
    paste0("merge what is rarer than ", show_number(100 * as.numeric(share)), " %"))
}

# All dummies of a variable on one side of an interaction; said with the first product.
interaction_traps <- function(made, book) {
  if (length(made$before)) return(NULL)
  whole <- unlist(lapply(made$turn[c("from", "with")], whole_sources, book = book))
  lapply(unique(whole), function(source) trap_finding(made, source))
}

trap_finding <- function(made, source, severity = NULL) {
  new_finding("dummy-trap", made$out$name, source = source, severity = severity,
    columns = name_list(made$turn$makes, 3))
}

# Variables each of whose valid rows is a 1 in one of these dummies.
whole_sources <- function(names, book) {
  dummies <- names[verbs_in(book, names) == "dummy"]
  sources <- vapply(dummies, function(name) derived_in(book, name)$from[1], "")
  Filter(function(source) {
    facts <- lapply(variables_in(book, dummies[sources == source]), facts_of)
    ones <- vapply(facts, function(f) sum(f$rows[f$values == 1]), 0)
    length(facts) > 1 && sum(ones) == facts_of(variable_in(book, source))$valid
  }, unique(sources))
}

is_first_of_source <- function(made, source) {
  is.null(made$before) ||
    !any(vapply(made$before, function(part) identical(part$column$from[1], source), NA))
}

# What the turn itself has remarked on.
remark_findings <- function(made) {
  told <- Filter(function(said) !is.null(said$finding), made$out$remarks)
  lapply(told, function(said) new_finding(said$finding, made$out$name, values = said$detail))
}

# x == 0.3 where x went through a division, a root, a logarithm or a statistic.
equals_float <- function(made) {
  inexact <- words_with("inexact")
  found <- character()
  if (!any(inexact %in% made$words)) return(NULL)
  walk_formula(made$out$expr, function(call) {
    if (call_head(call) %in% c("==", "%in%") && length(call) == 3) {
      sides <- as.list(call)[-1]
      fraction <- vapply(sides, function(s) is.numeric(s) && any(s != round(s), na.rm = TRUE), NA)
      worked <- vapply(sides, function(s) is.call(s) && any(all.names(s) %in% inexact), NA)
      if (any(fraction) && any(worked[!fraction])) found <<- c(found, formula_text(call))
    }
    call
  })
  if (length(found)) new_finding("equals-float", made$out$name, values = unique(found))
}

# Signs of a pattern in what grepl(), sub(), gsub() or holding() take as it stands.
pattern_literal <- function(made) {
  calls <- unlist(lapply(words_with("tries a pattern"), calls_of, node = made$out$expr),
    recursive = FALSE)
  literal <- Filter(function(call) !isTRUE(as.list(call)$regex), calls)
  pieces <- as.character(unlist(lapply(literal, function(call) call[[2]])))
  signs <- grepl("^\\^|[$]$|[|]|\\[.*\\]|[.][*+]|\\\\", pieces)
  if (any(signs)) {
    new_finding("pattern-literal", made$out$name, values = unique(quote_text(pieces[signs])))
  }
}
