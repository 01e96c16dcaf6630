# The generic functions that a kind of turn, or a book, answers by methods.

# A turnbook from whatever the analyst gives.
as_book <- function(book) UseMethod("as_book")

#' @export
as_book.default <- function(book) fail("not-a-book", got = describe_type(book))

# Makes the turn's variables and gives the new book.
make_turn <- function(book, turn, replace = FALSE) UseMethod("make_turn")

# The weight that a book states for calls that name none.
default_weight <- function(book) UseMethod("default_weight")

#' @export
default_weight.default <- function(book) NULL

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
# gaps(order, unit, occasions) how many rows skip an occasion, repeats(names) the first combination
# that stands twice, rows_with(test) how many rows a condition holds for, groups(name, within) the
# rows, mean and SD of each group, coders_agree(names, meaning) how far coders do, and
# against(names) which items run against the rest.
lower <- function(turn, world) UseMethod("lower")

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
variable_keys <- c("from", "reversed", "each", "weight", "within", "unit", "order", "with",
  "positive")

# What a turn reads beyond its own keys.
more_reads <- function(turn) UseMethod("more_reads")

#' @export
more_reads.default <- function(turn) NULL
