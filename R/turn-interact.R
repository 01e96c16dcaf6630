#' @include turn-type.R
NULL

#' Product terms
#'
#' Each variable of the first selection times each of the second, for an
#' interaction in a regression. With `centre` the means are taken off first, each over
#' all valid rows of its variable, also those where the other is missing; they are
#' learned once and recorded.
#'
#' @inheritParams turn_recode
#' @param a,b Variables, tidyselect selections.
#' @param centre Take the mean off each variable first.
#' @param ... Not used; the arguments after it are written in full.
#' @param as A name for each product; left out, both names with `_x_` between.
#' @return The book with the products.
#' @section Errors: Class `ableturn_error`, for variables that are text.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_interact(book, wait_min, hours, centre = TRUE)
#' @export
turn_interact <- function(book, a, b, centre = FALSE, ..., as = NULL, label = NULL, note = NULL,
                          high = NULL, accept = NULL, replace = FALSE) {
  refuse_dots(...)
  from <- select_vars(book, rlang::enquo(a), "a")
  with <- select_vars(book, rlang::enquo(b), "b")
  pairs <- rep(from, each = length(with))
  usual <- paste0(pairs, "_x_", rep(with, length(from)))
  turn <- new_turn("interact", if (is.null(as)) usual else result_names(pairs, as, ""),
    from = from, with = with, centre = drop_default(centre, FALSE), label = label,
    note = note, high = high, accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("interact",
  keys = c(from = "names", with = "names", label = "texts", centre = "flag"),
  needs = "with", main = c(a = "from", b = "with"), doing = "multiplying", traits = "reckons"
)

#' @export
check_turn.interact_turn <- function(turn) {
  check_flag(turn$centre %||% FALSE, "centre")
  count <- length(turn$from) * length(turn$with)
  if (length(turn$makes) != count) fail("as-count", names = length(turn$makes), variables = count)
}

#' @export
lower.interact_turn <- function(turn, world) {
  pairs <- expand.grid(b = turn$with, a = turn$from, stringsAsFactors = FALSE)
  check_numbers(c(turn$from, turn$with), world)
  lapply(seq_along(turn$makes), function(i) {
    a <- pairs$a[i]
    b <- pairs$b[i]
    label <- paste(world$meaning(a)$label %||% a, "by", world$meaning(b)$label %||% b)
    worked_out <- new_meaning(label = paste0(label, if (isTRUE(turn$centre)) ", centred"),
      level = "interval")
    product <- call("*", factor_node(a, turn), factor_node(b, turn))
    new_lowered(turn$makes[i], product, finish_meaning(turn, worked_out, i))
  })
}

factor_node <- function(name, turn) {
  x <- as.name(name)
  if (isTRUE(turn$centre)) call("-", x, call("mean", x)) else x
}
