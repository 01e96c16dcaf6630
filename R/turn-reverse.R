#' @include turn-type.R
NULL

#' Reverse-score items
#'
#' The result is low + high - x. Value labels follow their values and the
#' direction is turned round: "high = more strain" becomes "low = more strain".
#'
#' @inheritParams turn_recode
#' @param vars The items, a tidyselect selection.
#' @param limits The theoretical limits, such as `c(1, 5)`; left out, those that
#'   are defined for each item. Observed limits are never used.
#' @param ... Not used; the arguments after it are written in full.
#' @param as Name or pattern for the results; left out, the ending `_r`.
#' @return The book with the reversed items, in the units of the items.
#' @section Errors: `ableturn_error_limits_needed` without limits,
#'   `ableturn_error_beyond_limits` for values outside them. Nothing is made then.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_reverse(book, c(st_2, st_5), limits = c(1, 5))
#' @export
turn_reverse <- function(book, vars, limits = NULL, ..., as = NULL, missing = "carry", label = NULL,
                         note = NULL, high = NULL, accept = NULL, replace = FALSE) {
  refuse_dots(...)
  from <- select_vars(book, rlang::enquo(vars))
  turn <- new_turn("reverse", result_names(from, as, "_r"),
    from = from, limits = check_limits(limits),
    missing = drop_default(missing, "carry"), label = label, note = note, high = high,
    accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("reverse",
  keys = c(from = "names", label = "texts", limits = "numbers", missing = "word"),
  needs = "from", doing = "reversing",
  says = function(derived, turn) paste0("turned round: ", formula_text(derived$expr)),
  traits = c("reckons", "moves the scale", "sets the scale")
)

#' @export
check_turn.reverse_turn <- function(turn) {
  check_carry(turn)
  check_limits(turn$limits)
}

#' @export
lower.reverse_turn <- function(turn, world) {
  refuse_days(turn$from, world)
  lapply(seq_along(turn$from), function(i) {
    name <- turn$from[i]
    limits <- limits_for(name, turn$limits, world)
    total <- sum(limits)
    if (is.integer(world$column(name))) total <- as_code(total)
    new_lowered(turn$makes[i], call("-", total, as.name(name)),
      finish_meaning(turn, reversed_meaning(world$meaning(name), name, limits), i),
      carry = !identical(turn$missing, "plain")
    )
  })
}

reversed_meaning <- function(meaning, name, limits) {
  codes <- meaning$codes
  if (is.numeric(codes)) {
    codes <- sum(limits) - codes
    codes <- codes[order(codes)]
  }
  new_meaning(
    label = paste0(meaning$label %||% name, ", reversed"), codes = codes,
    level = meaning$level, limits = limits, high = meaning$low, low = meaning$high,
    unit = meaning$unit
  )
}
