#' Say which values a rule catches
#'
#' Ranges for [becomes()] and [define()]. A range never catches a value that
#' is declared missing.
#'
#' @param low,high The end of the range, a number.
#' @param upto Upper end, which belongs to the range.
#' @param under Upper end, which does not belong to the range.
#' @return A matcher, to be used inside [becomes()] or [define()].
#' @section Errors: A range whose end lies before its start is refused
#'   (class `ableturn_error_backward_range`).
#' @seealso [becomes()], [unanswered()]
#' @examples
#' from(30)              # 30 and more
#' from(30, upto = 59)   # 30 to 59, both belong
#' from(30, under = 60)  # 30 to just under 60
#' over(29)              # more than 29
#' @name ranges
NULL

#' @rdname ranges
#' @export
from <- function(low, upto = NULL, under = NULL) new_range(low, upto, under, low_in = TRUE)

#' @rdname ranges
#' @export
upto <- function(high) new_range(NULL, high, NULL, low_in = TRUE)

#' @rdname ranges
#' @export
over <- function(low, upto = NULL, under = NULL) new_range(low, upto, under, low_in = FALSE)

#' @rdname ranges
#' @export
under <- function(high) new_range(NULL, NULL, high, low_in = TRUE)

#' Catch missing answers on purpose
#'
#' Inside [becomes()] and in formulas: rows whose answer is missing, for any
#' reason or for one. If a set of rules names `unanswered()` for a variable,
#' its missing rows are decided by those rules, wherever they stand.
#'
#' @param kind The reason, such as `"Refused"` or `"blank"`; left out, any.
#' @return A matcher, to be used inside [becomes()].
#' @examples
#' becomes(9, unanswered("Refused"), label = "Refused to say")
#' @export
unanswered <- function(kind = NULL) {
  check_text(kind, "kind")
  new_matcher("missing", kind = kind %||% "any")
}

new_range <- function(low, upto, under, low_in) {
  if (!is.null(upto) && !is.null(under)) fail("two-ends", upto = upto, under = under)
  high <- upto %||% under
  for (end in list(low, high)) if (!is.null(end)) check_end(end)
  range <- new_matcher("range",
    low = if (is.null(low)) -Inf else as.double(low), low_in = low_in,
    high = if (is.null(high)) Inf else as.double(high), high_in = is.null(under)
  )
  refuse_backward(range)
}

check_end <- function(end) {
  date <- inherits(end, "Date") || is.character(end) && all(grepl(iso_date, end))
  if (date) fail("date-range", end = format(end[1]))
  ok <- is.numeric(end) && length(end) == 1 && !is.na(end)
  if (!ok) fail("bad-end", got = describe_type(end))
}

refuse_backward <- function(range) {
  if (range$low == Inf || range$high == -Inf) fail("endless-end", range = write_range(range))
  single <- range$low == range$high
  closed <- range$low_in && range$high_in
  if (range$low > range$high || (single && !closed)) {
    fail("backward-range", range = write_range(range), low = range$low, high = range$high)
  }
  range
}

new_matcher <- function(type, ...) {
  structure(list(type = type, ...), class = "ableturn_matcher")
}

# Ranges can be put together with c(), as numbers can: c("Not sure" = from(90)).
#' @export
c.ableturn_matcher <- function(...) list(...)

is_matcher <- function(x) inherits(x, "ableturn_matcher")

# Anything an analyst may write for values, as a list of matchers.
as_matchers <- function(x) {
  if (is_matcher(x)) return(list(x))
  if (is.factor(x) || inherits(x, "Date")) x <- as.character(x)
  if (!length(x) || !is.vector(x) || is.expression(x)) fail("bad-matcher", got = describe_type(x))
  if (is.list(x)) return(unlist(lapply(unname(x), as_matchers), recursive = FALSE))
  if (anyNA(x)) fail("matches-na")
  list(new_matcher("values", values = unname(x)))
}

# Value matchers of one kind become one.
merge_values <- function(matchers) {
  plain <- vapply(matchers, function(m) m$type == "values", NA)
  text <- vapply(matchers, function(m) is.character(m$values), NA)
  for (group in list(which(plain & !text), which(plain & text))) {
    if (length(group) < 2) next
    values <- unlist(lapply(matchers[group], `[[`, "values"))
    matchers[[group[1]]] <- new_matcher("values", values = unique(values))
    matchers[group[-1]] <- list(NULL)
  }
  compact(matchers)
}

# TRUE for the rows that one of the matchers catches; for raw columns, so NA counts as no match.
match_rows <- function(x, matchers) {
  hit <- logical(length(x))
  for (m in matchers) hit <- hit | match_one(x, m)
  hit
}

match_one <- function(x, m) {
  if (m$type == "values") return(x %in% fit_type(m$values, x))
  if (m$type == "holding") {
    return(if (is.character(x)) texts_holding(x, m) else logical(length(x)))
  }
  number <- as_number(x)
  inside <- (if (m$low_in) number >= m$low else number > m$low) &
    (if (m$high_in) number <= m$high else number < m$high)
  !is.na(inside) & inside
}

#' Catch texts by what they hold
#'
#' For [becomes()]: the rows whose text holds one of these words, or fits a pattern.
#' Before and after a word there is no letter and no digit: `holding("bus")` takes
#' "bus" and "night bus, tram", not "business class"; `holding("1")` takes the list
#' "1,10" and not "10". The receipt shows which texts were caught. Where values have labels,
#' it is the labels that are looked at. With
#' `loose = TRUE` in [turn_recode()], case, outer spaces and accents make no
#' difference. Blank and other missing answers are never caught.
#'
#' @param ... Pieces of text, taken as they stand: in `holding("a.b")` the dot is a dot.
#' @param whole `FALSE` takes the pieces inside words as well.
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
holding <- function(..., regex = NULL, whole = TRUE) {
  pieces <- list(...)
  check_flag(whole, "whole")
  if (length(pieces) && !is.null(regex)) fail("holding-both")
  if (any(nzchar(names(pieces)))) {
    fail("bad-holding", got = paste0("`", names(pieces)[nzchar(names(pieces))][1], " =`"))
  }
  given <- if (is.null(regex)) unlist(pieces) else regex
  told <- is.character(given) && length(given) && !anyNA(given) && all(nzchar(given))
  if (!told) fail("bad-holding", got = describe_type(given))
  check_letters(given, "the pieces")
  if (!is.null(regex)) check_patterns(regex)
  new_matcher("holding", pieces = unique(unname(given)), regex = !is.null(regex),
    whole = whole && is.null(regex))
}

check_patterns <- function(patterns) {
  broken <- Filter(function(pattern) {
    !is_pattern(pattern) ||
      !is_pattern(loosen_pattern(pattern))
  }, patterns)
  if (length(broken)) fail("broken-pattern", pattern = quote_text(broken[1]))
}

# Whether R can read a pattern.
is_pattern <- function(pattern) {
  is.numeric(tryCatch(regexpr(pattern, "", perl = TRUE), error = identity, warning = identity))
}

texts_holding <- function(texts, m, loose = FALSE) holds(texts, m$pieces, m$regex, loose, m$whole)

# TRUE for the texts that hold one of the pieces, as `whole` words or anywhere, or fit one of the
# patterns; a missing text does not.
holds <- function(texts, pieces, regex = FALSE, loose = FALSE, whole = FALSE) {
  seen <- if (loose) loosen(texts) else normal_text(texts)
  sought <- if (!loose) normal_text(pieces) else if (regex) loosen_pattern(
    pieces) else loosen_inside(pieces)
  if (whole) return(holds_words(seen, sought))
  hit <- logical(length(texts))
  for (i in seq_along(sought)) {
    found <- matched(grepl(sought[i], seen, fixed = !regex, perl = regex))
    if (anyNA(found)) fail("pattern-gives-up", pattern = quote_text(pieces[i]),
      text = quote_text(substr(texts[is.na(found)][1], 1, 40)))
    hit <- hit | found
  }
  hit & !is.na(texts)
}

# No letter or digit goes on before or after a word; a piece that ends in another sign needs none.
holds_words <- function(texts, words) {
  plain <- stringi::stri_replace_all_regex(words, "([\\p{P}\\p{S}\\p{Z}])", "\\\\$1")
  letter <- "[\\p{L}\\p{M}\\p{N}]"
  ends <- function(at) stringi::stri_detect_regex(words, at)
  before <- ifelse(ends(paste0("^", letter)), paste0("(?<!", letter, ")"), "")
  after <- ifelse(ends(paste0(letter, "$")), paste0("(?!", letter, ")"), "")
  pattern <- paste0(before, plain, after, collapse = "|")
  stringi::stri_detect_regex(texts, pattern) %in% TRUE
}

# The answers that stand in texts between `by`, each once for its text.
entries_in <- function(texts, by) {
  lapply(strsplit(normal_text(texts), normal_text(by), fixed = TRUE), function(pieces) {
    pieces <- trimws(pieces)
    unique(pieces[nzchar(pieces)])
  })
}
