#' @include base-fail.R
NULL

# Every finding, worded once: how serious it is, what happened, what to do; `sheet`: the same for
# who works on a turn sheet rather than in R, where that differs.
word_findings(list(
  "open-range" = c("warn",
    paste("An open-ended range of `{name}` caught values of `{source}` that look like missing",
      "codes: {values}."),
    "If they are: define(book, {source}, missing = c({codes})).",
    sheet = "If they are, under define: {source}: {{missing: {{{codes_in_sheet}}}}}."),
  "undeclared-missing" = c("warn",
    "`{source}` holds values that look like undeclared missing codes: {values}.",
    "If they are: define(book, {source}, missing = c({codes})).",
    sheet = "If they are, under define: {source}: {{missing: {{{codes_in_sheet}}}}}."),
  "range-gap" = c("warn",
    "Values of `{source}` fall between two rules of `{name}`, so they became missing: {values}.",
    "Let the ranges meet: under = {above} below, from({above}) above.",
    sheet = "Let the ranges meet: \"< {above}\" below, \"{above} ..\" above."),
  "rule-overlap" = c("warn",
    "Two rules of `{name}` catch the same rows, and the first one won: {values}.",
    "Make the rules exclude each other."),
  "empty-rule" = c("warn", "No row was caught by the rule of `{name}` for {values}.",
    "Check its values against look(book, {source}).",
    sheet = "Check its values: ableturn look FILE {source}."),
  "near-miss" = c("warn",
    paste("Texts of `{source}` are named by no rule of `{name}`, though but for case, spaces or",
      "accents they are: {values}."),
    "If they are meant: add loose = TRUE, or name them.",
    sheet = "If they are meant: add loose: true, or name them."),
  "pattern-literal" = c("note",
    "`{name}` takes these texts as they stand, though they look like patterns: {values}.",
    "If a pattern is meant: grepl(..., regex = TRUE), or holding(regex = ...).",
    sheet = "If a pattern is meant: grepl(..., regex = TRUE), or {{holding: {{regex: ...}}}}."),
  "unmatched" = c("warn",
    "No rule of `{name}` caught these values, so they became missing: {values}.",
    "Add rules for them, or the_rest(...).",
    sheet = "Add rules for them, or one with rest: true."),
  "boundary" = c("note", "Rows lie exactly on a cut point of `{name}`: {values}.",
    "Check that they went where they belong; `upto` and `under` say it.",
    sheet = paste("Check that they went where they belong: \"30 .. 60\" holds 60, \"30 .. < 60\"",
      "does not.")),
  "beyond-limits" = c("warn", "`{source}` has values outside its limits {limits}: {values}.",
    "Correct the data, declare them missing, or: define(book, {source}, limits = c(low, high)).",
    sheet = paste("Correct the data, declare them missing, or under define: {source}: {{limits:",
      "[low, high]}}.")),
  "reversed-twice" = c("warn",
    "`{source}` is itself a reversed item, so `{name}` is back where it began.",
    "Use `{first}`, or leave the second reversal out."),
  "maybe-unreversed" = c("warn", "In `{name}` these run against the other items: {values}.",
    "If they are worded the other way: reversed = c({items}).",
    sheet = "If they are worded the other way: reversed: [{items}]."),
  "negative-alpha" = c("warn",
    paste("The items of `{name}` do not hang together: alpha is {alpha}, and against the others",
      "run {values}."),
    "Look at item_analysis(): some may be worded the other way, or they are no scale.",
    sheet = "Look at its items: some may be worded the other way, or they are no scale."),
  "item-twice" = c("warn", "`{name}` holds the same item more than once: {values}.",
    "Leave one of them out."),
  "mixed-ranges" = c("warn", "The items of `{name}` do not share one range: {values}.",
    "Bring them to one scale first: turn_rescale(book, ..., to = c(0, 100)).",
    sheet = "Bring them to one scale first: a turn rescale with to: [0, 100]."),
  "partial-sum" = c("warn",
    "`{name}` is a sum over fewer items for {values}, so these are too low.",
    "Add prorate = TRUE, or take the mean.",
    sheet = "Add prorate: true, or take how: mean."),
  "few-valid" = c("warn", "`{name}` scores only {values}.",
    "Ask for fewer valid items: at_least = ...", sheet = "Ask for fewer valid items: at_least."),
  "category-arithmetic" = c("warn",
    "`{source}` is nominal: its codes are names, and `{name}` reckons with them as numbers.",
    "Dummy-code it, or: define(book, {source}, level = \"ordinal\").",
    sheet = "Dummy-code it, or under define: {source}: {{level: ordinal}}."),
  "text-number" = c("warn",
    paste("`{source}` holds numbers as text, and some cannot be read, so they became missing:",
      "{values}.{offer}"),
    "Recode them first, or declare them missing: define(book, {source}, missing = ...).",
    sheet = "Recode them first, or declare them under define: {source}: {{missing: ...}}."),
  "undefined" = c("warn",
    "`{name}` is undefined in {values}: a logarithm, root, power or division out of its domain.",
    "Say what these rows are to be: if (x > 0) log(x) else ..., or log1p(x)."),
  "pattern-gave-up" = c("warn",
    "In {values} the pattern of `{name}` gave up, so they became missing.",
    "Write a simpler pattern, without repeats inside repeats."),
  "data-changed" = c("warn",
    "`{name}` is the file that the record was made on, but {values} since.",
    paste("Get the file of that time, or judge it: apply_turns(..., accept = c(\"data-changed\" =",
      "\"the reason\"))."),
    sheet = paste("Get the file of that time, or judge it under data:",
      "accept: [{{finding: data-changed, because: \"the reason\"}}].")),
  "no-spread" = c("warn",
    "Groups of `{name}` have too few rows or no spread, so they became missing: {values}.",
    "Standardize within larger groups, or in the whole sample."),
  "uneven-groups" = c("warn", "The bands of `{name}` are not of equal count: {values}.",
    "Equal values cannot be parted; ask for fewer groups, or state cut points."),
  "rare-category" = c("warn", "Few rows hold a category of `{of}`: {values}.",
    "Merge it with another: turn_collapse(book, {source}, rarer_than = 0.05).",
    sheet = "Merge it with another: a turn collapse with rarer_than: 0.05."),
  "baseline-missing" = c("note",
    "Rows of `{source}` without an answer stay missing in its columns: {values}.",
    "They are not in the reference. To give them a column: missing = \"level\".",
    sheet = "They are not in the reference. To give them a column: missing: level."),
  "dummy-trap" = c("warn",
    paste("All levels of `{source}` are used together ({columns}), so with an intercept they add",
      "up to one."),
    "Leave the reference out of what goes into a regression."),
  "number-as-level" = c("note",
    "`{name}` reckons with `{source}`, whose codes are all labelled and whose level is not stated.",
    "State it, for example: define(book, {source}, level = \"ordinal\").",
    sheet = "State it, for example under define: {source}: {{level: ordinal}}."),
  "order-lost" = c("warn",
    "The order of `{source}` in `{name}` comes only from sorting its texts: {values}.",
    "State it: define(book, {source}, codes = c(...), level = \"ordinal\"), or bring a factor.",
    sheet = "State it under define: {source}: {{codes: ..., level: ordinal}}."),
  "code-merge" = c("warn",
    "In `{name}` a code falls together with another category of `{source}`: {values}.",
    "Choose a code that is free, or name the other category in the rule if the merge is meant."),
  "label-gap" = c("warn", "`{source}` has labels, but not for these codes: {values}.",
    "Say what they are: define(book, {source}, codes = c(...)), or missing = c(...).",
    sheet = "Say under define what they are: {source}: {{codes: ...}}, or {{missing: ...}}."),
  "direction-unknown" = c("note", "Nothing says what a high value of `{name}` means.",
    "Add high = \"more ...\".", sheet = "Add high: \"more ...\"."),
  "group-boundary" = c("warn",
    "Occasions are lacking before rows of `{name}`, and an earlier one was used: {values}.",
    "Check the order, or leave these rows out."),
  "equals-float" = c("warn", "`{name}` asks for an exact match of a fraction: {values}.",
    "Compare with a range, such as abs(x - 0.3) < 1e-9, or round first."),
  "unit-slip" = c("warn",
    "Values of `{source}` beyond its limits all fit when {word} {factor}: {values}.",
    "They may be in another unit; correct them: if (x {test} limit) x {sign} {factor} else x."),
  "weight-missing" = c("note",
    "Rows left the statistics of `{name}` because their weight is missing: {values}.",
    "Give them a weight, or say why they have none."),
  "before-birth" = c("warn",
    "`{name}` is negative in {values}: a date lies before the one it is counted from.",
    "Look at these rows; correct the dates, or change their places."),
  "stale-learned" = c("warn", "`{source}` has values outside what was learned: {values}.",
    "Learn anew from these data: apply_turns(..., learned = \"refit\"), or judge and accept.",
    sheet = "Learn anew from these data: --learned refit, or judge and accept."),
  "new-code" = c("warn", "`{source}` holds codes that the record never saw: {values}.",
    "Amend the turns that read it: amend(book, ...).",
    sheet = "Change the turns that read it."),
  "key-unmatched" = c("warn",
    "The table of `{name}` has no row for these values: {values}.", "Add them to the table."),
  "name-clash" = c("warn", "The name `{name}` {values}.", "Choose a plain name of its own."),
  "identical-result" = c("warn", "`{name}` {values}.", "Check the formula, or leave it out."),
  "must-hold" = c("warn", "{name} does not hold in {values}.",
    "Look at these rows; correct the data, or the check.")
))

# A finding: its id, the variable, and the pieces of its words, which are put together when someone
# reads them.
new_finding <- function(id, name, ..., severity = NULL) {
  pieces <- list(name = name, ...)
  list(id = id, severity = severity %||% finding_words[[id]][[1]], variable = name,
    pieces = pieces, values = name_list(pieces$values %||% ""),
    source = name_list(pieces$source %||% ""))
}

# The finding with what happened and what to do about it, in the words of the door that asks.
in_words <- function(finding) {
  words <- finding_words[[finding$id]]
  pieces <- lapply(finding$pieces, name_list)
  if (!is.null(pieces$codes)) {
    pieces$codes_in_sheet <- gsub("\" = ", "\": ", pieces$codes, fixed = TRUE)
  }
  todo <- if (speaks_sheet() && "sheet" %in% names(words)) "sheet" else 3
  finding$what <- fill_words(words[2], pieces)
  finding$todo <- fill_words(words[todo], pieces)
  finding
}

# Values with their rows, the first eight, as they stand in a finding.
rows_in_words <- function(values, rows) {
  shown <- seq_len(min(8, length(values)))
  more <- length(values) - length(shown)
  paste0(paste0(brief_text(values[shown]), " (", rows[shown], ")", collapse = ", "),
    if (more) paste0(", and ", more, " more"))
}
