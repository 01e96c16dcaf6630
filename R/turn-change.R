#' @include turn-type.R
NULL

#' Change from another occasion, and statistics of groups
#'
#' `turn_change()` compares each row with another occasion of the same unit: the one before,
#' the first, the last, or the one where a condition holds (`from = wave == 1`). Where there is
#' no row before, the result is missing of the kind "no earlier occasion"; where there is no row
#' or no valid answer to compare with, of the kind "no baseline": a missing baseline is never 0.
#' The order of the rows does not matter and is not changed. Occasions that stand side by side
#' in columns are named by `occasions =`. `turn_group()` gives each row a statistic of its
#' group, over the group's valid rows: a household's mean, the size of a class, the mean of the
#' others.
#'
#' The occasion to compare with is found anew wherever the turn is made: nothing is learned of
#' single units. The row that others are compared with has the change 0, and rows before it are
#' compared as well. The occasion before is the nearest earlier row of the unit, whether or not
#' it has a valid answer: after 1, missing, 3 there is no change at 3; with `skip_missing = TRUE`
#' it is the nearest earlier one that has (and the first, or the last, the first or last that
#' has). A condition that holds in two rows of a unit is refused. That an occasion is lacking
#' is told where most units share the same ones: where half of the rows and more are of
#' occasions that half of the units have, in equal steps, and a row has an occasion of
#' others between it and the row before.
#'
#' Change is x - p for the value p there, x/p for "ratio", and 100 (x - p)/|p| for "percent"; a
#' ratio to 0 is undefined. `"value"` is p itself. Of dates the difference is in days, so that
#' `turn_change(book, interview_date, unit = person, order = wave, from = "first")` is the time
#' since the first interview.
#'
#' `how = "reliable"` gives the reliable change index of Jacobson and Truax (1991), RC = (x - p)/(s
#' sqrt(2) sqrt(1 - r)), with the reliability r and the standard deviation s of the answers that
#' are compared with (learned from these, one of each unit, divided by n - 1; or `sd =`; with
#' `from = "previous"`, from the first occasion of each unit). Beside it stands, with the ending
#' `_class`, whether RC lies beyond 1.96 to the better (1) or to the worse (-1) or within (0); with
#' `cutoff = c`, c itself being on its upper side, and with the ending `_crossed`, whether the
#' cut-off was crossed to the better (1), to the worse (-1) or not (0). One SD and equal errors of
#' both occasions are assumed; Maassen (2004) says what follows where they differ.
#'
#' With `leave_out = TRUE` a statistic of the group is of its other members that have a valid
#' answer, also where one's own is missing; where there is none it is missing. It can be had of
#' `"mean"`, `"sum"`, `"valid"` and `"size"`. For a mean the receipt has how alike members of a
#' group are, by an analysis of variance with between and within mean squares MSB and MSW: ICC(1) =
#' (MSB - MSW)/(MSB + (k - 1) MSW), with k = (N - sum(n^2)/N)/(J - 1) for J groups of n rows
#' (Haggard 1958), and the reliability of the means, ICC(2) = (MSB - MSW)/MSB (Bliese 2000). Both
#' may be negative, and are always those of the data at hand.
#'
#' A statistic of groups is learned as `mean(x, within = group)` is: recorded with its
#' value for each of up to 100 groups, which [apply_turns()] uses unless `learned =
#' "refit"`. Counts (`"size"`, `"valid"`), what leaves a row out, and statistics of more groups,
#' such as households, are always those of the data at hand. Of dates there are `"min"`, `"max"`,
#' `"median"` and `"mean"` (the day on which they fall), and `"sd"` in days. A group
#' without any valid row has no statistic but 0 valid rows.
#'
#' @inheritParams turn_recode
#' @param vars The variables, a tidyselect selection.
#' @param unit The variable that tells whose occasions belong together.
#' @param order The variable that puts them in order.
#' @param how For a change `"difference"`, `"ratio"`, `"percent"`, `"value"` or `"reliable"`; for a
#'   group `"mean"`, `"sum"`, `"min"`, `"max"`, `"median"`, `"sd"`, `"valid"` (rows with a
#'   valid answer) or `"size"` (all rows of the group).
#' @param from What is compared with: `"previous"`, `"first"`, `"last"`, or a condition that
#'   holds in one row of each unit.
#' @param occasions Variables that hold the same answer on one occasion after the other, in their
#'   order, in place of `vars`, `unit` and `order`: one result for each that is compared.
#' @param skip_missing Occasions without a valid answer are passed over.
#' @param reliability For `"reliable"`: a number from 0 to below 1, whose source belongs into
#'   `note`; or what [item_analysis()] gave for the items, whose alpha is taken.
#' @param sd For `"reliable"`: the standard deviation of a reference sample.
#' @param better For `"reliable"`: whether `"high"` or `"low"` values are the better ones.
#' @param cutoff For `"reliable"`: where the scores of the well begin, or those of the ill.
#' @param within The variables that make the groups.
#' @param weight A weight for each row, for `"mean"`, sum(w x)/sum(w), and `"sum"`, sum(w x).
#' @param leave_out Leave the row itself out of its group.
#' @param ... Not used; the arguments after it are written in full.
#' @param as Name or pattern for the results; left out, an ending: `_change`, `_rc` for a reliable
#'   change, `_previous`, `_first`, `_last` or `_baseline` for the value itself, or `_` and the
#'   statistic, with `_others` where the row is left out.
#' @return The book with the new variables.
#' @section Errors: `ableturn_error_occasions_twice` where unit and order do not
#'   tell the rows apart; `ableturn_error_baseline_twice` where a condition holds in two rows of
#'   a unit.
#' @references Bliese, P. D. (2000). Within-group agreement, non-independence, and reliability. In
#'   K. J. Klein & S. W. J. Kozlowski (Eds.), Multilevel theory, research, and methods in
#'   organizations (pp. 349-381). Jossey-Bass.
#'
#'   Haggard, E. A. (1958). Intraclass correlation and the analysis of variance. Dryden.
#'
#'   Jacobson, N. S., & Truax, P. (1991). Clinical significance: a statistical approach to defining
#'   meaningful change in psychotherapy research. Journal of Consulting and Clinical Psychology,
#'   59, 12-19.
#'
#'   Maassen, G. H. (2004). The standard error in the Jacobson and Truax reliable change index.
#'   Journal of the International Neuropsychological Society, 10, 888-893.
#' @examples
#' waves <- lapply(c("ferry-survey.csv", "ferry-wave2.csv", "ferry-wave3.csv"), function(file) {
#'   book <- turnbook(demo_file(file), codebook = demo_file("ferry-survey.codebook.json"))
#'   book <- turn_composite(book, st_1:st_6, reversed = c(st_2, st_5), as = "strain")
#'   as.data.frame(book)[c("person", "wave", "interview_date", "strain")]
#' })
#' panel <- turnbook(do.call(rbind, waves))
#' panel <- turn_change(panel, strain, unit = person, order = wave)
#' panel <- turn_change(panel, interview_date, unit = person, order = wave, from = "first")
#' panel <- turn_change(panel, strain, unit = person, order = wave, from = wave == 1,
#'   how = "reliable", reliability = 0.88, better = "low", note = "Reliability: alpha of wave 1")
#' wide <- data.frame(strain_1 = c(2, 5), strain_2 = c(3, 4), strain_3 = c(3, NA))
#' turn_change(wide, occasions = c(strain_1, strain_2, strain_3), from = "first")
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' turn_group(book, income, within = household_id, how = "mean")
#' turn_group(book, income, within = household_id, leave_out = TRUE)
#' @export
turn_change <- function(book, vars, unit = NULL, order = NULL, how = "difference",
                        from = "previous", ..., occasions = NULL, skip_missing = FALSE,
                        reliability = NULL, sd = NULL, better = NULL, cutoff = NULL, as = NULL,
                        label = NULL, note = NULL, high = NULL, accept = NULL, replace = FALSE) {
  refuse_dots(...)
  check_choice(how, "how", change_ways)
  told <- list(unit = rlang::enquo(unit), order = rlang::enquo(order))
  since <- since_of(rlang::enquo(from), book)
  wide <- !rlang::quo_is_null(rlang::enquo(occasions))
  sources <- select_vars(book, if (wide) rlang::enquo(occasions) else rlang::enquo(vars),
    if (wide) "occasions" else "vars")
  check_rows_or_columns(told, wide, missing(vars), sources)
  reliability <- stated_reliability(reliability, note)
  turn <- new_turn("change", character(), from = sources, wide = drop_default(wide, FALSE),
    unit = if (!wide) one_var(book, told$unit, "unit"),
    order = if (!wide) one_var(book, told$order, "order"),
    how = how, since = drop_default(since$word, "previous"), baseline = since$formula,
    skip_missing = drop_default(skip_missing, FALSE), reliability = reliability$is, sd = sd,
    better = better, cutoff = cutoff, label = label, note = reliability$note, high = high,
    accept = read_accept(accept)
  )
  turn$makes <- change_names(turn, as)
  make_turn(book, turn, replace)
}

# Occasions stand in rows, told by unit and order, or side by side in columns.
check_rows_or_columns <- function(told, wide, no_vars, sources) {
  lacking <- vapply(told, rlang::quo_is_null, NA)
  if (wide && !(no_vars && all(lacking))) fail("occasions-or-rows")
  if (!wide && any(lacking)) fail("change-unit", argument = names(which(lacking))[1],
    first = sources[1], last = sources[length(sources)])
}

turn_type("change",
  keys = c(from = "names", label = "texts", unit = "names", order = "names", how = "word",
    since = "word", baseline = "formula", wide = "flag", skip_missing = "flag",
    reliability = "number", sd = "number", better = "word", cutoff = "number"),
  needs = "from", called = c(since = "from", baseline = "from"),
  main = function(turn) if (isTRUE(turn$wide)) c(occasions = "from") else c(vars = "from"),
  beside = function(turn, names) reliable_names(turn, names),
  doing = "comparing occasions",
  says = function(derived, turn) change_in_words(derived, turn),
  traits = c("reckons", "shows its counts")
)

change_ways <- c("difference", "ratio", "percent", "value", "reliable")

change_origins <- c("previous", "first", "last")

change_in_words <- function(derived, turn) {
  since <- since_in_words(turn)
  whose <- if (!is.null(turn$unit)) paste0(", of the same ", turn$unit)
  how <- turn$how %||% "difference"
  if (derived$name %in% reliable_names(turn, named_results(turn))) {
    return(paste0("told from a reliable change since ", since, whose))
  }
  switch(how, value = paste0("the value on ", since, whose),
    reliable = paste0("the reliable change index since ", since, whose),
    paste0("the ", how, " of ", turn$from[1], " from ", since, whose))
}

# What is compared with: one of the words, or a condition as a formula.
since_of <- function(quo, book) {
  expr <- rlang::quo_get_expr(quo)
  if (is.symbol(expr)) {
    word <- as.character(expr)
    if (!word %in% names(book)) expr <- get0(word, rlang::quo_get_env(quo)) %||% word
  }
  if (is.character(expr) && length(expr) == 1 && expr %in% change_origins) return(list(word = expr))
  if (!is.call(expr)) fail("from-unclear", got = paste(deparse(expr), collapse = " "))
  list(formula = formula_of(expr, book, rlang::quo_get_env(quo)))
}

change_names <- function(turn, as) {
  ending <- switch(turn$how, reliable = "_rc",
    value = if (is.null(turn$baseline)) paste0("_", turn$since %||% "previous") else "_baseline",
    "_change")
  names <- result_names(compared_sources(turn), as, ending)
  c(names, reliable_names(turn, names))
}

# The sources of which there is a result: of columns side by side, all but the one compared with.
compared_sources <- function(turn) {
  if (!isTRUE(turn$wide)) return(turn$from)
  if (identical(turn$since, "last")) turn$from[-length(turn$from)] else turn$from[-1]
}

#' @export
check_turn.change_turn <- function(turn) {
  check_choice(turn$how, "how", change_ways)
  check_choice(turn$since %||% "previous", "since", change_origins)
  for (argument in c("wide", "skip_missing")) check_flag(turn[[argument]] %||% FALSE, argument)
  if (!is.null(turn$baseline) && isTRUE(turn$skip_missing)) fail("skip-condition")
  if (isTRUE(turn$wide)) check_wide_change(turn)
  check_reliable(turn)
}

check_wide_change <- function(turn) {
  if (length(turn$from) < 2) fail("one-occasion", name = turn$from)
  if (!is.null(turn$baseline)) fail("wide-condition", formula = turn$baseline)
}

#' @export
more_reads.change_turn <- function(turn) {
  if (!is.null(turn$baseline)) formula_vars(parse_formula(turn$baseline))
}

#' @export
lower.change_turn <- function(turn, world) {
  check_numbers(turn$from, world, dates = turn$how %in% c("difference", "value"))
  days <- vapply(turn$from, function(name) inherits(world$column(name), "Date"), NA)
  if (isTRUE(turn$wide) && any(days) && !all(days)) refuse_days(turn$from, world)
  sources <- compared_sources(turn)
  before <- before_nodes(turn, world)
  names <- named_results(turn)
  remarks <- compact(list(origin_remark(turn), steps_remark(turn, world), gap_remark(turn, world)))
  changes <- lapply(seq_along(sources), function(i) {
    new_lowered(names[i], change_node(sources[i], before[[i]], turn, world),
      change_meaning(turn, world, sources[i], i), remarks = c(remarks, reliable_remark(turn)))
  })
  c(changes, lower_reliable(turn, sources, before))
}

change_node <- function(source, before, turn, world) {
  x <- as.name(source)
  switch(turn$how,
    value = before,
    difference = call("-", x, before),
    ratio = call("/", x, before),
    percent = call("/", call("*", 100, call("-", x, before)), call("abs", before)),
    reliable = reliable_node(x, before, turn, world)
  )
}

change_words <- c(difference = "change", percent = "change in percent",
  reliable = "reliable change index")

change_meaning <- function(turn, world, source, place) {
  old <- world$meaning(source)
  since <- since_in_words(turn)
  words <- switch(turn$how, value = since, ratio = paste("ratio to", since),
    change_words[[turn$how]])
  if (!turn$how %in% c("value", "ratio") && !is_plain_previous(turn)) {
    words <- paste(words, "since", since)
  }
  kept <- if (turn$how == "value") unclass(old)[intersect(names(old), c("codes", "limits", "high",
    "low"))]
  worked_out <- do.call(new_meaning, c(list(
    label = paste0(old$label %||% source, ", ", words),
    level = if (turn$how == "value") old$level %||% "interval" else "interval",
    unit = switch(turn$how, difference = , value = old$unit, percent = "%", NULL)), kept,
  if (turn$how != "value" && !is.null(old$high)) list(high = paste("a rise towards", old$high))))
  finish_meaning(turn, worked_out, place)
}

origin_remark <- function(turn) {
  if (is_plain_previous(turn) && !isTRUE(turn$skip_missing)) return(NULL)
  new_remark("Compared with", paste0(since_in_words(turn),
    if (isTRUE(turn$skip_missing)) " that has a valid answer"),
    plain = TRUE, whole = TRUE)
}
