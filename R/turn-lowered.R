# What a turn lowers itself to: one formula with its meaning for each variable that it makes.

# One variable of a turn, as formulas and meanings:
#   name, expr, meaning  what it is called, its formula, and what it means
#   rules    the rules behind the formula, if there are any
#   kinds    for a choose: the missing kind that each test gives, NA where it gives a code
#   carry    whether the source's reasons for missing answers are kept
#   notes    what was learned on the way, see new_note()
#   scale    whether the items are meant to hang together
#   looked_up  of a formula that looks values up: whether among those of a "table" or among the
#            "levels" of a variable
#   compared what the receipt says of the mean and SD of the source and of the result, if anything
#   caught   of conditions that are no rules: what each of them, and the rest, is in words
#   counted  of conditions: what the receipt says of the rows of each, empty where nothing
#   codes    whether whole results are codes
#   remarks  what the analyst should see, see new_remark()
new_lowered <- function(name, expr, meaning, rules = NULL, kinds = NULL, carry = TRUE, notes = NULL,
                        scale = FALSE, looked_up = NULL, codes = FALSE, remarks = NULL,
                        caught = NULL, counted = NULL, compared = NULL) {
  list(
    name = name, expr = expr, meaning = meaning, rules = rules, kinds = kinds,
    carry = carry, notes = notes, scale = scale, looked_up = looked_up, codes = codes,
    remarks = remarks, caught = caught, counted = counted,
    compared = compared
  )
}

# Why a row is missing though no source is; `usual`: of a formula that looks nothing up.
own_reason <- function(out, usual) {
  if (is.null(out$looked_up)) return(usual)
  c(table = "not in the table", levels = "unmatched")[[out$looked_up]]
}

# What a turn has to say of its result: the words, the detail of this variable, and the finding that
# it is, if it is one; `plain`: it tells something rather than warns; `whole`: it is about the turn.
# Variables of which the same is said share a line.
new_remark <- function(words, detail = NULL, finding = NULL, plain = FALSE, whole = FALSE) {
  list(words = words, detail = detail, finding = finding, plain = plain, whole = whole)
}

# The meaning a turn was given in so many words wins over what it works out.
stated_meaning <- function(turn, place = 1) {
  label <- turn[["label"]]
  if (length(label) > 1) label <- label[[place]]
  label <- fill_name(label, turn$from[min(place, length(turn$from))])
  new_meaning(label = label, high = turn$high, note = turn$note)
}

finish_meaning <- function(turn, worked_out, place = 1) {
  meaning <- merge_meaning(worked_out, stated_meaning(turn, place))
  merge_meaning(meaning, turn[["define"]][[turn$makes[place]]])
}

fill_name <- function(pattern, name) {
  if (is.null(pattern) || !length(name)) return(pattern)
  gsub("{name}", name, pattern, fixed = TRUE)
}
