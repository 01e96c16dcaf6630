#' @include turn-type.R
NULL

#' Put a variable into ordered bands
#'
#' By stated cut points (`at`), or into a number of `groups`. Codes are 1, 2, ...
#' from the lowest band up; labels hold the bounds; the ends are open. The
#' receipt shows how many rows lie exactly on each cut point and where they went.
#'
#' Equal counts cut at quantiles of type 7 (Hyndman and Fan 1996), with weights
#' at the inverse of the weighted distribution, averaged at exact hits; equal
#' values never fall in different bands, and equal cut points merge their bands.
#' Equal width is (max - min)/groups. Spread cuts at m + s(j - groups/2) with
#' mean m and SD s (n - 1; both weighted, as in [turn_standardize()], where there is a
#' weight; a weight leaves rows of weight 0 out of equal width). Gaps have the least
#' sum of squares within bands, found
#' exactly (Fisher 1958). Cut points that come from the data are learned once
#' and recorded; `edge` decides on them as on stated ones. An infinite value is in the
#' lowest or highest band, and takes no part in finding cut points.
#'
#' @inheritParams turn_recode
#' @param vars The variables, a tidyselect selection.
#' @param at Cut points, in the variable's unit.
#' @param groups How many bands, where `at` is not given.
#' @param by How to find them: `"count"`, `"width"`, `"spread"` or `"gaps"`.
#' @param edge `"begins"`: a cut point is the first value of its band;
#'   `"ends"`: it is the last value of the band before.
#' @param labels Labels for the bands, from the lowest up.
#' @param weight A weight for each row, for bands found from the data.
#' @param ... Not used; the arguments after it are written in full.
#' @param as Name or pattern for the results; left out, the ending `_b`.
#' @return The book with the bands, ordinal.
#' @section Errors: Class `ableturn_error`, for cut points out of order or
#'   labels that do not fit the bands.
#' @references Hyndman, R. J. and Fan, Y. (1996). Sample quantiles in statistical
#'   packages. The American Statistician, 50, 361-365.
#'
#'   Fisher, W. D. (1958). On grouping for maximum homogeneity. Journal of the
#'   American Statistical Association, 53, 789-798.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- define(book, age, missing = c("Not given" = 999))
#' book <- turn_bin(book, age, as = "age3", at = c(30, 60))
#' book <- turn_bin(book, income, as = "income4", groups = 4)
#' @export
turn_bin <- function(book, vars, at = NULL, groups = NULL, ..., by = "count", edge = "begins",
                     labels = NULL, weight = NULL, as = NULL, missing = "carry", label = NULL,
                     note = NULL, high = NULL, accept = NULL, replace = FALSE) {
  refuse_dots(...)
  from <- select_vars(book, rlang::enquo(vars))
  stated <- !missing(weight) || !is.null(at)
  weigh <- rlang::enquo(weight)
  turn <- new_turn("bin", result_names(from, as, "_b"),
    from = from, at = at, groups = groups, by = if (is.null(at)) by,
    edge = drop_default(edge, "begins"), labels = labels,
    weight = weight_var(book, weigh, stated),
    missing = drop_default(missing, "carry"), label = label, note = note, high = high,
    accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("bin",
  keys = c(
    from = "names", label = "texts", at = "numbers", groups = "number", by = "word", edge = "word",
    labels = "texts", weight = "names", missing = "word"
  ),
  needs = "from", doing = "putting into bands",
  says = function(derived, turn) {
    paste0("made of ", in_a_row(derived$from), " in ",
      counted(length(derived$meaning$codes), "band"))
  },
  traits = c("reckons", "makes categories", "weighs", "may be constant by mistake")
)

# More bands than these nobody reads; a table of codes is for turn_crosswalk().
most_bands <- 1000

band_ways <- c("count", "width", "spread", "gaps")

#' @export
check_turn.bin_turn <- function(turn) {
  check_carry(turn)
  check_choice(turn$edge %||% "begins", "edge", c("begins", "ends"))
  if (is.null(turn$at) == is.null(turn$groups)) fail("at-or-groups", name = turn$makes[1])
  if (!is.null(turn$at)) return(check_cuts(turn$at))
  check_choice(turn$by, "by", band_ways)
  check_number(turn$groups, "groups")
  if (turn$groups < 2 || turn$groups != round(turn$groups) ||
    turn$groups > most_bands) fail("bad-groups", groups = turn$groups)
}

check_cuts <- function(at) {
  if (inherits(at, "Date")) fail("bin-date", name = "at")
  if (!is.numeric(at) || !length(at) || !all(is.finite(at))) {
    fail("bad-cuts", got = describe_type(at))
  }
  if (length(at) >= most_bands) fail("bad-groups", groups = length(at) + 1)
  if (is.unsorted(at, strictly = TRUE)) fail("cuts-order", at = show_number(as.double(at)))
}

#' @export
lower.bin_turn <- function(turn, world) {
  lapply(seq_along(turn$from), function(i) lower_bands(turn, world, turn$from[i], i))
}

lower_bands <- function(turn, world, source, place) {
  if (inherits(world$column(source), "Date")) fail("bin-date", name = source)
  facts <- if (is.character(world$column(source))) {
    facts_of_column(as_number(world$values(source)))
  } else {
    world$facts(source)
  }
  note <- if (is.null(turn$at)) world$learn(cuts_call(turn, source))
  ends <- identical(turn$edge, "ends")
  # Cut points on record stay as they are, whatever the new data reach, so that codes keep their
  # meaning.
  if (!is.null(note) && !world$is_recorded(note) && !all_spread_bands(note, turn)) {
    note$is <- useful_cuts(note$is, facts, ends)
  }
  cuts <- sort(as.double(turn$at %||% note$is))
  words <- if (is.null(note)) show_number(cuts) else cut_words(cuts, function(cuts) {
    world$bands(source, cuts, ends)
  }, ends)
  rules <- band_rules(cuts, ends, words, is_whole(cuts) && world$is_whole(source), turn$labels,
    turn$makes[place])
  chosen <- choose_by_rules(turn, rules, world, source)
  lowered_by_rules(turn, place, chosen, band_meaning(turn, world, rules, source, place), note)
}

# Steps of one SD keep their codes, whether or not a band holds rows; without a spread there is only
# one cut.
all_spread_bands <- function(note, turn) turn$by == "spread" && length(note$is) == turn$groups - 1

cuts_call <- function(turn, source) {
  uneven <- identical(turn$by, "count") && identical(turn$edge, "ends")
  parts <- c(list(as.name("cut_points"), as.name(source), turn$groups, turn$by), if (uneven) TRUE)
  as.call(c(parts, if (!is.null(turn$weight)) list(weight = as.name(turn$weight))))
}

# A cut at the very end of the data would leave a band empty.
useful_cuts <- function(cuts, facts, ends) {
  if (ends) cuts[cuts < facts$high] else cuts[cuts > facts$low]
}

# Bands as rules over ranges, each with the bounds as its label; `words` are the cuts as they are
# written in labels.
band_rules <- function(cuts, ends, words, whole, labels, name) {
  bands <- length(cuts) + 1
  if (!length(labels) %in% c(0, bands)) {
    fail("labels-bands", labels = length(labels), bands = bands, name = name)
  }
  if (bands == 1) return(list(new_rule(1, labels %||% "all", rest = TRUE)))
  lapply(seq_len(bands), function(i) {
    low <- if (i > 1) cuts[i - 1]
    high <- if (i < bands) cuts[i]
    label <- if (whole) whole_band_label(low, high, ends) else
      band_label(if (i > 1) words[i - 1], if (i < bands) words[i], ends)
    new_rule(i, labels[i] %||% label, when = list(band_range(low, high, ends)))
  })
}

band_range <- function(low, high, ends) {
  if (is.null(low)) return(if (ends) upto(high) else under(high))
  if (ends) over(low, upto = high) else from(low, under = high)
}

# Cuts in as few figures as leave the label true of every row: six where they part the rows as the
# cut does.
cut_words <- function(cuts, parted, ends) {
  words <- show_number(cuts)
  if (all(signif(cuts, 6) == cuts)) return(words)
  near <- values_beside(parted(cuts))
  for (figures in 15:6) {
    short <- signif(cuts, figures)
    if (is.unsorted(short, strictly = TRUE)) break
    same <- if (ends) short >= near$below & short < near$above else short > near$below &
      short <= near$above
    words[same] <- show_number(short[same])
  }
  words
}

# The largest value on the lower side of each cut and the smallest on the upper one.
values_beside <- function(bands) {
  list(below = cummax(bands$high)[-length(bands$high)], above = rev(cummin(rev(bands$low)))[-1])
}

# "under 30", "30 to under 60", "60 and over".
band_label <- function(low, high, ends) {
  if (is.null(low)) return(if (ends) paste(high, "and under") else paste("under", high))
  start <- if (ends) paste("over", low) else low
  if (is.null(high)) return(if (ends) start else paste(start, "and over"))
  paste(start, if (ends) "to" else "to under", high)
}

# "30 to 59" for whole numbers.
whole_band_label <- function(low, high, ends) {
  if (is.null(low)) return(band_label(NULL, show_number(high), ends))
  first <- show_number(low + ends)
  if (is.null(high)) return(paste(first, "and over"))
  last <- show_number(high - !ends)
  if (first == last) first else paste(first, "to", last)
}

band_meaning <- function(turn, world, rules, source, place) {
  old <- world$meaning(source)
  codes <- seq_along(rules)
  names(codes) <- vapply(rules, `[[`, "", "label")
  worked_out <- new_meaning(
    label = paste0(old$label %||% source, ", in bands"), codes = codes, level = "ordinal",
    high = old$high, low = old$low
  )
  finish_meaning(turn, worked_out, place)
}
