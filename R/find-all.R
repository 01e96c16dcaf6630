# What looks wrong with a variable that a turn has made. `made` holds the lowered `out`, the
# `outcome`, the variable itself (`column`) and its `sources`, the `turn`, those that it made
# `before`, and the receipt, which has counted much of it already. What is about rules, scores, keys
# or codings is looked for only where there are such.
#' @export
find_all.ableturn_made <- function(made, book) {
  out <- made$out
  made$words <- all.names(out$expr)
  scored <- is_row_node(out$expr) && made$words[1] != "row_valid" &&
    has_trait(made$turn$verb, "scores items")
  found <- c(
    if (!is.null(out$rules)) find_in_rules(made),
    find_in_receipt(made), find_in_texts(made),
    find_in_sources(made, book),
    if (scored) find_in_items(made, book),
    find_in_coding(made, book), find_in_measures(made, book),
    if (made$turn$verb == "key") find_in_key(made, book),
    find_in_result(made, book))
  lapply(compact(found), function(f) c(f, list(turn = made$turn$verb)))
}

#' All that looks wrong, with what to do about each
#'
#' Findings are raised where a turn is made, shown in its receipt and kept until
#' they are settled: by mending what they name, or by accepting them on the turn
#' with a reason: `accept = c("open-range" = "99 is a real age here")`.
#'
#' Whether an item runs against the others (`maybe-unreversed`) is looked for in all rows up to
#' 10,000, and in a fixed sample of 10,000 where there are more; the correlations it names, and all
#' other figures, are those of all rows.
#'
#' @param book A turnbook.
#' @param accepted Show those as well that were accepted.
#' @param ... Not used.
#' @return A data frame with a row for each finding, the most serious first:
#'   `id`, `severity` ("warn" or "note"), `variable`, `turn`, `what` happened,
#'   what `todo`, and `accepted`, the reason (empty for those that are open). It
#'   prints as a list.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_bin(book, age, as = "age3", at = c(30, 60))
#' findings(book)
#' @export
findings <- function(book, accepted = TRUE, ...) {
  refuse_dots(...)
  book <- as_book(book)
  found <- all_findings(book)
  all <- lapply(found, in_words)
  field <- function(key) vapply(all, function(f) f[[key]] %||% "", "")
  out <- data.frame(
    id = field("id"), severity = field("severity"), variable = field("variable"),
    turn = field("turn"), what = field("what"), todo = field("todo"), accepted = field("because")
  )
  kept <- order(out$accepted != "", out$severity != "warn")
  if (!accepted) kept <- kept[!nzchar(out$accepted[kept])]
  out <- out[kept, ]
  row.names(out) <- NULL
  structure(as_table(out, "ableturn_findings"), found = found[kept])
}

# All findings of a book: those of its columns, in the order they were made and each once; then
# those of checks and of new data.
all_findings <- plainly(function(book) {
  columns <- derived_of(book)
  found <- unlist(lapply(columns, `[[`, "found"), recursive = FALSE, use.names = FALSE)
  once <- !duplicated(vapply(found, finding_key, ""))
  c(found[once], findings_of_data(book))
})

# Those that belong to no turn.
findings_of_data <- function(book) {
  of_data <- c(check_findings(book), news_findings(book), changed_finding(book),
    learned_now_finding(book), unused_weight(book))
  with_accepted(of_data, info_of(book)$accept)
}

# The data are called as on the sheet, but their rows or fingerprint are others.
changed_finding <- function(book) {
  info <- info_of(book)
  then <- info$recorded
  if (is.null(then$file) || is.null(info$file) || basename(then$file) != basename(info$file)) {
    return(NULL)
  }
  rows <- !is.null(then$rows) && then$rows != info$rows
  content <- !is.null(then$sha256) && site_can(site_of(book), "fingerprint") &&
    then$sha256 != fingerprint_of(book)
  if (!rows && !content) return(NULL)
  list(c(new_finding("data-changed", basename(info$file),
    values = if (rows) paste0("its rows changed from ", then$rows,
      " to ", info$rows) else "its content changed"), turn = "replay"))
}

# A sheet that is replayed as recorded, but holds no learned value for a turn that needs one.
learned_now_finding <- function(book) {
  names <- intersect(info_of(book)$learned_now, c(derived_names(book),
    vapply(check_entries(book), `[[`, "", "formula")))
  if (length(names)) list(c(new_finding("learned-now", names[1], values = names), turn = "replay"))
}

# What makes two findings one: the id and the values, of the same source where the finding is about
# a source.
finding_key <- function(f) {
  about <- if (f$id %in% c("undeclared-missing", "blank-or-answer", "beyond-limits", "label-gap",
    "unit-slip",
    "text-number")) f$source else f$variable
  paste(f$id, about, f$values)
}

check_findings <- function(book) {
  failing <- failing_checks(book)
  lapply(names(failing), function(condition) {
    c(new_finding("must-hold", condition, values = counted(failing[[condition]], "row")),
      turn = "must_hold")
  })
}

# New codes, and values beyond the range of what a turn has learned from.
news_findings <- function(book) {
  news <- new_in_data(book)
  from <- unlist(lapply(derived_of(book), function(made) learned_reads(made$learned)))
  news <- news[news$what != "beyond the range" | news$variable %in% from, ]
  lapply(split(seq_len(nrow(news)), paste(news$variable, news$what)), function(i) {
    what <- news$what[i[1]]
    c(new_finding(news_ids[[what]], news$variable[i[1]], source = news$variable[i[1]],
      values = if (what == "share missing") news$detail[i] else
        rows_in_words(news$detail[i], news$rows[i])), turn = "replay")
  })
}

news_ids <- c("new value" = "new-code", "beyond the range" = "stale-learned",
  "share missing" = "share-missing")
