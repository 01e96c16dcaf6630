#' Where a variable comes from
#'
#' Down to the originals, step by step.
#'
#' @param book A turnbook.
#' @param vars Variables, a tidyselect selection; left out, all derived ones that no
#'   other is made from.
#' @return A data frame with a row for each step: `variable` asked for, `depth`,
#'   `name`, `label`, `by` (the turn, or "original") and `from`. It prints as a tree.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_reverse(book, c(st_2, st_5), limits = c(1, 5))
#' book <- turn_composite(book, c(st_1, st_2_r, st_3, st_4, st_5_r, st_6), as = "strain")
#' lineage(book, strain)
#' @export
lineage <- function(book, vars = NULL) {
  book <- as_book(book)
  chosen <- rlang::enquo(vars)
  names <- if (rlang::quo_is_null(chosen)) last_names(book) else select_vars(book, chosen)
  out <- do.call(rbind, lapply(names, function(name) lineage_of(name, name, 0, book)))
  none <- lineage_row(character(), integer(), character(), character(), character(), character())
  as_table(out %||% none, "ableturn_lineage")
}

# Derived variables that nothing is made from.
last_names <- function(book) {
  used <- unlist(lapply(derived_of(book), `[[`, "reads"))
  setdiff(derived_names(book), used)
}

lineage_row <- function(variable, depth, name, label, by, from) {
  data.frame(variable = variable, depth = depth, name = name, label = label, by = by, from = from)
}

lineage_of <- function(variable, name, depth, book) {
  derived <- if (is_derived(book, name)) derived_in(book, name)
  reads <- derived$reads
  own <- lineage_row(variable, depth, name, meaning_in(book, name)$label %||% "",
    derived$verb %||% "original", paste(reads, collapse = ", "))
  do.call(rbind, c(list(own), lapply(reads, lineage_of, variable = variable, depth = depth + 1,
    book = book)))
}

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
  columns <- derived_of(book)
  text <- function(f) vapply(columns, f, "", USE.NAMES = FALSE)
  number <- function(f) as_row_counts(vapply(columns, f, 0, USE.NAMES = FALSE))
  out <- data.frame(
    name = names(columns) %||% character(),
    turn = text(function(c) c$verb),
    from = text(function(c) paste(c$from, collapse = ", ")),
    label = text(function(c) c$meaning$label %||% ""),
    valid = number(function(c) as.double(c$facts$valid)),
    missing = number(function(c) as.double(row_count(book) - c$facts$valid))
  )
  as_table(out, "ableturn_turns")
}
