#' @include formula-errors.R
NULL

# Spans of time keep their unit: what is added, taken off, compared or scored together must be in
# one.

# The seconds of each unit, and what else it is called.
span_seconds <- c(secs = 1, mins = 60, hours = 3600, days = 86400, weeks = 604800)

span_names <- c(second = "secs", seconds = "secs", sec = "secs", s = "secs", minute = "mins",
  minutes = "mins", min = "mins", hour = "hours", h = "hours", day = "days", week = "weeks",
  self_named(names(span_seconds)))

# The unit that a stated one stands for, if it is one of time.
span_unit <- function(stated) {
  if (is.null(stated)) return(NULL)
  name <- tolower(trimws(stated))
  if (name %in% names(span_names)) span_names[[name]]
}

# The unit of time of what a formula gives, NULL where it is none; units that do not go together are
# an error. `unit_of(name)` and `type_of(name)` tell of variables.
formula_unit <- function(node, unit_of, type_of) {
  if (is.symbol(node)) return(unit_of(as.character(node)))
  if (!is.call(node)) return(NULL)
  head <- call_head(node)
  if (head == "{") return(block_unit(node, unit_of, type_of))
  if (head == "<-") return(formula_unit(node[[3]], unit_of, type_of))
  units <- lapply(unit_parts(node, head), function(part) {
    unit <- formula_unit(part, unit_of, type_of)
    # days are added to a date and taken off it
    list(part = part, unit = unit %||% if (identical(result_type(part, type_of), "date")) "days",
      dated = is.null(unit))
  })
  given_unit(node, head, Filter(function(u) !is.null(u$unit), units), type_of)
}

# The parts that must be in one unit, or, of other words, all of them, each for itself.
unit_parts <- function(node, head) {
  if (head %in% c("if", "choose", "first_valid")) return(value_parts(node, head))
  if (has_word_trait(head, "learned") || head %in% c("group", "previous")) return(list(node[[2]]))
  row_items(node)
}

given_unit <- function(node, head, units, type_of) {
  if (has_word_trait(head, "gives a span")) return("hours")
  compares <- has_word_trait(head, "compares")
  together <- compares || takes_together(head)
  if (together) refuse_units(node, units)
  if (!length(units) || compares || head == "row_valid") return(NULL)
  if (identical(result_type(node, type_of), "date")) return(NULL)
  if (together || hands_on_unit(node, head)) units[[1]]$unit
}

# The words that put amounts together, or choose among them.
takes_together <- function(head) {
  head %in% c("+", "-", "if", "choose", "first_valid") ||
    (has_word_trait(head, "over items") && head != "row_valid")
}

# The words whose result is in the unit of what they are given.
hands_on_unit <- function(node, head) {
  head %in% c("(", "baseline", "abs", "round", "floor", "ceiling", "trunc", "previous") ||
    has_word_trait(head, "learned") || (head == "group" && !node$how %in% c("size", "valid"))
}

refuse_units <- function(node, units) {
  names <- vapply(units, `[[`, "", "unit")
  other <- which(names != names[1])[1]
  if (is.na(other)) return(invisible())
  # a date cannot be put into another unit
  from <- if (units[[other]]$dated) 1 else other
  fail("units-differ", formula = if (call_head(node) == "choose") "the result" else
    formula_text(node), one = formula_text(units[[1]]$part),
    unit = names[1], other = formula_text(units[[other]]$part), other_unit = names[other],
    converted = converted_text(units[[from]]$part, names[from], names[if (from == 1) other else 1]))
}

# The formula that puts a part into another unit.
converted_text <- function(part, from, to) {
  by <- span_seconds[[from]] / span_seconds[[to]]
  formula_text(if (by >= 1) call("*", part, by) else call("/", part, 1 / by))
}

block_unit <- function(node, unit_of, type_of) {
  for (step in as.list(node)[-1]) {
    unit <- formula_unit(step, unit_of, type_of)
    if (is_assignment(step)) {
      type_of <- with_temporary(step, type_of)
      unit_of <- with_temporary_unit(step, unit, unit_of)
    }
  }
  unit
}

with_temporary_unit <- function(step, unit, unit_of) {
  name <- as.character(step[[2]])
  force(unit)
  force(unit_of)
  function(asked) if (asked == name) unit else unit_of(asked)
}

word_errors(list(
  "units-differ" = c(
    "{one} is in {unit} and {other} in {other_unit}: {formula} takes them together.",
    "Put them into one unit first: {converted}."),
  "unit-changed" = c("`{name}` is in {unit} here, and the sheet was made with {recorded}.",
    "Put it into that unit: units(data${name}) <- \"{recorded}\".",
    sheet = "Put it into that unit before the data are handed over.")
))
