# What a turn asks of the book it is made in; books answer by methods.

# A turnbook from whatever the analyst gives.
as_book <- function(book) UseMethod("as_book")

#' @export
as_book.default <- function(book) fail("not-a-book", got = describe_type(book))

# Makes the turn's variables and gives the new book.
make_turn <- function(book, turn, replace = FALSE) UseMethod("make_turn")

# All variables that can be chosen from, as a list of columns.
selectable <- function(book) UseMethod("selectable")

#' @export
selectable.default <- function(book) {
  fail("not-a-book", got = describe_type(book))
}

#' @export
selectable.data.frame <- function(book) as.list(book)

#' @export
make_turn.default <- function(book, turn, replace = FALSE) {
  fail("not-a-book", got = describe_type(book))
}

# A turn checks its own arguments, whether they come from a call or from a sheet.
check_turn <- function(turn) UseMethod("check_turn")

# A turn as formulas and meanings, one `new_lowered()` for each variable it makes. `world` tells
# what is known: names, meaning(name), column(name), is_text(name), and learn(call) learns a
# statistic; values(name) gives values among which each stands that the column holds,
# outside(name, limits) those beyond some limits with their rows,
# is_whole(name) whether all its numbers are whole, bands(name, cuts, ends) the rows between cuts,
# and gaps(order, unit, occasions) how many rows skip an occasion.
lower <- function(turn, world) UseMethod("lower")

new_turn <- function(verb, makes, from = NULL, ...) {
  given <- list(verb = verb, makes = makes, from = from, ...)
  given <- compact(given)
  if (!is.null(given[["label"]]) && !is.character(given[["label"]])) {
    check_text(given[["label"]], "label")
  }
  for (argument in c("note", "high")) check_text(given[[argument]], argument)
  structure(given, class = c(paste0(verb, "_turn"), "ableturn_turn"))
}

# A field of a turn by its whole name: `weight` is never taken for `weights`.
#' @export
`$.ableturn_turn` <- .subset2

# Findings that the analyst has judged, with the reasons: c("open-range" = "99 is a real age").
read_accept <- function(accept) {
  if (is.null(accept)) return(NULL)
  if (!is.character(accept) || anyNA(accept)) fail("bad-accept", got = describe_type(accept))
  alone <- !nzchar(names(accept) %||% rep("", length(accept)))
  ids <- ifelse(alone, accept, names(accept) %||% "")
  odd <- setdiff(ids, finding_ids())
  if (length(odd)) fail("unknown-finding", finding = odd, hint = near_hint(odd[1], finding_ids()),
    known = finding_ids())
  setNames(unname(ifelse(alone, "judged", accept)), ids)
}

# An argument that says nothing when it has its usual value.
unless <- function(value, usual) if (!identical(value, usual)) value

check_carry <- function(turn) {
  if (is.numeric(turn$missing)) fail("missing-value", name = turn$from[1] %||% "x")
  check_choice(turn$missing %||% "carry", "missing", c("carry", "plain"))
}

# One variable of a turn, as formulas and meanings:
#   name, expr, meaning  what it is called, its formula, and what it means
#   rules    the rules behind the formula, if there are any
#   kinds    for a choose: the missing kind that each test gives, NA where it gives a code
#   carry    whether the source's reasons for missing answers are kept
#   notes    what was learned on the way, see new_note()
#   scale    whether the items are meant to hang together
#   lost     the reason for rows that are missing though no source is
#   codes    whether whole results are codes
#   remarks  what the analyst should see, see new_remark()
new_lowered <- function(name, expr, meaning, rules = NULL, kinds = NULL, carry = TRUE, notes = NULL,
                        scale = FALSE, lost = NULL, codes = FALSE, remarks = NULL) {
  list(
    name = name, expr = expr, meaning = meaning, rules = rules, kinds = kinds,
    carry = carry, notes = notes, scale = scale, lost = lost, codes = codes, remarks = remarks
  )
}

# What a turn has to say of its result: the words, the detail of this variable, and the finding that
# it is, if it is one. Variables of which the same is said share a line.
new_remark <- function(words, detail = NULL, finding = NULL) {
  list(words = words, detail = detail, finding = finding)
}

# Before a turn is made: what it still has to know of the data, such as the names of its results.
settle_turn <- function(turn, world) UseMethod("settle_turn")

#' @export
settle_turn.default <- function(turn, world) turn

# The variables that a turn reads, whatever comes of them.
turn_reads <- function(turn) {
  formula <- if (!is.null(turn$formula)) setdiff(formula_vars(parse_formula(turn$formula)),
    if (!is.null(turn$each)) "each")
  where <- unlist(lapply(turn$rules, function(r) names(r$where)))
  unique(c(unlist(turn[variable_keys], use.names = FALSE), formula, where, more_reads(turn)))
}

# The arguments of turns that name variables.
variable_keys <- c("from", "reversed", "each", "weight", "within", "unit", "order", "with")

# What a turn reads beyond its own keys.
more_reads <- function(turn) UseMethod("more_reads")

#' @export
more_reads.default <- function(turn) NULL

# Text may hold numbers; where it holds none, nothing can be reckoned with it.
check_numbers <- function(names, world, dates = FALSE) {
  if (!dates) refuse_days(names, world)
  for (name in names) {
    if (!is.character(world$column(name))) next
    texts <- world$met(name)$values
    if (length(texts) && all(is.na(as_number(texts)))) fail("text-not-numbers", name = name,
      offer = offer_in_words(name, reading_offers(texts)))
  }
}

# Dates are no amounts: their days since 1970 would be a result that nobody means.
refuse_days <- function(names, world) {
  for (name in names) {
    if (inherits(world$column(name), "Date")) fail("date-not-number", name = name)
  }
}

# A kind of missing answer that a rule or a formula asks for must be one the variable can have.
check_kind <- function(name, kind, world) {
  known <- world$kinds(name)
  if (kind %in% known) return(invisible())
  fail("unknown-kind", kind = kind, name = name, known = quote_text(known),
    hint = near_hint(kind, known))
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
