# Every finding, worded once: how serious it is, what happened, what to do.
finding_words <- list(
  "open-range" = c("warn",
    "An open-ended range of `{name}` caught values of `{source}` that look like missing codes: {values}.",
    "If they are: define(book, {source}, missing = c({codes}))."),
  "undeclared-missing" = c("warn", "`{source}` holds values that look like undeclared missing codes: {values}.",
    "If they are: define(book, {source}, missing = c({codes}))."),
  "range-gap" = c("warn",
    "Values of `{source}` fall between two rules of `{name}`, so they became missing: {values}.",
    "Let the ranges meet: under = {above} below, from({above}) above."),
  "rule-overlap" = c("warn", "Two rules of `{name}` catch the same rows, and the first one won: {values}.",
    "Make the rules exclude each other."),
  "empty-rule" = c("warn", "No row was caught by the rule of `{name}` for {values}.",
    "Check its values against look(book, {source})."),
  "unmatched" = c("warn", "No rule of `{name}` caught these values, so they became missing: {values}.",
    "Add rules for them, or the_rest(...)."),
  "boundary" = c("note", "Rows lie exactly on a cut point of `{name}`: {values}.",
    "Check that they went where they belong; `upto` and `under` say it."),
  "beyond-limits" = c("warn", "`{source}` has values outside its limits {limits}: {values}.",
    "Correct the data, declare them missing, or: define(book, {source}, limits = c(low, high))."),
  "reversed-twice" = c("warn", "`{source}` is itself a reversed item, so `{name}` is back where it began.",
    "Use `{first}`, or leave the second reversal out."),
  "maybe-unreversed" = c("warn", "In `{name}` these run against the other items: {values}.",
    "If they are worded the other way: reversed = c({items})."),
  "item-twice" = c("warn", "`{name}` holds the same item more than once: {values}.", "Leave one of them out."),
  "mixed-ranges" = c("warn", "The items of `{name}` do not share one range: {values}.",
    "Bring them to one scale first: turn_rescale(book, ..., to = c(0, 100))."),
  "partial-sum" = c("warn", "`{name}` is a sum over fewer items for {values}, so these are too low.",
    "Add prorate = TRUE, or take the mean."),
  "few-valid" = c("warn", "`{name}` scores only {values}.", "Ask for fewer valid items: at_least = ..."),
  "category-arithmetic" = c("warn",
    "`{source}` is nominal: its codes are names, and `{name}` reckons with them as numbers.",
    "Dummy-code it, or: define(book, {source}, level = \"ordinal\")."),
  "text-number" = c("warn",
    "`{source}` holds numbers as text, and some cannot be read, so they became missing: {values}.",
    "Recode them first, or declare them missing: define(book, {source}, missing = ...)."),
  "undefined" = c("warn",
    "`{name}` is undefined in {values}: a logarithm, root, power or division out of its domain.",
    "Say what these rows are to be: if (x > 0) log(x) else ..., or log1p(x)."),
  "pattern-gave-up" = c("warn", "In {values} the pattern of `{name}` gave up, so they became missing.",
    "Write a simpler pattern, without repeats inside repeats."),
  "data-changed" = c("warn", "`{name}` is the file that the record was made on, but {values} since.",
    "Get the file of that time, or judge it: apply_turns(..., accept = c(\"data-changed\" = \"the reason\"))."),
  "no-spread" = c("warn", "Groups of `{name}` have too few rows or no spread, so they became missing: {values}.",
    "Standardize within larger groups, or in the whole sample."),
  "uneven-groups" = c("warn", "The bands of `{name}` are not of equal count: {values}.",
    "Equal values cannot be parted; ask for fewer groups, or state cut points."),
  "rare-category" = c("warn", "Few rows hold a category of `{name}`: {values}.",
    "Merge it with another: turn_collapse(book, {source}, rarer_than = 0.05)."),
  "baseline-missing" = c("note", "Rows of `{source}` without an answer stay missing in its columns: {values}.",
    "They are not in the reference. To give them a column: missing = \"level\"."),
  "dummy-trap" = c("warn",
    "All levels of `{source}` are used together ({columns}), so with an intercept they add up to one.",
    "Leave the reference out of what goes into a regression."),
  "number-as-level" = c("note",
    "`{name}` reckons with `{source}`, whose codes are all labelled and whose level is not stated.",
    "State it, for example: define(book, {source}, level = \"ordinal\")."),
  "order-lost" = c("warn",
    "`{source}` is ordinal, but its order in `{name}` comes only from sorting its texts: {values}.",
    "Recode it to codes in their order first."),
  "code-merge" = c("warn", "In `{name}` a code falls together with another category of `{source}`: {values}.",
    "Choose a code that is free, or name the other category in the rule if the merge is meant."),
  "label-gap" = c("warn", "`{source}` has labels, but not for these codes: {values}.",
    "Say what they are: define(book, {source}, codes = c(...)), or missing = c(...)."),
  "direction-unknown" = c("note", "Nothing says what a high value of `{name}` means.", "Add high = \"more ...\"."),
  "group-boundary" = c("warn",
    "Occasions are lacking before rows of `{name}`, and an earlier one was used: {values}.",
    "Check the order, or leave these rows out."),
  "equals-float" = c("warn", "`{name}` asks for an exact match of a fraction: {values}.",
    "Compare with a range, such as abs(x - 0.3) < 1e-9, or round first."),
  "unit-slip" = c("warn", "Values of `{source}` beyond its limits all fit when divided by {factor}: {values}.",
    "They may be in another unit; correct them: if (x > limit) x / {factor} else x."),
  "stale-learned" = c("warn", "`{source}` has values outside what was learned: {values}.",
    "Learn anew from these data: apply_turns(..., learned = \"refit\"), or judge and accept."),
  "new-code" = c("warn", "`{source}` holds codes that the record never saw: {values}.",
    "Amend the turns that read it: amend(book, ...)."),
  "key-unmatched" = c("warn",
    "The table of `{name}` has no row for these values: {values}.", "Add them to the table."),
  "name-clash" = c("warn", "The name `{name}` {values}.", "Choose a plain name of its own."),
  "identical-result" = c("warn", "`{name}` {values}.", "Check the formula, or leave it out."),
  "must-hold" = c("warn", "{name} does not hold in {values}.", "Look at these rows; correct the data, or the check.")
)

finding_ids <- function() names(finding_words)

# A finding: its id, the variable, and the pieces of its words.
new_finding <- function(id, name, ..., severity = NULL) {
  words <- finding_words[[id]]
  pieces <- lapply(list(name = name, ...), name_list)
  list(id = id, severity = severity %||% words[1], variable = name, what = fill_words(words[2], pieces),
    todo = fill_words(words[3], pieces), values = pieces$values %||% "", source = pieces$source %||% "")
}

# Values with their rows, the first eight, as they stand in a finding.
rows_in_words <- function(values, rows) {
  shown <- seq_len(min(8, length(values)))
  more <- length(values) - length(shown)
  paste0(paste0(values[shown], " (", rows[shown], ")", collapse = ", "), if (more) paste0(", and ", more, " more"))
}
