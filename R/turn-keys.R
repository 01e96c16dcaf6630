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
  flag = c(formula = "formula", label = "texts", missing = "word")
)

# The key without which a turn says nothing.
needed_keys <- c(
  recode = "rules", reverse = "from", composite = "from", rescale = "from", bin = "from",
  collapse = "from", key = "right", tally = "of",
  compute = "formula", flag = "formula"
)

common_keys <- c(
  high = "text", note = "text", define = "meanings", learned = "learned"
)

keys_of <- function(verb) c(turn_keys[[verb]], common_keys)

rule_keys <- c(code = "code", when = "matchers", where = "conditions", rest = "flag", label = "text")

meaning_keys <- c(
  label = "text", codes = "codes", missing = "missing", level = "word", limits = "numbers",
  high = "text", low = "text", unit = "text", note = "text"
)
