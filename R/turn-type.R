# What is to be known of a kind of turn, stated once by `turn_type()` in the turn's own file. From it come the keys of
# the sheet, the call in a script of own calls, what amend() may change, the sentence of the methods paragraph and the
# policy of the findings. There is no other list of turns.
turn_types <- new.env(parent = emptyenv())

#   keys     what the turn may say in a sheet, each with its shape; the first key there is its verb
#   needs    the key without which it says nothing
#   main     the arguments of its verb that come first, named, with the keys they stand for; none where the dots
#            take them
#   called   arguments that are named otherwise than their keys
#   more     a function of the turn: further arguments that follow from it
#   pattern  whether `as` is a pattern rather than names: "never", "always", or only when the turn is "amended"
#   doing    the turn as a noun, for the methods paragraph; says: how one of its variables was made, as what follows
#            "was", a function of the variable and the turn
#   traits   what others ask of it: "reckons" with numbers, "scores items", "moves the scale" of an item, "sets the
#            scale" anew, "makes categories", "weighs", "may be constant by mistake", "tells what is undefined" by
#            itself, "its rules may overlap", "its table names variables"
turn_type <- function(verb, keys, needs, main = c(vars = "from"), called = character(), more = NULL,
                      pattern = "never", doing, says = NULL, traits = character()) {
  stopifnot(needs %in% names(keys), main %in% names(keys), names(called) %in% names(keys))
  type <- list(keys = keys, needs = needs, main = main, called = called, more = more, pattern = pattern, doing = doing,
    says = says, traits = traits)
  assign(verb, type, turn_types)
}

turn_verbs <- function() sort(names(turn_types), method = "radix")

type_of_turn <- function(verb) turn_types[[verb]]

has_trait <- function(verb, trait) trait %in% turn_types[[verb]]$traits

keys_of <- function(verb) c(turn_types[[verb]]$keys, common_keys)

common_keys <- c(
  high = "text", note = "text", accept = "accepts", renamed = "renames", define = "meanings", learned = "learned"
)

# The names that a turn is given; the count of valid items follows from its composite's name.
named_results <- function(turn) utils::head(turn$makes, length(turn$makes) - isTRUE(turn$valid_count))

# A score and the count of its valid items.
with_count <- function(name) c(name, paste0(name, "_n"))

# Names that were given later to some of them, see rename_turn(): the usual names, named by those.
with_later_names <- function(makes, renamed) {
  found <- match(makes, renamed, nomatch = 0L)
  makes[found > 0] <- names(renamed)[found]
  makes
}


rule_keys <- c(code = "code", when = "matchers", where = "conditions", rest = "flag", label = "text")

meaning_keys <- c(
  label = "text", codes = "codes", missing = "missing", level = "word", limits = "numbers",
  high = "text", low = "text", unit = "text", note = "text", asked_if = "formula", read = "word"
)
