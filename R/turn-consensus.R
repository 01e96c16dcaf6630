#' @include turn-type.R
NULL

#' One code from several coders
#'
#' The code that most coders gave to a row. The receipt tells how far they agree; [disagreements()]
#' lists the rows in which they do not.
#'
#' A row needs `at_least` valid codes (else it is missing of the kind "too few codes"); where two
#' codes were given as often, it is missing of the kind "coders disagree", or, with `ties =
#' "first"`, has that one of them which the earlier coder in the selection gave.
#'
#' Agreement of two coders, over rows that both have coded: percent, Cohen's kappa (1960), and for
#' ordinal codes kappa weighted by squared distances of their places (1968), which equals an
#' intraclass correlation (Fleiss and Cohen 1973). Of more coders, over rows that all have coded:
#' Fleiss' kappa
#' (1971). Krippendorff's alpha (2004), over rows with two codes and more, by the level of the
#' codes: nominal, ordinal, interval or ratio. Where all codes are one category there is no kappa
#' and no
#' alpha, as nothing can be said of chance.
#'
#' @inheritParams turn_recode
#' @param coders The variables of the coders, a tidyselect selection, in its order.
#' @param at_least How many valid codes a row needs.
#' @param ties `"missing"` or `"first"`.
#' @param ... Not used; the arguments after it are written in full.
#' @param as Name of the result.
#' @return The book with the agreed code.
#' @section Errors: Class `ableturn_error`: `ableturn_error_coders_differ` where codes have other
#'   labels with one coder than with another.
#' @references Cohen, J. (1960). A coefficient of agreement for nominal scales. Educational and
#'   Psychological Measurement, 20, 37-46.
#'
#'   Cohen, J. (1968). Weighted kappa. Psychological Bulletin, 70, 213-220.
#'
#'   Fleiss, J. L. (1971). Measuring nominal scale agreement among many raters. Psychological
#'   Bulletin, 76, 378-382.
#'
#'   Fleiss, J. L., & Cohen, J. (1973). The equivalence of weighted kappa and the intraclass
#'   correlation coefficient as measures of reliability. Educational and Psychological Measurement,
#'   33, 613-619.
#'
#'   Krippendorff, K. (2004). Content analysis: an introduction to its methodology (2nd ed.). Sage.
#' @examples
#' third <- turnbook(demo_file("ferry-wave3.csv"),
#'   codebook = demo_file("ferry-wave3.codebook.json"), id = person)
#' third <- turn_consensus(third, c(why_less_a, why_less_b), as = "why_less")
#' disagreements(third, c(why_less_a, why_less_b))
#' @export
turn_consensus <- function(book, coders, at_least = 2, ties = "missing", ..., as = NULL,
                           label = NULL, note = NULL, high = NULL, accept = NULL, replace = FALSE) {
  refuse_dots(...)
  turn <- new_turn("consensus", one_name(as, "consensus"),
    from = select_vars(book, rlang::enquo(coders), "coders"), at_least = at_least,
    ties = drop_default(ties, "missing"), label = label, note = note, high = high,
    accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("consensus",
  keys = c(from = "names", label = "texts", at_least = "number", ties = "word"),
  needs = "from", main = c(coders = "from"), doing = "the code of several coders",
  says = function(derived, turn) {
    paste0("the code that most of ", length(turn$from), " coders gave (", in_a_row(turn$from),
      "), for rows with at least ", turn$at_least %||% 2, " codes")
  }
)

most_coders <- 8

#' @export
check_turn.consensus_turn <- function(turn) {
  coders <- length(turn$from)
  if (coders < 2) fail("one-coder", name = turn$from)
  if (coders > most_coders) fail("coders-many", coders = coders, most = most_coders)
  check_threshold(turn$at_least %||% 2, 1, coders)
  check_choice(turn$ties %||% "missing", "ties", c("missing", "first"))
}

#' @export
lower.consensus_turn <- function(turn, world) {
  meaning <- coders_meaning(turn, world)
  x <- lapply(turn$from, as.name)
  few <- list(call("<", codes_given(x), turn$at_least %||% 2), NA)
  agreed <- if (length(x) <= 3) agreed_by_pairs(x) else agreed_by_counts(x)
  first <- identical(turn$ties, "first")
  # a row that nobody has coded is not reached where one code is enough
  tied <- list(call(">", codes_given(x), 0), if (first) first_of_most(x) else NA)
  pairs <- c(few, agreed, tied)
  tests <- length(pairs) / 2
  kinds <- c("too few codes", rep(NA, tests - 2), if (first) NA else "coders disagree")
  list(new_lowered(turn$makes, as.call(c(list(as.name("choose")), pairs)), meaning,
    kinds = as.character(kinds), codes = TRUE,
    counted = c(rep("", tests - 1), if (first) "Ties, the first code taken" else ""),
    remarks = agreement_remarks(turn, world, meaning)))
}

is_given <- function(x) call("!", call("unanswered", x))

# How many of them have given a code.
codes_given <- function(x) {
  as.call(c(list(as.name("row_sum")), lapply(x, function(one) tally_node(is_given(one)))))
}

same_code <- function(a, b) call("==", tally_node(call("==", a, b)), 1)

# Of two or three coders: two that agree, or the only one who gave a code.
agreed_by_pairs <- function(x) {
  k <- length(x)
  pairs <- utils::combn(k, 2, simplify = FALSE)
  alone <- call("==", codes_given(x), 1)
  agreed <- lapply(pairs, function(pair) {
    list(same_code(x[[pair[1]]], x[[pair[2]]]), x[[pair[1]]])
  })
  c(unlist(agreed, recursive = FALSE), list(alone, as.call(c(list(as.name("first_valid")), x))))
}

# Of more: a code is agreed on where those who gave it are all of those whose code was given most.
agreed_by_counts <- function(x) {
  times <- lapply(x, times_given, x = x)
  most <- as.call(c(list(as.name("row_max")), times))
  winners <- as.call(c(list(as.name("row_sum")), lapply(times, function(n) {
    tally_node(call("==", n, most))
  })))
  unlist(Map(function(one, n) {
    list(call("&", call("==", n, most), call("==", winners, most)), one)
  }, x, times), recursive = FALSE)
}

# How many coders gave the code of one; 0 where that one gave none.
times_given <- function(one, x) {
  same <- lapply(x, function(other) tally_node(call("==", one, other)))
  as.call(c(list(as.name("row_sum")), same))
}

# The code of the earliest coder among those given most.
first_of_most <- function(x) {
  if (length(x) <= 3) return(as.call(c(list(as.name("first_valid")), x)))
  times <- lapply(x, times_given, x = x)
  most <- as.call(c(list(as.name("row_max")), times))
  as.call(c(list(as.name("choose")), unlist(Map(function(one, n) {
    list(call("==", n, most), one)
  }, x, times), recursive = FALSE)))
}

# Coders must mean the same by a code.
coders_meaning <- function(turn, world) {
  meanings <- lapply(turn$from, world$meaning)
  types <- vapply(turn$from, world$is_text, NA)
  if (any(types != types[1])) fail("coders-types", names = turn$from)
  refuse_days(turn$from, world)
  codes <- unlist(unname(lapply(meanings, `[[`, "codes")))
  unlike <- duplicated(codes) & !duplicated(key_texts(list(show_value(codes), names(codes))))
  if (any(unlike)) fail("coders-differ", code = show_value(unique(codes[unlike])))
  codes <- codes[!duplicated(codes)]
  old <- meanings[[1]]
  worked_out <- new_meaning(
    label = paste0(old$label %||% turn$from[1], ", by ", length(turn$from), " coders"),
    codes = if (is.numeric(codes)) codes[order(codes)] else codes,
    level = old$level, limits = old$limits, high = old$high, low = old$low, unit = old$unit)
  finish_meaning(turn, worked_out)
}

agreement_remarks <- function(turn, world, meaning) {
  told <- world$coders_agree(turn$from, meaning)
  if (is.null(told)) return(NULL)
  low <- isTRUE(told$kappa < 0.6)
  compact(list(new_remark("Agreement", agreement_in_words(told), plain = TRUE),
    if (low) new_remark("Agreement is low", told$words[["kappa"]], "coders-differ-much")))
}

agreement_in_words <- function(told) {
  paste0(paste(told$words, collapse = ", "), " (", counted(told$rows, "row"), " coded by ",
    if (told$coders == 2) "both" else "all", ")")
}
