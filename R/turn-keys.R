# What a turn may say in a sheet, and of what shape it is. `define` and `learned` belong to
# every turn; the first key of a turn names its verb and the variables it makes.
turn_keys <- list(
  recode = c(from = "names", label = "texts", rules = "rules", loose = "flag", missing = "word"),
  reverse = c(from = "names", label = "texts", limits = "numbers", missing = "word"),
  composite = c(
    from = "names", label = "texts", how = "word", at_least = "number", reversed = "names", weights = "numbers",
    prorate = "flag", valid_count = "flag"
  ),
  rescale = c(
    from = "names", label = "texts", shift = "number", limits = "numbers", to = "numbers", missing = "word"
  ),
  bin = c(
    from = "names", label = "texts", at = "numbers", groups = "number", by = "word", edge = "word",
    labels = "texts", weight = "names", missing = "word"
  ),
  collapse = c(
    from = "names", label = "texts", rules = "rules", rarer_than = "number", most_frequent = "number",
    other = "text", missing = "word"
  ),
  key = c(from = "names", label = "texts", right = "values", wrong = "number", unanswered = "word"),
  tally = c(from = "names", label = "texts", of = "matchers"),
  compute = c(formula = "formula", each = "names", label = "texts", missing = "word"),
  flag = c(formula = "formula", each = "names", label = "texts", missing = "word"),
  dummy = c(
    from = "names", label = "texts", reference = "values", coding = "word", all_levels = "flag", missing = "word",
    as = "text"
  ),
  standardize = c(
    from = "names", label = "texts", how = "word", within = "names", weight = "names", reference = "numbers",
    limits = "numbers", divisor = "text", missing = "word"
  ),
  crosswalk = c(from = "names", label = "texts", table = "table", missing = "word"),
  norm = c(from = "names", label = "texts", table = "table", missing = "word"),
  change = c(from = "names", label = "texts", unit = "names", order = "names", how = "word"),
  group = c(from = "names", label = "texts", within = "names", how = "word"),
  interact = c(from = "names", with = "names", label = "texts", centre = "flag"),
  instrument = c(title = "text", scales = "instrument", as = "text")
)

# The key without which a turn says nothing.
needed_keys <- c(
  recode = "rules", reverse = "from", composite = "from", rescale = "from", bin = "from",
  collapse = "from", key = "right", tally = "of",
  compute = "formula", flag = "formula", dummy = "from", standardize = "from", crosswalk = "table", norm = "table",
  change = "from", group = "from", interact = "with", instrument = "scales"
)

common_keys <- c(
  high = "text", note = "text", accept = "accepts", renamed = "renames", define = "meanings", learned = "learned"
)

# The names that a turn is given; the count of valid items follows from its composite's name.
named_results <- function(turn) utils::head(turn$makes, length(turn$makes) - isTRUE(turn$valid_count))

# Names that were given later to some of them, see rename_turn(): the usual names, named by those.
with_later_names <- function(makes, renamed) {
  found <- match(makes, renamed, nomatch = 0L)
  makes[found > 0] <- names(renamed)[found]
  makes
}

keys_of <- function(verb) c(turn_keys[[verb]], common_keys)

rule_keys <- c(code = "code", when = "matchers", where = "conditions", rest = "flag", label = "text")

meaning_keys <- c(
  label = "text", codes = "codes", missing = "missing", level = "word", limits = "numbers",
  high = "text", low = "text", unit = "text", note = "text", asked_if = "formula", read = "word"
)
