#' @include turn-type.R
NULL

#' Fill missing items of a scale
#'
#' Missing answers to single items are filled in rows that have answered at least `at_least` of
#' them, from the row's other answers, from the item, or from both. The receipt counts the filled
#' cells of
#' each item. The originals stay as they are.
#'
#' * `"two-way"`: row mean + item mean - overall mean (Bernaards and Sijtsma 2000)
#' * `"row mean"`: the mean of the row's valid items
#' * `"item mean"`, `"item median"`: those of the item
#'
#' Item means are learned over all valid answers to an item, also those of rows below `at_least`;
#' the overall mean is that of all valid answers to all items. What is filled is held to the item's
#' limits, or else between the lowest and the highest of its labelled codes. `round = TRUE` takes
#' the nearest code, halves up. Never filled are rows without any answer, and answers of those who
#' were
#' not asked: the kind "not asked", and declared kinds called so or "not applicable",
#' "inapplicable", "does not apply".
#'
#' Nothing is drawn at random, so that a record gives the same each time. But alpha rises, SDs fall,
#' and standard errors do not know that answers are missing; tests need multiple imputation (van
#' Ginkel et al. 2007). A score of the mean of the valid items, `turn_composite(how = "mean",
#' at_least = )`,
#' is the same as one of items filled by row mean.
#'
#' All items must be worded the same way: reverse those that are not first.
#'
#' @inheritParams turn_recode
#' @param items The items, a tidyselect selection.
#' @param how One of the ways above.
#' @param at_least How many valid items a row must have to be filled.
#' @param round Take the nearest code.
#' @param filled The name of a further variable, which counts the filled items of each row (0 where
#'   nothing was filled); left out, there is none.
#' @param ... Not used; the arguments after it are written in full.
#' @param as Name or pattern for the results; left out, the ending `_f`.
#' @return The book with the filled items.
#' @section Errors: Class `ableturn_error`: `ableturn_error_bad_threshold`,
#'   `ableturn_error_one_item`.
#' @references Bernaards, C. A., & Sijtsma, K. (2000). Influence of imputation and EM methods on
#'   factor analysis when item nonresponse in questionnaire data is nonignorable. Multivariate
#'   Behavioral
#'   Research, 35, 321-364.
#'
#'   van Ginkel, J. R., van der Ark, L. A., & Sijtsma, K. (2007). Multiple imputation of item scores
#'   in test and questionnaire data, and influence on psychometric results. Multivariate Behavioral
#'   Research, 42, 387-414.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_fill(book, tr_1:tr_4, at_least = 3, round = TRUE, filled = "tr_filled")
#' @export
turn_fill <- function(book, items, at_least, how = "two-way", ..., round = FALSE, filled = NULL,
                      as = NULL, label = NULL, note = NULL, high = NULL, accept = NULL,
                      replace = FALSE) {
  refuse_dots(...)
  need_given(at_least)
  from <- select_vars(book, rlang::enquo(items), "items")
  turn <- new_turn("fill", c(result_names(from, as, "_f"), filled), from = from, how = how,
    at_least = at_least, round = drop_default(round, FALSE),
    filled = if (!is.null(filled)) one_name(filled, "fill"), label = label, note = note,
    high = high, accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("fill",
  keys = c(from = "names", label = "texts", how = "word", at_least = "number", round = "flag",
    filled = "text"),
  needs = "from", main = c(items = "from"), beside = function(turn, names) turn$filled,
  doing = "filling missing items",
  says = function(derived, turn) {
    if (derived$name %in% turn$filled) return("counted: how many items were filled")
    paste0(derived$from[1], " with missing answers filled by ", turn$how,
      ", in rows with at least ",
      turn$at_least, " valid items")
  },
  traits = c("reckons", "tells what is undefined")
)

fill_ways <- c("two-way", "row mean", "item mean", "item median")

# Missing answers of these kinds are no gaps: nothing was asked.
never_asked <- c("not asked", "not applicable", "inapplicable", "does not apply")

#' @export
check_turn.fill_turn <- function(turn) {
  check_choice(turn$how, "how", fill_ways)
  check_flag(turn$round %||% FALSE, "round")
  if (length(turn$from) < 2) fail("one-item", name = turn$from)
  check_threshold(turn$at_least, 1, length(turn$from))
}

#' @export
lower.fill_turn <- function(turn, world) {
  check_numbers(turn$from, world)
  refuse_days(turn$from, world)
  items <- lapply(turn$from, as.name)
  enough <- call("!", call("is.na", row_mean_node(turn)))
  notes <- item_notes(turn, world)
  out <- lapply(seq_along(items), function(i) {
    lowered_fill(items[[i]], i, enough, filled_value(turn, world, i, notes), notes, turn, world)
  })
  if (is.null(turn$filled)) out else c(out, list(lowered_filled(items, enough, turn, world)))
}

# The statistics of the items that the way rests on.
item_notes <- function(turn, world) {
  word <- switch(turn$how, "two-way" = , "item mean" = "mean", "item median" = "median")
  if (!is.null(word)) lapply(turn$from, function(name) world$learn(call(word, as.name(name))))
}

# The mean of the row's valid items, missing where they are too few.
row_mean_node <- function(turn) {
  as.call(c(list(as.name("row_mean")), lapply(turn$from, as.name), list(at_least = turn$at_least)))
}

# What stands in a filled cell: held to the item's ends, and to its codes where it is rounded.
filled_value <- function(turn, world, i, notes) {
  row <- row_mean_node(turn)
  own <- if (length(notes)) notes[[i]]$is
  value <- switch(turn$how, "row mean" = row, "two-way" = call("+", row, own - overall_mean(notes)),
    own)
  meaning <- world$meaning(turn$from[i])
  ends <- meaning$limits %||% if (is.numeric(meaning$codes)) range(meaning$codes)
  if (isTRUE(turn$round)) value <- nearest_code(value, meaning$codes)
  if (is.null(ends)) value else call("kept_between", value, as.double(ends[1]), as.double(ends[2]))
}

overall_mean <- function(notes) {
  rows <- vapply(notes, function(note) as.double(note$rows), 0)
  sum(vapply(notes, `[[`, 0, "is") * rows) / sum(rows)
}

# The nearest of some codes, halves up; whole numbers where there are none.
nearest_code <- function(value, codes) {
  codes <- if (is.numeric(codes)) sort(unique(as.double(codes)))
  if (length(codes) < 2 || all(diff(codes) == 1) && is_whole(codes)) {
    return(call("floor", call("+", value, 0.5 + half_guard)))
  }
  middles <- (codes[-1] + codes[-length(codes)]) / 2 - half_guard
  place <- call("cuts_below", value, middles)
  pairs <- unlist(lapply(seq_along(middles), function(i) list(call("==", place, i - 1), codes[i])),
    recursive = FALSE)
  as.call(c(list(as.name("choose")), pairs, list(codes[length(codes)])))
}

# An answer that is there stays; what is missing keeps its reason unless it is filled.
lowered_fill <- function(x, i, enough, value, notes, turn, world) {
  name <- as.character(x)
  kinds <- world$kinds_met(name)
  never <- kinds[loosen(kinds) %in% never_asked]
  gone <- function(kind) list(call("unanswered", x, kind), NA)
  others <- setdiff(kinds, never)
  pairs <- c(list(call("!", call("unanswered", x)), x), unlist(lapply(never, gone), FALSE),
    list(enough, value), unlist(lapply(others, gone), FALSE))
  new_lowered(turn$makes[i], as.call(c(list(as.name("choose")), pairs)),
    fill_meaning(turn, world, i), kinds = c(NA, never, NA, others), notes = unname(notes[i]),
    codes = TRUE, counted = c(rep("", length(never) + 1), "Filled")
  )
}

fill_meaning <- function(turn, world, i) {
  old <- world$meaning(turn$from[i])
  worked_out <- new_meaning(label = paste0(old$label %||% turn$from[i], ", filled"),
    codes = old$codes, level = old$level, limits = old$limits, high = old$high, low = old$low,
    unit = old$unit)
  finish_meaning(turn, worked_out, i)
}

# How many items of a row were filled.
lowered_filled <- function(items, enough, turn, world) {
  tests <- lapply(items, function(x) {
    kinds <- world$kinds_met(as.character(x))
    never <- kinds[loosen(kinds) %in% never_asked]
    tally_node(all_of_tests(c(list(call("unanswered", x)), lapply(never, function(kind) {
      call("!", call("unanswered", x, kind))
    }))))
  })
  expr <- call("choose", enough, as.call(c(list(as.name("row_sum")), tests)), 0)
  meaning <- new_meaning(label = paste("Filled items of", length(items)), level = "ratio",
    limits = c(0L, length(items)), high = "more items filled")
  new_lowered(turn$filled, expr, merge_meaning(meaning, turn[["define"]][[turn$filled]]),
    codes = TRUE)
}
