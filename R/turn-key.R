#' @include turn-type.R
NULL

#' Mark answers by a key, or count how many items hold a value
#'
#' `turn_key()` gives 1 for the keyed answer of each item and `wrong` for another
#' valid one; `unanswered` says whether a missing answer stays missing, counts
#' as wrong, or is worth something else. `turn_tally()` counts, row by row, the items that hold
#' given values; it is missing where fewer than `at_least` items have a valid answer.
#'
#' Formula scoring takes guessing into account: with `wrong = "chance"` and `unanswered = 0`, a
#' wrong answer among c choices is worth -1/(c - 1), so that who guesses blindly gets 0 on average
#' (Lord
#' 1975). The choices are those that the codebook labels, or `choices`; never those that happen to
#' have been chosen.
#'
#' @inheritParams turn_recode
#' @param items The items, a tidyselect selection.
#' @param key The right answers: in the order of the items, named by them, or a
#'   data frame or CSV file with the columns `item` and `right`.
#' @param wrong What another valid answer is worth: a number, or `"chance"`.
#' @param unanswered `"missing"`, `"wrong"`, or what a missing answer is worth.
#' @param choices For `"chance"`: how many answers each item offers, where its codes are not
#'   labelled.
#' @param at_least How many items must have a valid answer; left out, one.
#' @param of The values to count: numbers, texts, labels or ranges.
#' @param ... Not used; the arguments after it are written in full.
#' @param as For `turn_key()` name or pattern for the results (left out, the
#'   ending `_k`); for `turn_tally()` the name of the count.
#' @return The book with the new variables.
#' @section Errors: Class `ableturn_error`: `ableturn_error_key_items` if the
#'   key does not fit the items.
#' @references Lord, F. M. (1975). Formula scoring and number-right scoring. Journal of Educational
#'   Measurement, 12, 7-11.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_key(book, qz_1:qz_5, key = demo_file("quiz-key.csv"), unanswered = "wrong")
#' book <- turn_tally(book, use_work:use_shop, of = 1, as = "uses")
#' @export
turn_key <- function(book, items, key, wrong = 0, unanswered = "missing", choices = NULL, ...,
                     as = NULL, label = NULL, note = NULL, high = NULL, accept = NULL,
                     replace = FALSE) {
  refuse_dots(...)
  need_given(key)
  from <- select_vars(book, rlang::enquo(items), "items")
  turn <- new_turn("key", result_names(from, as, "_k"),
    from = from, right = key_in_order(open_key(key), from), wrong = drop_default(wrong, 0),
    unanswered = drop_default(unanswered, "missing"), choices = choices, label = label,
      note = note, high = high,
    accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("key",
  keys = c(from = "names", label = "texts", right = "values", wrong = "value",
    unanswered = "value", choices = "numbers"),
  needs = "right", main = c(items = "from"), called = c(right = "key"), doing = "an answer key",
  traits = "its rules may overlap"
)

# The name of a file, or the answers themselves.
open_key <- function(key) {
  if (names_a_table(key)) open_rules(key) else key
}

# The key in the order of the items, whatever it came as.
key_in_order <- function(key, items) {
  if (is.data.frame(key)) {
    if (!all(c("item", "right") %in% names(key))) fail("key-columns", names = names(key))
    key <- setNames(key$right, key$item)
  }
  key <- unlist(key)
  if (is.null(names(key))) return(key)
  lost <- setdiff(items, names(key))
  if (length(lost)) fail("key-items", lost = lost)
  unname(key[items])
}

#' @export
check_turn.key_turn <- function(turn) {
  if (!is.numeric(turn$unanswered)) {
    check_choice(turn$unanswered %||% "missing", "unanswered", c("missing", "wrong"))
  }
  if (is.numeric(turn$unanswered)) check_number(turn$unanswered, "unanswered")
  if (!identical(turn$wrong, "chance")) check_number(turn$wrong %||% 0, "wrong")
  check_choices(turn)
  if (length(turn$right) != length(turn$from)) {
    fail("key-count", answers = length(turn$right), items = length(turn$from))
  }
}

check_choices <- function(turn) {
  if (is.null(turn$choices)) return(invisible())
  if (!identical(turn$wrong, "chance")) fail("choices-chance")
  ok <- is.numeric(turn$choices) && length(turn$choices) %in% c(1, length(turn$from)) &&
    !anyNA(turn$choices) && all(turn$choices >= 2 & turn$choices == round(turn$choices))
  if (!ok) fail("bad-choices", items = length(turn$from))
}

# What a wrong answer to an item is worth.
worth_of_wrong <- function(turn, world, place) {
  if (!identical(turn$wrong, "chance")) return(turn$wrong %||% 0)
  offered <- if (is.null(turn$choices)) length(world$meaning(turn$from[place])$codes) else
    rep_len(turn$choices, length(turn$from))[place]
  if (offered < 2) fail("choices-unknown", name = turn$from[place])
  -1 / (offered - 1)
}

#' @export
lower.key_turn <- function(turn, world) {
  lapply(seq_along(turn$from), function(i) {
    wrong <- worth_of_wrong(turn, world, i)
    rules <- key_rules(turn$right[[i]], wrong, worth_of_none(turn, wrong))
    chosen <- choose_by_rules(turn, rules, world, turn$from[i])
    out <- lowered_by_rules(turn, i, chosen, key_meaning(turn, world, i))
    out$remarks <- compact(list(unanswered_remark(turn, world, turn$from[i])))
    out
  })
}

# What no answer is worth, NULL where it stays missing.
worth_of_none <- function(turn, wrong) {
  if (is.numeric(turn$unanswered)) return(turn$unanswered)
  if (identical(turn$unanswered, "wrong")) wrong
}

# How many rows without an answer count as something, or stay missing.
unanswered_remark <- function(turn, world, item) {
  rows <- world$rows - world$facts(item)$valid
  became <- if (identical(turn$unanswered, "wrong")) "counted as wrong" else
    if (is.numeric(turn$unanswered)) paste("worth", show_number(as.double(turn$unanswered))) else
      "left missing"
  if (rows) new_remark(paste("Unanswered and", became), rows)
}

key_rules <- function(right, wrong, none) {
  c(
    list(new_rule(1, "Right", when = as_matchers(right))),
    if (!is.null(none)) list(new_rule(none, none_label(none, wrong), when = list(unanswered()))),
    list(the_rest(wrong, "Wrong"))
  )
}

none_label <- function(none, wrong) {
  if (none == wrong) "Wrong" else if (none == 1) "Right" else "Unanswered"
}

key_meaning <- function(turn, world, place) {
  old <- world$meaning(turn$from[place])
  wrong <- worth_of_wrong(turn, world, place)
  none <- worth_of_none(turn, wrong)
  codes <- c(Wrong = wrong, if (!is.null(none)) setNames(none, none_label(none, wrong)), Right = 1)
  codes <- as_code(codes[!duplicated(codes)])
  label <- paste0(old$label %||% turn$from[place], ", right or wrong")
  worked_out <- new_meaning(label = label, codes = codes[order(codes)], high = "right",
    level = if (length(codes) > 2 || wrong != 0) "interval" else "nominal")
  finish_meaning(turn, worked_out, place)
}
