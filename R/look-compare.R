#' Compare two turnbooks
#'
#' Which rows of which variables differ, and why: another value of an original,
#' another meaning, another turn, other learned values, or a source that differs.
#' Rows are matched by the identifier where both books have the same one, else
#' by their position.
#'
#' @param a,b Turnbooks, or data frames.
#' @return A data frame with a row for each variable that is in both books and
#'   differs, or is in one alone: `variable`, `rows` compared, `differ`,
#'   `only_missing` (missing in one of the two alone), `why`, and `first`, the
#'   first row that differs. It prints as a table.
#' @section Errors: `ableturn_error_compare_rows` where rows cannot be matched.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' a <- turn_composite(book, st_1:st_6, reversed = c(st_2, st_5), as = "strain")
#' compare_books(a, amend(a, strain, at_least = 4))
#' @export
compare_books <- function(a, b) {
  need_given(b)
  a <- as_book(a)
  b <- as_book(b)
  both <- intersect(names(a), names(b))
  parts <- compare_variables(both, a, b)
  match <- attr(parts, "match")
  differing <- both[vapply(parts, function(p) p$differ > 0, NA)]
  parts <- Map(function(part, name) {
    part$why <- why_differs(name, part$differ, a, b, differing)
    part
  }, parts, both)
  alone <- lapply(c(setdiff(names(a), names(b)), setdiff(names(b), names(a))), only_in, a = a)
  out <- do.call(rbind, c(parts, alone))
  out <- out[nzchar(out$why), ]
  row.names(out) <- NULL
  as_table(out, "ableturn_comparison", variables = length(both), matched = match$rows,
    unmatched = c(row_count(a), row_count(b)) - match$rows)
}

# The places of the rows that are in both books.
matched_rows <- function(a, b) {
  id <- info_of(a)$id
  if (!is.null(id) && identical(id, info_of(b)$id)) {
    keys <- lapply(list(a, b), function(book) show_value(original_in(book, id)))
    shared <- intersect(keys[[1]], keys[[2]])
    return(list(a = match(shared, keys[[1]]), b = match(shared, keys[[2]])))
  }
  if (row_count(a) != row_count(b)) fail("compare-rows", a = row_count(a), b = row_count(b))
  list(a = seq_len(row_count(a)), b = seq_len(row_count(b)))
}

# A row for each variable of both books: in how many rows they differ. Its attribute `match` tells
# how many rows are in both.
compare_variables <- function(names, a, b) {
  shared <- shared_table(a, b)
  match <- if (is.null(shared)) matched_rows(a, b)
  rows <- if (is.null(shared)) length(match$a) else row_count(a)
  parts <- lapply(names, function(name) {
    x <- variable_in(a, name)
    y <- variable_in(b, name)
    found <- if (is.null(shared)) differ_in_rows(x, y, match) else rows_apart(x, y, shared)
    data.frame(variable = name, rows = rows, differ = as_row_counts(found$differ),
      only_missing = as_row_counts(found$only_missing), why = "",
      first = found$first %||% NA_integer_)
  })
  structure(parts, match = list(rows = rows))
}

# The same of some rows of each book, beside each other.
differ_in_rows <- function(x, y, match) {
  ours <- values_of(x)[match$a]
  theirs <- values_of(y)[match$b]
  rows <- rows_that_differ(ours, theirs)
  list(differ = length(rows), only_missing = sum(is.na(ours[rows]) != is.na(theirs[rows])),
    first = if (length(rows)) match$a[rows[1]] else NA_integer_)
}

# The site of two books of one table of a database, whose rows are the same then; else NULL.
shared_table <- function(a, b) {
  one <- info_of(a)$site
  other <- info_of(b)$site
  shared <- !is.null(one) && !is.null(other) && identical(one$connection, other$connection) &&
    identical(one$name, other$name)
  if (shared) site_of(a)
}

only_in <- function(name, a) {
  data.frame(variable = name, rows = 0L, differ = 0L, only_missing = 0L,
    why = paste("only in the", if (name %in% names(a)) "first" else "second"), first = NA_integer_)
}

why_differs <- function(name, differ, a, b, differing) {
  derived <- c(is_derived(a, name), is_derived(b, name))
  if (derived[1] != derived[2]) return("an original in one, derived in the other")
  if (!derived[1]) return(original_differs(name, differ, a, b))
  turns <- lapply(list(a, b), function(book) steps_of(book)[[entry_of(book, name)]]$turn)
  made <- turn_differs(turns[[1]], turns[[2]])
  source <- intersect(derived_in(a, name)$reads, differing)
  reasons <- c(made, if (differ && length(source)) paste("its source",
    paste(source, collapse = ", "), "differs"))
  if (!differ && !length(made)) {
    ""
  } else {
    paste(if (length(reasons)) reasons else "other rows", collapse = "; ")
  }
}

original_differs <- function(name, differ, a, b) {
  meaning <- !identical(unclass(meaning_in(a, name))[c("missing", "asked_if")],
    unclass(meaning_in(b, name))[c("missing", "asked_if")])
  if (!differ) "" else if (meaning) "what counts as missing differs" else "the data differ"
}

# The arguments in which two turns differ.
turn_differs <- function(a, b) {
  if (a$verb != b$verb) return(paste(a$verb, "in one,", b$verb, "in the other"))
  keys <- setdiff(union(names(a), names(b)), c("makes", "learned", "place", "label", "note",
    "high", "define"))
  other <- keys[!vapply(keys, function(key) identical(a[[key]], b[[key]]), NA)]
  learned <- !identical(a$learned, b$learned)
  c(vapply(other, function(key) argument_differs(key, a[[key]], b[[key]]), "", USE.NAMES = FALSE),
    if (!length(other) && learned) "other learned values")
}

# Short values are shown, others only named.
argument_differs <- function(key, a, b) {
  plain <- function(x) is.null(x) || (is.atomic(x) && length(x) <= 3)
  if (!plain(a) || !plain(b)) return(paste("another", key))
  shown <- function(x) if (is.null(x)) "not given" else paste(show_value(x), collapse = ", ")
  paste0(key, ": ", shown(a), " / ", shown(b))
}
