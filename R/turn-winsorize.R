#' @include turn-type.R
NULL

#' Hold far values to the ends
#'
#' Values beyond two ends are held to these, or made missing. The ends are quantiles of the
#' variable, or of its group, learned when the turn is made, or limits that are stated. The receipt
#' counts the
#' rows at each end and shows mean and SD before and after.
#'
#' Quantiles are of R's type 7 (Hyndman and Fan 1996), over valid rows without a weight; what lies
#' strictly beyond is moved. Classical winsorizing takes the nearest value that is kept instead of
#' the quantile (Tukey 1962); with many rows the two hardly differ. Rows of a group that the record
#' does not hold are missing when a sheet is applied as recorded.
#'
#' @inheritParams turn_recode
#' @param vars The variables, a tidyselect selection.
#' @param at The shares below which the lower end lies, and the upper one.
#' @param limits The ends themselves, such as `c(0, 5000)`, in place of `at`; `-Inf` or `Inf` where
#'   there is none.
#' @param within Variables whose groups have ends of their own.
#' @param outside `"end"` to hold values beyond to the ends, `"missing"` to make them missing.
#' @param ... Not used; the arguments after it are written in full.
#' @param as Name or pattern for the results; left out, the ending `_w`.
#' @return The book with the new variables, in the unit of their sources.
#' @section Errors: Class `ableturn_error`: `ableturn_error_bad_shares` for shares that are no two
#'   numbers from 0 to 1, the lower first.
#' @references Hyndman, R. J., & Fan, Y. (1996). Sample quantiles in statistical packages. The
#'   American Statistician, 50, 361-365.
#'
#'   Tukey, J. W. (1962). The future of data analysis. Annals of Mathematical Statistics, 33, 1-67.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_winsorize(book, wait_min, at = c(0, 0.99))
#' book <- turn_winsorize(book, hours, limits = c(0, 60), outside = "missing", as = "hours60")
#' @export
turn_winsorize <- function(book, vars, at = c(0.01, 0.99), limits = NULL, within = NULL,
                           outside = "end", ..., as = NULL, label = NULL, note = NULL, high = NULL,
                           accept = NULL, replace = FALSE) {
  refuse_dots(...)
  from <- select_vars(book, rlang::enquo(vars))
  if (!is.null(limits) && !missing(at)) fail("ends-both")
  turn <- new_turn("winsorize", result_names(from, as, "_w"),
    from = from, at = if (is.null(limits)) at, limits = limits,
    within = chosen_vars(book, rlang::enquo(within), "within"),
    outside = drop_default(outside, "end"), label = label, note = note, high = high,
    accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("winsorize",
  keys = c(from = "names", label = "texts", at = "numbers", limits = "numbers", within = "names",
    outside = "word"),
  needs = "from", doing = "holding far values",
  says = function(derived, turn) {
    ends <- if (is.null(turn$limits)) paste("the quantiles at", paste(turn$at,
      collapse = " and ")) else
      paste(show_number(as.double(turn$limits)), collapse = " and ")
    paste0(derived$from[1], " held to ", ends, within_words(turn),
      if (identical(turn$outside, "missing")) ", what lies beyond being missing")
  },
  traits = c("reckons", "tells what is undefined")
)

#' @export
check_turn.winsorize_turn <- function(turn) {
  check_choice(turn$outside %||% "end", "outside", c("end", "missing"))
  if (!is.null(turn$limits)) return(check_ends(turn))
  at <- turn$at
  ok <- is.numeric(at) && length(at) == 2 && !anyNA(at) && all(at >= 0 & at <= 1) && at[1] < at[2]
  if (!ok) fail("bad-shares", got = if (is.numeric(at)) show_number(as.double(at)) else
    describe_type(at))
}

check_ends <- function(turn) {
  ends <- turn$limits
  ok <- is.numeric(ends) && length(ends) == 2 && !anyNA(ends) && ends[1] < ends[2]
  if (!ok) fail("bad-ends", got = if (is.numeric(ends)) show_number(as.double(ends)) else
    describe_type(ends))
  if (length(turn$within)) fail("ends-within")
}

#' @export
lower.winsorize_turn <- function(turn, world) {
  check_numbers(turn$from, world)
  gone <- identical(turn$outside, "missing")
  lapply(seq_along(turn$from), function(i) {
    x <- as.name(turn$from[i])
    if (!is.null(turn$at) && !length(turn$within)) world$ranks_ahead(turn$from[i], turn$at)
    expr <- held_node(x, ends_of(x, turn), gone)
    new_lowered(turn$makes[i], expr, held_meaning(turn, world, i),
      kinds = if (gone) rep("beyond the ends", length(choose_parts(expr)$tests)),
      counted = held_words(expr, gone), compared = "Mean (SD) before and after"
    )
  })
}

# The lower and the upper end, NULL where there is none.
ends_of <- function(x, turn) {
  if (!is.null(turn$limits)) {
    return(lapply(as.double(turn$limits), function(end) if (is.finite(end)) end))
  }
  lapply(turn$at, function(share) stat_of("quantile", x, turn, share))
}

held_node <- function(x, ends, gone) {
  pairs <- unlist(Map(function(word, end) {
    if (!is.null(end)) list(call(word, x, end), if (gone) NA else end)
  }, c("<", ">"), ends), recursive = FALSE)
  as.call(c(list(as.name("choose")), unname(pairs), list(x)))
}

held_words <- function(expr, gone) {
  tests <- vapply(choose_parts(expr)$tests, call_head, "")
  became <- if (gone) "made missing" else "held there"
  paste0(ifelse(tests == "<", "Below the lower end, ", "Above the upper end, "), became)
}

held_meaning <- function(turn, world, place) {
  source <- turn$from[place]
  old <- world$meaning(source)
  worked_out <- new_meaning(label = paste0(old$label %||% source, ", far values ",
    if (identical(turn$outside, "missing")) "left out" else "held to the ends"),
  level = old$level %||% "interval", unit = old$unit, high = old$high, low = old$low,
  limits = if (!is.null(turn$limits) && all(is.finite(turn$limits))) turn$limits else old$limits)
  finish_meaning(turn, worked_out, place)
}
