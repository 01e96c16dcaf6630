#' @include find-all.R
NULL

#' Accept findings about the data
#'
#' Findings of a turn are accepted in the turn, by its argument `accept` or with [amend()]. Those
#' about the data as a whole, which are found when a sheet is applied to other data, belong to no
#' turn: they are accepted here, with the reason. The sheet keeps it.
#'
#' @param book A turnbook.
#' @param ... The reasons, each named by its finding: `"stale-learned" = "older people joined"`;
#'   NULL takes back what was accepted. The findings are "data-changed", "learned-now", "new-code",
#'   "stale-learned", "share-missing", "must-hold" and "unused-weight".
#' @return The book.
#' @section Errors: `ableturn_error_accept_data` where the data raise no such finding.
#' @seealso [findings()], [apply_turns()]
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_standardize(book, wait_min)
#' findings(book, accepted = FALSE)[c("id", "variable")]
#' book <- accept_findings(book, "unused-weight" = "a description of the sample")
#' @export
accept_findings <- function(book, ...) {
  came <- book
  book <- as_book(book)
  reasons <- list(...)
  if (!length(reasons) || !is_named(reasons)) fail("accept-unnamed")
  for (id in names(compact(reasons))) check_text(reasons[[id]], id, none = FALSE)
  known <- vapply(findings_of_data(book), `[[`, "", "id")
  strange <- setdiff(names(reasons), c(known, names(info_of(book)$accept)))
  if (length(strange)) fail("accept-data", finding = strange, known = unique(known))
  info <- info_of(book)
  info$accept <- c(unlist(reasons), info$accept[setdiff(names(info$accept), names(reasons))])
  after <- with_parts(book, info = info)
  keep_sheet(info$sheet, after, book)
  as_given(after, came)
}

word_errors(list(
  "accept-unnamed" = c("Nothing says which finding is accepted, and why.",
    "Write accept_findings(book, \"stale-learned\" = \"the reason\").",
    desk = "Give the reason."),
  "accept-data" = c("The data as a whole raise no finding {finding}; theirs are: {known}.",
    paste("Findings of a turn are accepted with",
      "amend(book, x, accept = c(\"{finding}\" = \"the reason\"))."),
    desk = "Look at the findings again.")
))
