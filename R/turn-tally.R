#' @include turn-type.R
NULL

#' @rdname turn_key
#' @export
turn_tally <- function(book, items, of, at_least = NULL, ..., as = NULL, label = NULL, note = NULL,
  high = NULL,
                       accept = NULL, replace = FALSE) {
  refuse_dots(...)
  need_given(of)
  from <- select_vars(book, rlang::enquo(items), "items")
  turn <- new_turn("tally", one_name(as, "tally"),
    from = from, of = read_condition(of), at_least = at_least, label = label, note = note,
      high = high,
    accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("tally",
  keys = c(from = "names", label = "texts", of = "matchers", at_least = "number"),
  needs = "of", main = c(items = "from"), doing = "counting answers"
)

#' @export
check_turn.tally_turn <- function(turn) {
  if (!length(turn$of)) fail("no-rules", name = turn$makes)
  if (!is.null(turn$at_least)) check_threshold(turn$at_least, 1, length(turn$from))
}

#' @export
lower.tally_turn <- function(turn, world) {
  holds <- lapply(turn$from, function(name) {
    call("choose", condition_test(name, turn$of, FALSE, FALSE, world), 1, 0)
  })
  count <- as.call(c(list(as.name("row_sum")), holds, list(at_least = turn$at_least %||% 1)))
  worked_out <- new_meaning(
    label = paste("How many of", length(turn$from), "items hold", describe_matchers(turn$of)),
    level = "ratio", limits = c(0L, length(turn$from)),
    high = paste("more items hold", describe_matchers(turn$of))
  )
  list(new_lowered(turn$makes, count, finish_meaning(turn, worked_out)))
}
