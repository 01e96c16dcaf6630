# What a turn may say in a sheet, and of what shape it is. `define` and `learned` belong to
# every turn; the first key of a turn names its verb and the variables it makes.
turn_keys <- list(
  recode = c(from = "names", rules = "rules", loose = "flag", missing = "text"),
  reverse = c(from = "names", limits = "numbers", missing = "text"),
  composite = c(
    from = "names", how = "text", at_least = "number", reversed = "names", weights = "numbers",
    prorate = "flag", valid_count = "flag"
  ),
  compute = c(formula = "formula", each = "names", missing = "text"),
  flag = c(formula = "formula", missing = "text")
)

common_keys <- c(
  label = "texts", note = "text", high = "text", define = "meaning", learned = "learned"
)

keys_of <- function(verb) c(turn_keys[[verb]], common_keys)

rule_keys <- c(code = "code", when = "matchers", where = "conditions", rest = "flag", label = "text")

meaning_keys <- c(
  label = "text", codes = "codes", missing = "missing", level = "text", limits = "numbers",
  high = "text", low = "text", unit = "text", note = "text"
)
