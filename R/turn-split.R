#' @include turn-type.R
NULL

#' Split several answers in one text into 0/1 columns
#'
#' A question with several answers often comes as one text, "work;shop". Each answer that occurs
#' becomes a column: 1 where it was given, 0 where others were, missing where nothing was answered
#' at all, so that all columns have one denominator. The answers are learned when the turn is made,
#' in the order of the codebook, else sorted.
#'
#' Answers are parted by the text `by` as it stands; outer blanks do not count, and an answer that
#' stands twice counts once. An answer that a record does not know, met when it is applied to
#' later data, is told as a finding and gets no column; the others are 0 there. `look(book, uses_*,
#' together = TRUE)` shows the columns beside each other, in percent of rows and of answers.
#'
#' @inheritParams turn_recode
#' @param vars The variables of text, a tidyselect selection.
#' @param by What stands between two answers.
#' @param loose Answers are the same whatever their case, accents and inner blanks; the most
#'   frequent spelling names the column.
#' @param ... Not used; the arguments after it are written in full.
#' @param as A pattern, left out `"{name}_{level}"`, or a name for each column.
#' @return The book with a column for each answer.
#' @section Errors: Class `ableturn_error`: `ableturn_error_split_numbers` for a variable of
#'   numbers, `ableturn_error_split_many` for over 100 different answers.
#' @examples
#' third <- turnbook(demo_file("ferry-wave3.csv"),
#'   codebook = demo_file("ferry-wave3.codebook.json"), id = person)
#' third <- turn_split(third, wishes)
#' look(third, starts_with("wishes_"), together = TRUE)
#' @export
turn_split <- function(book, vars, by = ";", loose = FALSE, ..., as = NULL, label = NULL,
                       note = NULL, high = NULL, accept = NULL, replace = FALSE) {
  refuse_dots(...)
  given <- !is.null(as) && !any(grepl("{level}", as, fixed = TRUE))
  turn <- new_turn("split", if (given) as, from = select_vars(book, rlang::enquo(vars)), by = by,
    loose = drop_default(loose, FALSE), as = if (!given) as, label = label, note = note,
    high = high, accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("split",
  keys = c(from = "names", label = "texts", by = "text", loose = "flag", as = "text"),
  needs = "from", pattern = "amended", doing = "splitting answers",
  says = function(derived, turn) {
    paste0("one of ", length(turn$makes), " columns for the answers in ", derived$from[1])
  },
  traits = "may be constant by mistake"
)

most_split <- 100

#' @export
check_turn.split_turn <- function(turn) {
  check_text(turn$by, "by", none = FALSE)
  if (!nzchar(turn$by)) fail("split-by")
  check_flag(turn$loose %||% FALSE, "loose")
}

# The names follow from the answers, unless they are given.
#' @export
settle_turn.split_turn <- function(turn, world) {
  check_turn(turn)
  plans <- lapply(turn$from, split_plan, turn = turn, world = world)
  named <- unlist(lapply(plans, function(plan) {
    pattern <- fill_name(turn$as %||% "{name}_{level}", plan$source)
    each <- one_of_each(safe_name(plan$labels, plan$entries))
    vapply(each, function(level) gsub("{level}", level, pattern, fixed = TRUE), "")
  }), use.names = FALSE)
  settled_names(turn, named, lapply(plans, `[[`, "entries"))
}

split_plan <- function(source, turn, world) {
  if (!world$is_text(source)) fail("split-numbers", name = source)
  note <- world$learn(entries_call("split_entries", source, turn))
  if (!length(note$is)) fail("split-none", name = source)
  if (length(note$is) > most_split) fail("split-many", name = source, answers = length(note$is),
    by = quote_text(turn$by), most = most_split)
  codes <- world$meaning(source)$codes
  entries <- as.character(note$is)
  list(source = source, entries = entries, note = note,
    labels = label_of(entries, setNames(show_value(unname(codes)), names(codes))) %|% entries)
}

entries_call <- function(word, source, turn, ...) {
  as.call(c(list(as.name(word), as.name(source)), list(...), list(by = turn$by),
    if (isTRUE(turn$loose)) list(loose = TRUE)))
}

#' @export
lower.split_turn <- function(turn, world) {
  plans <- lapply(turn$from, split_plan, turn = turn, world = world)
  out <- unlist(lapply(plans, split_columns, turn = turn, world = world), recursive = FALSE)
  lapply(seq_along(out), function(i) {
    out[[i]]$name <- turn$makes[i]
    out[[i]]$meaning <- merge_meaning(out[[i]]$meaning, turn[["define"]][[turn$makes[i]]])
    out[[i]]
  })
}

split_columns <- function(plan, turn, world) {
  x <- as.name(plan$source)
  met <- world$met(plan$source)
  pieces <- entries_in(as.character(met$values), turn$by)
  told <- c(strange_entries(pieces, met$rows, plan$entries, isTRUE(turn$loose)),
    alike_entries(plan$entries))
  none <- any(lengths(pieces) == 0)
  title <- world$meaning(plan$source)$label %||% plan$source
  Map(function(entry, label, place) {
    test <- entries_call("spelled", plan$source, turn, entry, inside = "entries")
    pairs <- c(if (none) list(entries_call("spelled", plan$source, turn, inside = "entries"), NA),
      list(test, 1, 0))
    new_lowered(NA, as.call(c(list(as.name("choose")), pairs)),
      new_meaning(label = paste0(title, ": ", label), codes = c("No" = 0L, "Yes" = 1L),
        level = "nominal", high = label, note = turn$note),
      kinds = c(if (none) "no answer in the text", NA), notes = list(plan$note), codes = TRUE,
      counted = c(if (none) "No answer in the text", "Given"),
      remarks = if (place == 1) told)
  }, plan$entries, plan$labels, seq_along(plan$entries))
}

# Answers that the record does not know.
strange_entries <- function(pieces, rows, known, loose) {
  form <- if (loose) loosen else normal_text
  each <- unlist(pieces)
  rows <- rep(rows, lengths(pieces))
  new <- !form(each) %in% form(known)
  if (!any(new)) return(NULL)
  counts <- count_values(each[new], as_row_counts(rows[new]))
  list(new_remark("Answers without a column", name_list(paste0(
    quote_text(counts$value), " (", counts$rows, ")"), 8),
    "new-entry"))
}

# Answers that may be one.
alike_entries <- function(entries) {
  form <- loosen(entries)
  alike <- entries[form %in% form[duplicated(form)]]
  if (length(alike)) list(new_remark("Answers that are one but for case, accents or blanks",
    name_list(quote_text(alike), 8), "entries-alike"))
}
