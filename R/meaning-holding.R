#' Catch texts by what they hold
#'
#' For [becomes()]: the rows whose text holds one of these pieces, or fits a pattern.
#' Where values have labels, it is the labels that are looked at. With
#' `loose = TRUE` in [turn_recode()], case, outer spaces and accents make no
#' difference. Blank and other missing answers are never caught.
#'
#' @param ... Pieces of text, taken as they stand: in `holding("a.b")` the dot is a dot.
#' @param regex Instead of pieces, patterns as in `grepl(perl = TRUE)`: `"^A"` is
#'   a text that begins with A, `"b$"` one that ends with b, `"^A|b$"` either.
#' @return A matcher, to be used inside [becomes()].
#' @section Errors: Class `ableturn_error`: `ableturn_error_bad_holding` for pieces that
#'   are no texts, `ableturn_error_broken_pattern` for a pattern that cannot be read,
#'   `ableturn_error_holding_numbers` for a variable that has neither texts nor labels.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_recode(book, ticket, as = "season",
#'   becomes(1, holding("month", "annual"), label = "Season ticket"),
#'   the_rest(0, label = "Other"), loose = TRUE)
#' @export
holding <- function(..., regex = NULL) {
  pieces <- list(...)
  if (length(pieces) && !is.null(regex)) fail("holding-both")
  if (any(nzchar(names(pieces)))) fail("bad-holding", got = paste0("`", names(pieces)[nzchar(names(pieces))][1], " =`"))
  given <- if (is.null(regex)) unlist(pieces) else regex
  told <- is.character(given) && length(given) && !anyNA(given) && all(nzchar(given))
  if (!told) fail("bad-holding", got = describe_type(given))
  check_letters(given, "the pieces")
  if (!is.null(regex)) check_patterns(regex)
  new_matcher("holding", pieces = unique(unname(given)), regex = !is.null(regex))
}

check_patterns <- function(patterns) {
  broken <- Filter(function(pattern) !is_pattern(pattern) || !is_pattern(loosen_pattern(pattern)), patterns)
  if (length(broken)) fail("broken-pattern", pattern = quote_text(broken[1]))
}

# Whether R can read a pattern.
is_pattern <- function(pattern) {
  is.numeric(tryCatch(regexpr(pattern, "", perl = TRUE), error = identity, warning = identity))
}
