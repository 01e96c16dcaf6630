#' @include turn-type.R
NULL

#' Change from the occasion before, and statistics of groups
#'
#' `turn_change()` compares each row with the occasion before of the same unit;
#' the first occasion is missing of the kind "no earlier occasion". The order of
#' the rows does not matter and is not changed. `turn_group()` gives each row a
#' statistic of its group, over the group's valid rows: a household's mean, the
#' size of a class.
#'
#' The occasion before is the nearest earlier row of the unit, whether or not it has a
#' valid answer: after 1, missing, 3 there is no change at 3. That an occasion is lacking
#' is told where most units share the same ones: where half of the rows and more are of
#' occasions that half of the units have, in equal steps, and a row has an occasion of
#' others between it and the row before.
#'
#' A statistic of groups is learned as `mean(x, within = group)` is: recorded with its
#' value for each of up to 100 groups, which [apply_turns()] uses unless `learned =
#' "refit"`. Counts (`"size"`, `"valid"`), and statistics of more groups, such as
#' households, are always those of the data at hand. Of dates there are `"min"`, `"max"`,
#' `"median"` and `"mean"` (the day on which they fall), and `"sd"` in days. A group
#' without any valid row has no statistic but 0 valid rows.
#'
#' Change is x - p for the value p of the occasion before, x/p for "ratio", and
#' 100 (x - p)/|p| for "percent".
#'
#' @inheritParams turn_recode
#' @param vars The variables, a tidyselect selection.
#' @param unit The variable that tells whose occasions belong together.
#' @param order The variable that puts them in order.
#' @param how For a change `"difference"`, `"ratio"` or `"percent"`; for a group
#'   `"mean"`, `"sum"`, `"min"`, `"max"`, `"median"`, `"sd"`, `"valid"` (rows with a
#'   valid answer) or `"size"` (all rows of the group).
#' @param within The variables that make the groups.
#' @param weight A weight for each row, for `"mean"`, sum(w x)/sum(w), and `"sum"`, sum(w x).
#' @param ... Not used; the arguments after it are written in full.
#' @param as Name or pattern for the results; left out, the ending `_change`, or
#'   `_` and the statistic.
#' @return The book with the new variables.
#' @section Errors: `ableturn_error_occasions_twice` where unit and order do not
#'   tell the rows apart.
#' @examples
#' panel <- data.frame(person = c(1, 1, 2, 2), wave = c(1, 2, 2, 1), strain = c(2, 3, 4, 5))
#' turn_change(panel, strain, unit = person, order = wave)
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' turn_group(book, income, within = household_id, how = "mean")
#' @export
turn_change <- function(book, vars, unit, order, how = "difference", ..., as = NULL, label = NULL,
                        note = NULL, high = NULL, accept = NULL, replace = FALSE) {
  refuse_dots(...)
  from <- select_vars(book, rlang::enquo(vars))
  lacking <- c(unit = missing(unit), order = missing(order))
  if (any(lacking)) fail("change-unit", argument = names(which(lacking))[1], first = from[1],
    last = from[length(from)])
  turn <- new_turn("change", result_names(from, as, "_change"),
    from = from, unit = one_var(book, rlang::enquo(unit), "unit"),
    order = one_var(book, rlang::enquo(order), "order"),
    how = how, label = label, note = note, high = high,
    accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("change",
  keys = c(from = "names", label = "texts", unit = "names", order = "names", how = "word"),
  needs = "from", doing = "comparing occasions",
  says = function(derived, turn) {
    paste0("the ", turn$how %||% "difference", " of ", turn$from[1],
      " from the occasion before, of the same ", turn$unit)
  },
  traits = "reckons"
)

change_ways <- c("difference", "ratio", "percent")

#' @export
check_turn.change_turn <- function(turn) check_choice(turn$how, "how", change_ways)

#' @export
lower.change_turn <- function(turn, world) {
  check_numbers(turn$from, world, dates = TRUE)
  lapply(seq_along(turn$from), function(i) {
    source <- turn$from[i]
    new_lowered(turn$makes[i], resolve_occasions(change_node(source, turn), world),
      change_meaning(turn, world, source, i),
      remarks = compact(list(steps_remark(turn, world), gap_remark(turn, world)))
    )
  })
}

change_node <- function(source, turn) {
  x <- as.name(source)
  before <- call("previous", x, unit = as.name(turn$unit), order = as.name(turn$order))
  switch(turn$how,
    difference = call("-", x, before),
    ratio = call("/", x, before),
    percent = call("/", call("*", 100, call("-", x, before)), call("abs", before))
  )
}

change_meaning <- function(turn, world, source, place) {
  old <- world$meaning(source)
  words <- c(difference = "change", ratio = "ratio to the occasion before",
    percent = "change in percent")
  worked_out <- new_meaning(
    label = paste0(old$label %||% source, ", ", words[[turn$how]]), level = "interval",
    unit = if (turn$how == "difference") old$unit else if (turn$how == "percent") "%",
    high = if (!is.null(old$high)) paste("a rise towards", old$high)
  )
  finish_meaning(turn, worked_out, place)
}

# The occasions in their order.
occasions_of <- function(turn, world) {
  order <- world$values(turn$order)
  if (is.character(order)) return(world$learn(occasion_call(turn$order, world))$is)
  sort_values(unique(order[!is.na(order)]))
}

steps_remark <- function(turn, world) {
  if (!world$is_text(turn$order)) return(NULL)
  steps <- occasions_of(turn, world)
  new_remark("Order of the occasions", paste(c(utils::head(steps, 8), if (length(steps) > 8) "..."),
    collapse = " < "))
}

# Units that skip an occasion which others have: where occasions are common to most of them.
gap_remark <- function(turn, world) {
  if (!has_common_occasions(turn, world)) return(NULL)
  gaps <- world$gaps(turn$order, turn$unit, occasions_of(turn, world))
  if (gaps) new_remark("The occasion just before is lacking, an earlier one is used",
    counted(gaps, "row"), "group-boundary")
}

# Waves, not days on which everybody came on their own: most rows are of occasions that half of the
# units share, and these follow each other in equal steps.
has_common_occasions <- function(turn, world) {
  met <- world$few(turn$order)
  if (is.null(met)) return(FALSE)
  # of very many units the most frequent occasion is held by most
  units <- world$answers(turn$unit, 65536)
  if (units == 65536) units <- max(met$rows, 0)
  common <- met$rows >= units / 2
  if (sum(met$rows[common]) < sum(met$rows) / 2) return(FALSE)
  if (!is.numeric(met$values) || inherits(met$values, "Date")) return(TRUE)
  steps <- diff(sort(as.double(met$values[common])))
  !length(steps) || mean(steps == stats::median(steps) & steps == round(steps)) >= 0.9
}

# The order of occasions that are text: by their codes, as numbers or as dates, and written down;
# any other text is refused, since sorting it would put "follow-up" before "start".
resolve_occasions <- function(node, world) {
  walk_formula(node, function(call) {
    order <- as.list(call)$order
    if (call_head(call) != "previous" || is.null(order) || !world$is_text(as.character(order))) {
      return(call)
    }
    call$steps <- occasion_call(as.character(order), world)
    call
  })
}

# Whether texts stand in an order by themselves or by their codes.
have_order <- function(texts, codes = NULL) {
  all(texts %in% codes) || all(grepl(plain_number, texts)) || all(grepl(iso_datetime, texts))
}

occasion_call <- function(name, world) {
  steps <- call("categories", as.name(name))
  texts <- world$met(name)$values
  sortable <- have_order(texts, world$meaning(name)$codes) ||
    world$is_recorded(list(of = formula_text(steps)))
  if (!sortable) fail("order-text", name = name, offer = offer_in_words(name,
    reading_offers(texts)), values = quote_text(utils::head(sort_points(texts), 5)))
  steps
}
