#' @include find-words.R
NULL

#' What is looked for
#'
#' Every finding that [findings()] can hold, with what to do about it.
#' A finding is settled by doing what it says, or by accepting it on its turn with a
#' reason, which goes into the sheet and the report: `accept = c("open-range" = "99 is a
#' real age here")`. Those about the data as a whole (`data-changed`, `new-code`,
#' `stale-learned`, `share-missing`, `learned-now`, `must-hold`) are accepted by
#' [apply_turns()]. `--strict` of the command line counts what is a warning and not
#' accepted.
#'
#' `r finding_help()`
#'
#' @section Thresholds:
#' * open-range, undeclared-missing: a run of usual missing codes (7, 8, 9, 77, 88, 96 to
#'   99, 777 ...) or negative values at one end, 3 times the median step away from the other
#'   values, and further than their range or as frequent as they are; 0 further from ten and
#'   more others than they spread; days such as 1900-01-01 or 1970-01-01, five years and a
#'   quarter of their span from all others, or five times as frequent as any.
#' * maybe-unreversed: 30 rows and a mean correlation of .15 in size; an item is on the
#'   other side with 97.5 percent certainty. A negative alpha is always told.
#' * mixed-ranges: answers given by 1 percent or more leave the span of another item by
#'   more than a third of it, where both have 100 rows and four answers; a note with fewer.
#' * unrelated-item: four items, 100 complete rows; at most a third of the items
#'   correlate with the others by under .15 and 2/sqrt(n) in size, all others by over .3.
#' * item-shared: at most half of the smaller of two scores.
#' * few-valid: 20 rows with a valid item, of which under half are scored.
#' * uneven-groups: fewer bands than asked for, or one with over 1.5 or under 0.5 times
#'   its share.
#' * rare-category: fewer than 5 of 50 rows; a note under 30 rows and a twentieth of 100.
#' * group-boundary: where half of the rows are of occasions that half of the units share,
#'   in equal whole steps.
#' * far-value: one to five values further than 8 MADs from the median and 3 times the width
#'   of the middle 98 percent; in a database of variables with up to 65,535 answers. Of more than
#'   100,000 rows the median and the widths are those of a fixed sample of 10,000.
#' * reference-far: the middle 95 percent of 30 rows or more on under half, or over four
#'   times, the usual width of the norms.
#' * key-suspect: 100 rows and three items; the whole key moved by one item gives a larger
#'   alpha and 5 percent more right answers, one of these by .2; or another answer correlates
#'   with the other items, and by as much more than the keyed one, at 1 percent of all that were
#'   tried.
#' * component-weak: the largest eigenvalue under 1.5 times the second. component-item: a loading
#'   under .20. component-share: under a third. low-reliability: under .70.
#' * filled-much, held-much: over a tenth of the asked, and of the valid, rows.
#' * coders-differ-much: kappa under .60. outside-norms: one row.
#' * reverse-other, fill-against: as maybe-unreversed, among three items and more; reverse-other of
#'   those that are called alike but for a number and have the same limits.
#' * alpha-by-group: intervals of groups of 30 complete rows that lie apart (of two groups, 5
#'   percent), in a sample of 10,000 rows where there are more; by variables with the role "groups",
#'   or those
#'   that were named as `within` before.
#' * limits-unreached: 100 rows that give all other answers.
#' * spelled-apart: of variables with up to 65,535 different texts.
#' * identical-result: 10 valid rows. share-missing: 2 points and 3 standard errors.
#'
#' @return Nothing; this page is for reading.
#' @name finding_list
#' @seealso [findings()]
NULL

# The words of all findings, for the help page: what stands for a name in each is shown as such.
finding_help <- function() {
  plain <- function(text) {
    text <- gsub("[{]([a-z_]+)[}]", "...", gsub("[{][{]|[}][}]", "", text))
    text <- sub(": [.]{4}", ".", gsub("`...`", "a variable", text, fixed = TRUE))
    substr(text, 1, 1) <- toupper(substr(text, 1, 1))
    gsub("([%{}])", "\\\\\\1", text)
  }
  items <- vapply(finding_ids(), function(id) {
    words <- finding_words[[id]]
    paste0("\\item \\code{", id, "} (", if (words[1] == "warn") "warning" else "note", "): ",
      plain(words[2]), " \\emph{", plain(words[3]), "}")
  }, "")
  paste0("\\itemize{\n", paste(items, collapse = "\n"), "\n}")
}
