#' @include turn-type.R
NULL

#' Score a whole questionnaire
#'
#' An instrument file describes a questionnaire once, for every study that uses
#' it: its items and their limits, which are reversed, how each scale is scored,
#' how many valid items it needs, its bands and its norm table. Nothing is made
#' if an item is not in the data or a response lies outside the limits.
#'
#' The file is YAML:
#'
#' ```yaml
#' instrument: "Ease aboard, 7 items"
#' response: {limits: [1, 5], score: [0, 4]}
#' scales:
#'   ease:
#'     items: [ea_1, ea_2, ea_3, ea_4, ea_5, ea_6, ea_7]
#'     reversed: [ea_4, ea_6]
#'     how: sum
#'     at_least: 5
#'     prorate: true
#'     round: 0
#'     high: "more at ease"
#'     bands: {Uneasy: ".. 11", Settled: "12 .. 19", At home: "20 .."}
#'     norm: {age: ["18 .. 39", "18 .. 39"], raw: [0, 1], scaled: [34, 36]}
#' ```
#'
#' A scale is scored in this order: answers are moved from the limits to the score and
#' reversed; the score is the sum, mean or other form over the valid items, missing where
#' fewer than `at_least` are valid (left out: all of them); a sum is prorated; it is
#' rounded; then bands and norms are looked up for the rounded score.
#'
#' `response` may stand at a scale too. `limits` are those of the answers as they
#' were keyed; `score`, where it is given, what these count as (here 1 to 5 count
#' as 0 to 4). `round` is a number of digits, with halves going to the even
#' neighbour (12.5 to 12), or `{digits: 0, half: up}` as most manuals have it
#' (12.5 to 13). `norm` holds a table as [turn_norm()] takes it, or the name of a CSV
#' file beside the instrument file.
#'
#' @inheritParams turn_recode
#' @param file The path of an instrument file, or a list of the same form.
#' @param ... Not used; the arguments after it are written in full.
#' @param note A note, kept with each score.
#' @param as A pattern for the names of scales, such as `"{name}_w1"`.
#' @return The book with a score for each scale, and where the file has them its
#'   bands (ending `_band`) and norm scores (ending `_norm`).
#' @section Errors: Class `ableturn_error`: `ableturn_error_instrument_at` says
#'   where in the file something is wrong; `ableturn_error_unknown_variable` and
#'   `ableturn_error_beyond_limits` where the data do not fit.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_instrument(book, demo_file("ease-aboard.instrument.yaml"))
#' @export
turn_instrument <- function(book, file, ..., as = NULL, note = NULL, accept = NULL,
                            replace = FALSE) {
  refuse_dots(...)
  need_given(file)
  check_text(as, "as")
  told <- check_instrument(open_instrument(file))
  turn <- new_turn("instrument", instrument_results(told$scales, as %||% "{name}"),
    title = told$instrument, scales = told$scales, as = as, note = note,
    accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("instrument",
  keys = c(title = "text", scales = "instrument", as = "text"),
  needs = "scales", main = c(file = "scales"), pattern = "always", doing = "an instrument",
  says = function(derived, turn) score_in_words(derived),
  traits = c("makes categories", "scores items")
)

# An instrument as a list; layers above know how to open files.
open_instrument <- function(file) UseMethod("open_instrument")

#' @export
open_instrument.list <- function(file) file

#' @export
open_instrument.default <- function(file) fail("not-an-instrument", got = describe_type(file))

# What each scale makes: the score, its band, its norm score.
instrument_results <- function(scales, pattern) {
  endings <- lapply(scales, scale_endings)
  names <- vapply(names(scales), fill_name, "", pattern = pattern)
  paste0(rep(names, lengths(endings)), unlist(endings))
}

scale_endings <- function(scale) {
  c("", if (!is.null(scale$bands)) "_band", if (!is.null(scale$norm)) "_norm")
}

#' @export
check_turn.instrument_turn <- function(turn) {
  check_instrument(list(scales = turn$scales))
  check_text(turn$title, "title")
  made <- length(unlist(lapply(turn$scales, scale_endings)))
  if (length(turn$makes) != made) fail("as-count", names = length(turn$makes), variables = made)
}

#' @export
more_reads.instrument_turn <- function(turn) {
  bands <- lapply(turn$scales, function(s) setdiff(names(s$norm), c("raw", "scaled")))
  unique(unlist(c(lapply(turn$scales, `[[`, "items"), bands)))
}

#' @export
lower.instrument_turn <- function(turn, world) {
  lost <- setdiff(more_reads(turn), world$names)
  if (length(lost)) fail_unknown(lost, world$names)
  refuse_days(unlist(lapply(turn$scales, `[[`, "items")), world)
  at <- split(turn$makes, rep(seq_along(turn$scales), lengths(lapply(turn$scales, scale_endings))))
  parts <- Map(function(scale, makes) lower_scale(scale, makes, turn, world), turn$scales, at)
  unlist(unname(parts), recursive = FALSE)
}

lower_scale <- function(scale, makes, turn, world) {
  score <- lower_score(scale, makes[1], turn, world)
  world <- world_with(world, makes[1], score$meaning)
  further <- list()
  if (!is.null(scale$bands)) further <- list(lower_bands_of(scale, makes[2], makes[1], turn, world))
  last <- makes[length(makes)]
  if (!is.null(scale$norm)) {
    further <- c(further, list(lower_norm_of(scale, last, makes[1], turn, world)))
  }
  c(list(score), further)
}

lower_score <- function(scale, name, turn, world) {
  items <- lapply(scale$items, function(item) scored_item(item, scale, world))
  options <- list(at_least = scale$at_least %||% length(items), weights = scale$weights,
    prorate = scale$prorate, digits = if (is.list(scale$round)) scale$round$digits else scale$round,
    half = if (is.list(scale$round)) scale$round$half)
  expr <- as.call(c(list(as.name(paste0("row_", scale$how))), items, compact(options)))
  new_lowered(name, expr, scale_meaning(scale, name, turn), scale = TRUE)
}

# An answer as it counts: moved from the limits to the score, and reversed where the scale says so.
scored_item <- function(item, scale, world) {
  limits <- as.double(limits_for(item, scale$response$limits, world))
  score <- as.double(scale$response$score %||% limits)
  x <- as.name(item)
  if (item %in% scale$reversed) return(reversed_item(x, limits, score))
  if (identical(limits, score)) x else moved_item(x, limits, score)
}

reversed_item <- function(x, limits, score) {
  if (diff(limits) == diff(score)) return(call("-", limits[1] + score[2], x))
  call("-", sum(score), moved_item(x, limits, score))
}

moved_item <- function(x, limits, score) {
  if (diff(limits) == diff(score)) return(moved(x, score[1] - limits[1]))
  moved(x, NULL, limits, score)
}

scale_meaning <- function(scale, name, turn) {
  score <- scale$response$score %||% scale$response$limits
  k <- length(scale$items)
  whole <- scale$how == "sum" && (isTRUE(scale$prorate) || (scale$at_least %||% k) == k) &&
    is.null(scale$weights)
  limits <- if (whole) k * score else if (scale$how %in% c("mean", "median", "min", "max")) score
  worked_out <- new_meaning(
    label = scale$label %||% paste(c(turn$title, name), collapse = ": "), level = "interval",
    limits = if (length(limits)) as_code(as.double(limits)), high = scale$high, note = turn$note
  )
  merge_meaning(worked_out, turn[["define"]][[name]])
}

lower_bands_of <- function(scale, name, score, turn, world) {
  cells <- unlist(scale$bands)
  rules <- Map(function(label, cell, i) new_rule(i, label, when = read_cell(cell)),
    names(cells), unname(cells), seq_along(cells))
  chosen <- choose_by_rules(turn, unname(rules), world, score)
  meaning <- new_meaning(
    label = paste0(world$meaning(score)$label, ", in bands"),
    codes = recode_codes(chosen$rules, NULL), level = "ordinal", high = scale$high
  )
  new_lowered(name, chosen$expr, merge_meaning(meaning, turn[["define"]][[name]]),
    rules = chosen$rules, kinds = chosen$kinds)
}

lower_norm_of <- function(scale, name, score, turn, world) {
  meaning <- new_meaning(
    label = paste0(world$meaning(score)$label, ", scaled by norms"), level = "interval",
    high = scale$high
  )
  found <- raw_norms(scale$norm, score, world)
  new_lowered(name, found$expr, merge_meaning(meaning, turn[["define"]][[name]]),
    kinds = found$kinds, looked_up = "table")
}

# What is known once a score is there that the same turn makes.
world_with <- function(world, name, meaning) {
  inner <- world
  inner$names <- c(world$names, name)
  inner$meaning <- function(asked) if (asked == name) meaning else world$meaning(asked)
  inner$is_text <- function(asked) if (asked == name) FALSE else world$is_text(asked)
  inner$column <- function(asked) if (asked == name) numeric() else world$column(asked)
  inner
}
