#' The turns made so far
#'
#' @param book A turnbook.
#' @return A data frame with a row for each derived variable, in the order they
#'   were made: `name`, `turn`, `from`, `label`, `valid` and `missing` rows.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_reverse(book, c(st_2, st_5))
#' turns(book)
#' @export
turns <- function(book) {
  book <- as_book(book)
  columns <- held(book, "columns")
  text <- function(f) vapply(columns, f, "", USE.NAMES = FALSE)
  number <- function(f) vapply(columns, f, 1L, USE.NAMES = FALSE)
  out <- data.frame(
    name = names(columns) %||% character(),
    turn = text(function(c) c$verb),
    from = text(function(c) paste(c$from, collapse = ", ")),
    label = text(function(c) c$meaning$label %||% ""),
    valid = number(function(c) sum(!is.na(c$x))),
    missing = number(function(c) sum(is.na(c$x)))
  )
  as_table(out, "ableturn_turns")
}
