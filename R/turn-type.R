# What is to be known of a kind of turn, stated once by `turn_type()` in the turn's own file. From
# it come the keys of the sheet, the call in a script of own calls, what amend() may change, the
# sentence of the methods paragraph and the policy of the findings. There is no other list of turns.
turn_types <- new.env(parent = emptyenv())

#   keys     what the turn may say in a sheet, each with its shape; the first key there is its verb
#   needs    the key without which it says nothing
#   main     the arguments of its verb that come first, named, with the keys they stand for; none
#            where the dots take them; a function of the turn where they depend on it
#   called   arguments that are named otherwise than their keys
#   more     a function of the turn: further arguments that follow from it
#   pattern  whether `as` is a pattern rather than names: "never", "always", or only when the turn
#            is "amended"
#   beside   a function of the turn and the names it is given: those of further results
#   doing    the turn as a noun, for the methods paragraph; says: how one of its variables was made,
#            as what follows
#            "was", a function of the variable and the turn
#   traits   what others ask of it: "reckons" with numbers, "scores items", "moves the scale" of an
#            item, "sets the
#            scale" anew, "makes categories", "weighs", "may be constant by mistake", "tells what is
#            undefined" by
#            itself, "its rules may overlap", "its table names variables", "shows its counts" of
#            conditions, also where it makes several variables
turn_type <- function(verb, keys, needs, main = c(vars = "from"), called = character(), more = NULL,
                      pattern = "never", beside = function(turn, names) NULL, doing, says = NULL,
                      traits = character()) {
  stopifnot(needs %in% names(keys), names(called) %in% names(keys))
  type <- list(keys = keys, needs = needs, main = main, called = called, more = more,
    pattern = pattern, beside = beside, doing = doing, says = says, traits = traits)
  assign(verb, type, turn_types)
}

turn_verbs <- function() sort(names(turn_types), method = "radix")

type_of_turn <- function(verb) turn_types[[verb]]

has_trait <- function(verb, trait) trait %in% turn_types[[verb]]$traits

keys_of <- function(verb) c(turn_types[[verb]]$keys, common_keys)

common_keys <- c(
  high = "text", note = "text", accept = "accepts", renamed = "renames", define = "meanings",
  learned = "learned"
)

# The names that a turn is given; those of further results follow from these and from what it was
# asked for, see `beside`.
named_results <- function(turn) {
  for (n in rev(seq_along(turn$makes))) {
    names <- turn$makes[seq_len(n)]
    if (length(all_results(turn, names)) == length(turn$makes)) return(names)
  }
  turn$makes
}

all_results <- function(turn, names) c(names, type_of_turn(turn$verb)$beside(turn, names))

# Names that were given later to some of them, see rename_turn(): the usual names, named by those.
with_later_names <- function(makes, renamed) {
  found <- match(makes, renamed, nomatch = 0L)
  makes[found > 0] <- names(renamed)[found]
  makes
}

rule_keys <- c(code = "code", when = "matchers", where = "conditions", rest = "flag",
  label = "text")

meaning_keys <- c(
  label = "text", codes = "codes", missing = "missing", level = "word", limits = "numbers",
  high = "text", low = "text", unit = "text", note = "text", asked_if = "formula", read = "word",
  role = "word", set = "text"
)

# A turn as a call of its verb, part by part, in the order in which they are written. Each part has
# the `name` of an argument (empty for what goes into the dots), its `shape` and its `value`.
# amend() makes the call again from it, and the script of own calls writes it down.
turn_as_call <- function(turn, with_pattern) {
  type <- type_of_turn(turn$verb)
  first <- first_arguments(turn)
  main <- if (length(first)) Map(main_part, names(first), first, list(turn)) else
    list(call_part("", "selection", turn$from))
  kept <- setdiff(names(type$keys), c(first, "from", "rules", "title", "as", "wide"))
  others <- lapply(c(kept, "high", "note", "accept"), function(key) {
    name <- if (key %in% names(type$called)) type$called[[key]] else key
    call_part(name, keys_of(turn$verb)[[key]], turn[[key]])
  })
  more <- if (!is.null(type$more)) type$more(turn)
  parts <- c(main, list(call_part("as", "constant", results_as(turn, type, with_pattern))), others,
    Map(call_part, names(more), "constant", more),
    lapply(turn$rules, call_part, name = "", shape = "rule"))
  unname(Filter(function(part) !is.null(part$value), parts))
}

first_arguments <- function(turn) {
  main <- type_of_turn(turn$verb)$main
  if (is.function(main)) main(turn) else main
}

call_part <- function(name, shape, value) list(name = name, shape = shape, value = value)

main_part <- function(name, key, turn) {
  switch(key,
    scales = call_part(name, "instrument", list(instrument = turn$title, scales = turn$scales)),
    formula = call_part(name, "formula", turn$formula), call_part(name, "selection", turn[[key]])
  )
}

# What `as` was: a pattern, or the names.
results_as <- function(turn, type, with_pattern) {
  by_pattern <- type$pattern == "always" || (type$pattern == "amended" && with_pattern)
  if (by_pattern) turn[["as"]] else named_results(turn)
}

# Words that several kinds of turn say how they are made with.

in_a_row <- function(names) paste(names, collapse = ", ")

within_words <- function(turn) {
  if (length(turn$within)) paste(" within", in_a_row(turn$within)) else ""
}

score_in_words <- function(derived) {
  if (!is_row_node(derived$expr)) return(paste0("scored from ", in_a_row(derived$from)))
  how <- formula_words[[call_head(derived$expr)]]$how
  items <- row_items(derived$expr)
  least <- as.list(derived$expr)$at_least %||% length(items)
  turned <- vapply(Filter(is.call, items), function(node) formula_vars(node)[1], "")
  paste0("the ", how, " of ", length(items), " items (", in_a_row(derived$from),
    "), for rows with ",
    if (least == length(items)) "all of them" else paste("at least", least), " valid",
    if (length(turned)) paste0("; reworked on the way: ", in_a_row(turned)),
    if (isTRUE(as.list(derived$expr)$prorate)) "; prorated")
}

form_words <- c(z = "z score", t = "T score", iq = "score of mean 100 and SD 15",
  sten = "sten score",
  stanine = "stanine", percentile = "percentile rank", normal = "normal score of the rank",
  pomp = "percent of the maximum possible", robust = "distance from the median in MADs",
  centred = "distance from the mean", minmax = "place between lowest and highest")
