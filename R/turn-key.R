#' @include turn-type.R
NULL

#' Mark answers by a key, or count how many items hold a value
#'
#' `turn_key()` gives 1 for the keyed answer of each item and `wrong` for another
#' valid one; `unanswered` says whether a missing answer stays missing or counts
#' as wrong. `turn_tally()` counts, row by row, the items that hold given values;
#' it is missing where no item has a valid answer.
#'
#' @inheritParams turn_recode
#' @param items The items, a tidyselect selection.
#' @param key The right answers: in the order of the items, named by them, or a
#'   data frame or CSV file with the columns `item` and `right`.
#' @param wrong What another valid answer is worth.
#' @param unanswered `"missing"` or `"wrong"`.
#' @param of The values to count: numbers, texts, labels or ranges.
#' @param ... Not used; the arguments after it are written in full.
#' @param as For `turn_key()` name or pattern for the results (left out, the
#'   ending `_k`); for `turn_tally()` the name of the count.
#' @return The book with the new variables.
#' @section Errors: Class `ableturn_error`: `ableturn_error_key_items` if the
#'   key does not fit the items.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_key(book, qz_1:qz_5, key = demo_file("quiz-key.csv"), unanswered = "wrong")
#' book <- turn_tally(book, use_work:use_shop, of = 1, as = "uses")
#' @export
turn_key <- function(book, items, key, wrong = 0, unanswered = "missing", ..., as = NULL,
                     label = NULL, note = NULL, high = NULL, accept = NULL, replace = FALSE) {
  refuse_dots(...)
  need_given(key)
  from <- select_vars(book, rlang::enquo(items), "items")
  turn <- new_turn("key", result_names(from, as, "_k"),
    from = from, right = key_in_order(open_key(key), from), wrong = drop_default(wrong, 0),
    unanswered = drop_default(unanswered, "missing"), label = label, note = note, high = high,
    accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("key",
  keys = c(from = "names", label = "texts", right = "values", wrong = "number",
    unanswered = "word"),
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
  check_choice(turn$unanswered %||% "missing", "unanswered", c("missing", "wrong"))
  check_number(turn$wrong %||% 0, "wrong")
  if (length(turn$right) != length(turn$from)) {
    fail("key-count", answers = length(turn$right), items = length(turn$from))
  }
}

#' @export
lower.key_turn <- function(turn, world) {
  lapply(seq_along(turn$from), function(i) {
    rules <- key_rules(turn$right[[i]], turn$wrong %||% 0, identical(turn$unanswered, "wrong"))
    chosen <- choose_by_rules(turn, rules, world, turn$from[i])
    out <- lowered_by_rules(turn, i, chosen, key_meaning(turn, world, i))
    out$remarks <- compact(list(unanswered_remark(turn, world, turn$from[i])))
    out
  })
}

# How many rows without an answer count as wrong, or stay missing.
unanswered_remark <- function(turn, world, item) {
  rows <- world$rows - world$facts(item)$valid
  became <- if (identical(turn$unanswered, "wrong")) "counted as wrong" else "left missing"
  if (rows) new_remark(paste("Unanswered and", became), rows)
}

key_rules <- function(right, wrong, count_missing) {
  c(
    list(new_rule(1, "Right", when = as_matchers(right))),
    if (count_missing) list(new_rule(wrong, "Wrong", when = list(unanswered()))),
    list(the_rest(wrong, "Wrong"))
  )
}

key_meaning <- function(turn, world, place) {
  old <- world$meaning(turn$from[place])
  codes <- setNames(as_code(c(turn$wrong %||% 0, 1)), c("Wrong", "Right"))
  label <- paste0(old$label %||% turn$from[place], ", right or wrong")
  worked_out <- new_meaning(label = label, codes = codes, level = "nominal", high = "right")
  finish_meaning(turn, worked_out, place)
}
