#' @include turn-type.R
NULL

#' Score several items together
#'
#' One score for each row over its valid items, if there are at least
#' `at_least` of them; otherwise the row is missing of the kind "too few items".
#' The receipt shows how many rows rest on all items, on one less, and so on.
#'
#' With v of k items valid: mean = sum(x)/v; sum = sum(x), prorated (k/v)
#' sum(x); weighted mean = sum(w x)/sum(w) over valid items; weighted sum = sum(w x),
#' prorated by the sum of all weights over that of the valid items. The median of an even
#' number is the mean of the middle two; an sd, with v - 1, needs two valid items.
#' Alpha in the receipt is Cronbach's (1951), over rows with every item.
#'
#' @inheritParams turn_recode
#' @param items The items, a tidyselect selection, in its order.
#' @param how `"mean"`, `"sum"`, `"median"`, `"min"`, `"max"` or `"sd"`.
#' @param at_least How many valid items a score needs; left out, all of them.
#' @param reversed Items that are to be reversed inside the score, by their
#'   defined limits.
#' @param weights A weight for each item, in their order or named by them; for mean and sum.
#' @param prorate For a sum: scale it up to all items where some are missing.
#' @param valid_count Keep the number of valid items beside the score, in a
#'   variable with the ending `_n`.
#' @param ... Not used; the arguments after it are written in full.
#' @param as Name of the score.
#' @return The book with the score, in the unit of the items.
#' @section Errors: Class `ableturn_error`, for fewer than two items, a threshold that
#'   does not fit them, or a reversed item without limits.
#' @references Cronbach, L. J. (1951). Coefficient alpha and the internal
#'   structure of tests. Psychometrika, 16, 297-334.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_composite(book, st_1:st_6, reversed = c(st_2, st_5),
#'   as = "strain", how = "mean", at_least = 5, high = "more strain")
#' @export
turn_composite <- function(book, items, how = "mean", at_least = NULL, ..., as = NULL,
                           reversed = NULL, weights = NULL, prorate = FALSE, valid_count = FALSE,
                           label = NULL, note = NULL, high = NULL, accept = NULL, replace = FALSE) {
  refuse_dots(...)
  from <- select_vars(book, rlang::enquo(items), "items")
  turned <- rlang::enquo(reversed)
  name <- one_name(as, "composite")
  turn <- new_turn("composite", c(name, count_name(valid_count, name)),
    from = from, how = how, at_least = at_least,
    reversed = if (!rlang::quo_is_null(turned)) select_vars(book, turned, "reversed"),
    weights = weights_in_order(weights, from), prorate = drop_default(prorate, FALSE),
    valid_count = drop_default(valid_count, FALSE),
    label = label, note = note, high = high,
    accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("composite",
  keys = c(
    from = "names", label = "texts", how = "word", at_least = "number", reversed = "names",
    weights = "numbers", prorate = "flag", valid_count = "flag"
  ),
  needs = "from", main = c(items = "from"), doing = "scoring",
  beside = function(turn, names) count_name(turn$valid_count, names),
  says = function(derived, turn) score_in_words(derived),
  traits = c("reckons", "scores items", "may be constant by mistake")
)

# The count of the valid items of a score, where it is kept.
count_name <- function(kept, name) if (isTRUE(kept)) paste0(name, "_n")

# Weights in the order of the items; names, where there are any, say whose they are.
weights_in_order <- function(weights, items) {
  if (is.null(names(weights))) return(weights)
  strange <- union(setdiff(names(weights), items), names(weights)[duplicated(names(weights))])
  if (length(strange)) fail("weights-whose", name = strange)
  lost <- setdiff(items, names(weights))
  if (length(lost)) fail("weights-lost", name = lost)
  unname(weights[items])
}

composite_ways <- c("mean", "sum", "median", "min", "max", "sd")

#' @export
check_turn.composite_turn <- function(turn) {
  items <- length(turn$from)
  for (argument in c("prorate", "valid_count")) check_flag(turn[[argument]] %||% FALSE, argument)
  check_choice(turn$how, "how", composite_ways)
  if (items < 2) fail("one-item", name = turn$from)
  least <- if (turn$how == "sd") 2 else 1
  if (!is.null(turn$at_least)) check_threshold(turn$at_least, least, items)
  if (!is.null(turn$weights)) check_item_weights(turn$weights, items, turn$how)
  strange <- setdiff(turn$reversed, turn$from)
  if (length(strange)) fail("reversed-not-item", name = strange)
  if (isTRUE(turn$prorate) && turn$how != "sum") fail("prorate-sum", how = turn$how)
}

check_threshold <- function(at_least, least, items) {
  check_number(at_least, "at_least")
  if (at_least != round(at_least) || at_least < least || at_least > items) {
    fail("bad-threshold", at_least = at_least, least = least, items = items)
  }
}

check_item_weights <- function(weights, items, how) {
  check_number(weights, "weights", items)
  if (any(weights <= 0)) fail("weights-positive", weights = weights)
  if (!how %in% c("mean", "sum")) fail("weights-how", how = how)
}

#' @export
lower.composite_turn <- function(turn, world) {
  refuse_days(turn$from, world)
  items <- lapply(turn$from, item_node, turn = turn, world = world)
  options <- list(at_least = turn$at_least %||% length(items), weights = turn$weights,
    prorate = turn$prorate)
  options <- compact(options)
  score <- as.call(c(list(as.name(paste0("row_", turn$how))), items, options))
  idle <- isTRUE(turn$prorate) && options$at_least == length(items)
  out <- list(new_lowered(turn$makes[1], score, composite_meaning(turn, world), scale = TRUE,
    remarks = if (idle) list(
      new_remark("prorate = TRUE changes nothing while all items must be valid",
        "state at_least ="))))
  if (isTRUE(turn$valid_count)) out[[2]] <- lowered_count(turn, items)
  out
}

item_node <- function(name, turn, world) {
  if (!name %in% turn$reversed) return(as.name(name))
  limits <- world$meaning(name)$limits
  if (is.null(limits)) fail("limits-undefined", name = name)
  call("-", sum(limits_for(name, limits, world)), as.name(name))
}

lowered_count <- function(turn, items) {
  label <- paste("Valid items in", turn[["label"]] %||% turn$makes[1])
  meaning <- new_meaning(label = label, level = "ratio", limits = c(0L, length(items)),
    high = "more valid items")
  new_lowered(turn$makes[2], as.call(c(list(as.name("row_valid")), items)),
    merge_meaning(meaning, turn[["define"]][[turn$makes[2]]])
  )
}

composite_meaning <- function(turn, world) {
  how <- paste0(if (length(turn$weights)) "weighted ", turn$how)
  label <- paste0(upper_ascii(substr(how, 1, 1)), substring(how, 2), " of ",
    length(turn$from), " items", if (isTRUE(turn$prorate)) ", prorated")
  worked_out <- new_meaning(
    label = label, level = "interval",
    limits = composite_limits(turn, lapply(turn$from, function(v) world$meaning(v)$limits)),
    high = shared_direction(turn, world)
  )
  finish_meaning(turn, worked_out)
}

composite_limits <- function(turn, limits) {
  if (any(vapply(limits, is.null, NA)) || turn$how == "sd") return(NULL)
  low <- vapply(limits, function(l) as.double(l[1]), 0)
  high <- vapply(limits, function(l) as.double(l[2]), 0)
  if (turn$how == "sum") return(sum_limits(turn, low, high))
  if (length(unique(low)) == 1 && length(unique(high)) == 1) as_code(c(low[1], high[1]))
}

# A sum over fewer items reaches further down than the sum over all.
sum_limits <- function(turn, low, high) {
  weights <- turn$weights %||% rep(1, length(low))
  partial <- !isTRUE(turn$prorate) && (turn$at_least %||% length(low)) < length(low)
  if (!partial) as_code(c(sum(weights * low), sum(weights * high)))
}

# What high means, when all items say the same.
shared_direction <- function(turn, world) {
  said <- lapply(turn$from, function(v) {
    meaning <- world$meaning(v)
    if (v %in% turn$reversed) meaning$low else meaning$high
  })
  if (any(vapply(said, is.null, NA))) return(NULL)
  if (length(unique(said)) == 1) said[[1]]
}
