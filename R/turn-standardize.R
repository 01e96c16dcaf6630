#' @include turn-type.R
NULL

#' Standardize variables
#'
#' Each value is placed in the distribution of the variable, or of its group, as
#' it was learned when the turn was made. The forms, with mean m and SD s (divided by n - 1):
#'
#' * `"z"`: (x - m)/s; `"t"`: 50 + 10 z; `"iq"`: 100 + 15 z
#' * `"sten"`: 5.5 + 2 z, rounded (halves up: z = 0 is 6) and held to 1 to 10
#' * `"percentile"`: 100 (below + equal/2)/n
#' * `"stanine"`: 1 to 9 by the percentile rank, cut at 4, 11, 23, 40, 60, 77,
#'   89 and 96, a rank on a cut belonging to the band above (40 is 5, 96 is 9); with
#'   `reference` by z, cut at 0.25, 0.75, 1.25 and 1.75 on either side, a z on a cut
#'   going away from the middle (0.25 is 6, -0.25 is 4)
#' * `"normal"`: the normal score of the mean rank, (r - 3/8)/(n + 1/4) (Blom 1958)
#' * `"pomp"`: percent of the maximum possible, by the limits (Cohen et al. 1999)
#' * `"robust"`: (x - median)/MAD, the MAD times 1.4826; `"centred"`: x - m;
#'   `"minmax"`: 0 for the lowest, 1 for the highest
#'
#' With weights m = sum(w x)/sum(w) and s^2 = sum(w (x - m)^2)/(sum(w) (n - 1)/n)
#' with n the rows of positive weight (the form that an SD by n - 1 takes where weights
#' have mean 1). Weights say how many people a row stands for, not how many rows there
#' are: rows repeated so often have another n, and so another SD. `"minmax"` takes the
#' lowest and the highest value of the rows with positive weight.
#'
#' Rows of a group that has fewer than two valid rows are missing, and so are those of
#' a group without any spread in `"z"`, `"t"`, `"iq"`, `"sten"`, `"robust"` and
#' `"minmax"`; the receipt names the groups. The forms by rank give such a group its
#' middle (50, 5 or 0), and `"centred"` 0. Infinite values take no part.
#'
#' @inheritParams turn_recode
#' @param vars The variables, a tidyselect selection.
#' @param how The form, one of those under Details.
#' @param within Variables whose groups are standardized each by itself.
#' @param weight A survey weight for each row.
#' @param reference Published norms, `c(mean = 50, sd = 10)`, in place of the
#'   mean and SD of these data.
#' @param limits For `"pomp"`: the limits of the scale; left out, those defined.
#' @param divisor `"n - 1"`, or `"n"` for the SD of these rows alone.
#' @param ... Not used; the arguments after it are written in full.
#' @param as Name or pattern for the results; left out, an ending for each form:
#'   `_z`, `_t`, `_iq`, `_sten`, `_stanine`, `_percentile`, `_normal`, `_pomp`,
#'   `_robust`, `_centred`, `_minmax`.
#' @return The book with the standardized variables.
#' @section Errors: Class `ableturn_error`: `ableturn_error_no_spread` where no
#'   group can be standardized, `ableturn_error_standardize_with` for arguments
#'   that have no meaning for the form.
#' @references Blom, G. (1958). Statistical estimates and transformed
#'   beta-variables. Wiley.
#'
#'   Cohen, P., Cohen, J., Aiken, L. S. and West, S. G. (1999). The problem of
#'   units and the circumstance for POMP. Multivariate Behavioral Research, 34,
#'   315-346.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_standardize(book, wait_min, how = "z")
#' book <- turn_standardize(book, c(income, hours), how = "percentile", within = island)
#' @export
turn_standardize <- function(book, vars, how = "z", within = NULL, weight = NULL, reference = NULL,
                             ..., limits = NULL, divisor = "n - 1", as = NULL, missing = "carry",
                             label = NULL, note = NULL, high = NULL, accept = NULL,
                             replace = FALSE) {
  refuse_dots(...)
  from <- select_vars(book, rlang::enquo(vars))
  check_choice(how, "how", names(standard_forms))
  stated <- !missing(weight) || !is.null(reference) ||
    !"weight" %in% standard_forms[[how]]$with
  turn <- new_turn("standardize", result_names(from, as, paste0("_", how)),
    from = from, how = how, within = chosen_vars(book, rlang::enquo(within), "within"),
    weight = chosen_vars(book, rlang::enquo(weight), "weight") %||%
      if (!stated) default_weight(book),
    reference = norms_in_order(reference), limits = check_limits(limits),
    divisor = drop_default(divisor, "n - 1"), missing = drop_default(missing, "carry"),
    label = label, note = note, high = high, accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("standardize",
  keys = c(
    from = "names", label = "texts", how = "word", within = "names", weight = "names",
    reference = "numbers", limits = "numbers", divisor = "text", missing = "word"
  ),
  needs = "from", doing = "standardizing",
  says = function(derived, turn) {
    paste0("the ", form_words[[turn$how %||% "z"]], " of ", turn$from[1], within_words(turn))
  },
  traits = c("reckons", "sets the scale", "weighs", "tells what is undefined")
)

# Which arguments have a meaning for each form, and how its results are called.
standard_forms <- list(
  z = list(words = "z score", with = c("within", "weight", "reference", "divisor")),
  t = list(words = "T score", with = c("within", "weight", "reference", "divisor")),
  iq = list(words = "IQ-type score", with = c("within", "weight", "reference", "divisor")),
  sten = list(words = "sten", with = c("within", "weight", "reference", "divisor")),
  stanine = list(words = "stanine", with = c("within", "weight", "reference")),
  percentile = list(words = "percentile rank", with = c("within", "weight")),
  normal = list(words = "normal score", with = "within"),
  pomp = list(words = "percent of maximum possible", with = "limits"),
  robust = list(words = "robust z score", with = c("within", "weight")),
  centred = list(words = "centred", with = c("within", "weight", "reference")),
  minmax = list(words = "0 to 1", with = c("within", "weight"))
)

norms_in_order <- function(reference) {
  if (is.null(reference)) return(NULL)
  reference <- unlist(reference)
  if (!is.null(names(reference))) {
    if (!setequal(names(reference), c("mean", "sd"))) {
      fail("reference-names", names = names(reference))
    }
    reference <- reference[c("mean", "sd")]
  }
  unname(reference)
}

#' @export
check_turn.standardize_turn <- function(turn) {
  check_carry(turn)
  check_choice(turn$how, "how", names(standard_forms))
  check_choice(turn$divisor %||% "n - 1", "divisor", c("n - 1", "n"))
  check_limits(turn$limits)
  given <- intersect(c("within", "weight", "reference", "limits", "divisor"), names(turn))
  odd <- setdiff(given, standard_forms[[turn$how]]$with)
  if (length(odd)) fail("standardize-with", argument = odd[1], how = turn$how)
  if (length(turn$weight) > 1) fail("one-weight", names = turn$weight)
  if (!is.null(turn$reference)) check_reference(turn)
}

check_reference <- function(turn) {
  ok <- is.numeric(turn$reference) && length(turn$reference) == 2 && all(is.finite(turn$reference))
  if (!ok || turn$reference[2] <= 0) fail("bad-reference", got = describe_type(turn$reference))
  if (!is.null(turn$within) || !is.null(turn$weight)) fail("reference-alone", name = turn$makes[1])
}

#' @export
lower.standardize_turn <- function(turn, world) {
  check_numbers(turn$from, world)
  lapply(seq_along(turn$from), function(i) {
    source <- turn$from[i]
    place_it <- if (ranks_rows(turn)) placed_by_rank else placed_by_scale
    scaled <- place_it(turn, world, source)
    new_lowered(turn$makes[i], scaled$expr, standard_meaning(turn, world, source, i),
      carry = !identical(turn$missing, "plain"), notes = scaled$notes, remarks = scaled$remarks
    )
  })
}

standard_meaning <- function(turn, world, source, place) {
  old <- world$meaning(source)
  group <- if (!is.null(turn$within)) paste0(" within ", paste(turn$within, collapse = " and "))
  limits <- list(sten = c(1, 10), stanine = c(1, 9), pomp = c(0, 100), percentile = c(0, 100),
    minmax = c(0, 1))
  worked_out <- new_meaning(
    label = paste0(old$label %||% source, ", ", standard_forms[[turn$how]]$words, group),
    level = if (turn$how %in% c("sten", "stanine", "percentile")) "ordinal" else "interval",
    limits = as_code(limits[[turn$how]]), high = old$high, low = old$low,
    unit = if (turn$how == "centred") old$unit
  )
  finish_meaning(turn, worked_out, place)
}

# Forms by a mean and a spread, as formulas over statistics that are learned.
placed_by_scale <- function(turn, world, source) {
  x <- as.name(source)
  if (turn$how == "pomp") {
    return(list(expr = percent_of_maximum(x, limits_for(source, turn$limits, world))))
  }
  expr <- switch(turn$how,
    robust = call("/", call("-", x, stat_of("median", x, turn)), stat_of("mad", x, turn)),
    minmax = call("/", call("-", x, stat_of("min", x, turn)),
      call("-", stat_of("max", x, turn), stat_of("min", x, turn))),
    centred = call("-", x, centre_of(x, turn, world)),
    from_z(call("/", call("-", x, mean_of(x, turn)), spread_of(x, turn, world)), turn$how)
  )
  list(expr = expr, remarks = if (is.null(turn$reference)) spread_remarks(turn, world, x))
}

from_z <- function(z, how) {
  switch(how,
    z = z,
    t = call("+", 50, call("*", 10, z)),
    iq = call("+", 100, call("*", 15, z)),
    # rounded half away from zero: below 0.5 it is held at 1 anyway
    sten = call("kept_between", call("floor", call("+", 6 + 1e-9, call("*", 2, z))), 1, 10),
    stanine = stanine_of_z(z)
  )
}

# A z on a cut goes away from the middle, so that a score that is turned round gets 10 less its
# stanine.
stanine_of_z <- function(z) {
  cuts <- c(0.25, 0.75, 1.25, 1.75) - half_guard
  call("+", 1, call("cuts_below", z, c(-rev(cuts), cuts)))
}

percent_of_maximum <- function(x, limits) {
  limits <- as.double(limits)
  call("/", call("*", 100, if (limits[1] == 0) x else call("-", x, limits[1])), diff(limits))
}
