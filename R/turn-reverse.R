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
  told <- against_remark(turn, world)
  lapply(seq_along(turn$from), function(i) {
    name <- turn$from[i]
    limits <- limits_for(name, turn$limits, world)
    total <- sum(limits)
    if (is.integer(world$column(name))) total <- as_code(total)
    new_lowered(turn$makes[i], call("-", total, as.name(name)),
      finish_meaning(turn, reversed_meaning(world$meaning(name), name, limits), i),
      carry = !identical(turn$missing, "plain"), remarks = if (i == 1) told
    )
  })
}

# Which items of the set the data say run against the rest; it is a finding where they are others
# than those that are reversed.
against_remark <- function(turn, world) {
  set <- items_beside(turn$from, world)
  against <- if (length(set) >= 3) world$against(set)
  if (is.null(against)) return(NULL)
  of <- paste0(set[1], " to ", set[length(set)])
  mine <- intersect(set, turn$from)
  # turned round, the one side is as good as the other
  if (!length(against) && !length(setdiff(set, mine))) return(NULL)
  same <- setequal(against, mine) || setequal(setdiff(set, against), mine)
  words <- if (length(against)) in_a_row(against) else "none"
  list(new_remark(paste("Against the rest of", of, "run by the data"), words,
    if (!same) "reverse-other", plain = TRUE, whole = TRUE))
}

# The items of the same set: those that are called so but for a number at the end, and have the same
# limits.
items_beside <- function(items, world) {
  stem <- unique(sub("[0-9]+$", "", items))
  if (length(stem) != 1 || any(stem == items)) return(NULL)
  alike <- world$names[grepl("[0-9]$", world$names) & sub("[0-9]+$", "", world$names) == stem]
  limits <- world$meaning(items[1])$limits
  utils::head(Filter(function(name) {
    world$has_numbers(name) && identical(world$meaning(name)$limits, limits)
  }, alike), 30)
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
