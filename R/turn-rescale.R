#' @include turn-type.R
NULL

#' Shift or stretch items to another scale
#'
#' Shifted by a constant (1-4 to 0-3), or stretched from their limits to others
#' (1-7 to 0-100): to c + (x - a)(d - c)/(b - a) for limits `[a, b]` and `[c, d]`.
#' Value labels and limits move along; declared missing codes never do.
#'
#' @inheritParams turn_recode
#' @param vars The items, a tidyselect selection.
#' @param shift What is added to each value.
#' @param limits The limits to stretch from; left out, those that are defined.
#' @param to The limits to stretch to, such as `c(0, 100)`.
#' @param ... Not used; the arguments after it are written in full.
#' @param as Name or pattern for the results; left out, the ending `_0`.
#' @return The book with the rescaled items.
#' @section Errors: Class `ableturn_error`: `ableturn_error_shift_or_to`,
#'   `ableturn_error_limits_needed`, `ableturn_error_beyond_limits`.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_rescale(book, ea_1:ea_7, shift = -1)
#' book <- turn_rescale(book, tr_1:tr_4, to = c(0, 100), as = "{name}_100")
#' @export
turn_rescale <- function(book, vars, shift = NULL, limits = NULL, to = NULL, ..., as = NULL,
                         missing = "carry", label = NULL, note = NULL, high = NULL, accept = NULL,
                         replace = FALSE) {
  refuse_dots(...)
  from <- select_vars(book, rlang::enquo(vars))
  turn <- new_turn("rescale", result_names(from, as, "_0"),
    from = from, shift = shift, limits = check_limits(limits), to = check_limits(to),
    missing = drop_default(missing, "carry"), label = label, note = note, high = high,
    accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("rescale",
  keys = c(
    from = "names", label = "texts", shift = "number", limits = "numbers", to = "numbers",
    missing = "word"
  ),
  needs = "from", doing = "rescaling", traits = c("reckons", "moves the scale", "sets the scale")
)

#' @export
check_turn.rescale_turn <- function(turn) {
  check_carry(turn)
  if (is.null(turn$shift) == is.null(turn$to)) fail("shift-or-to", name = turn$makes[1])
  if (!is.null(turn$shift)) check_number(turn$shift, "shift")
  check_limits(turn$limits)
  check_limits(turn$to)
}

#' @export
lower.rescale_turn <- function(turn, world) {
  refuse_days(turn$from, world)
  lapply(seq_along(turn$from), function(i) {
    name <- turn$from[i]
    limits <- if (is.null(turn$shift)) limits_for(name, turn$limits, world)
    move <- function(x) moved(x, turn$shift, as.double(limits), as.double(turn$to))
    new_lowered(turn$makes[i], move(as.name(name)),
      finish_meaning(turn, moved_meaning(world$meaning(name), name, move, turn$to), i),
      carry = !identical(turn$missing, "plain")
    )
  })
}

# The formula for a name, the value for numbers.
moved <- function(x, shift, limits, to) {
  plus <- function(a, b) if (b == 0) a else if (b < 0) combine("-", a, -b) else combine("+", a, b)
  if (!is.null(shift)) return(plus(x, shift))
  stretched <- combine("/", combine("*", plus(x, -limits[1]), diff(to)), diff(limits))
  plus(stretched, to[1])
}

combine <- function(word, a, b) if (is.numeric(a)) match.fun(word)(a, b) else call(word, a, b)

moved_meaning <- function(meaning, name, move, to) {
  shift_codes <- function(codes) if (is.numeric(codes)) as_code(move(codes))
  new_meaning(
    label = paste0(meaning$label %||% name,
      ", rescaled"), codes = shift_codes(meaning$codes), level = meaning$level,
    limits = to %||% shift_codes(meaning$limits), high = meaning$high, low = meaning$low
  )
}
