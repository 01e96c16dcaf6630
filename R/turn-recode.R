#' @include turn-type.R
NULL

#' Recode by rules
#'
#' Makes a new variable whose codes are stated by rules over one variable, over
#' several, or over many variables one by one. Rows that no rule catches become
#' missing of the kind "unmatched" and are shown by value.
#'
#' @param book A turnbook, or a data frame.
#' @param ... The source variables (a tidyselect selection; none when the rules
#'   name their variables) and the rules, see [becomes()].
#' @param as Name of the result, or a pattern such as `"{name}_r"` for many;
#'   left out, the ending `_recoded`.
#' @param missing `"carry"` keeps the source's reasons for missing answers,
#'   `"plain"` drops them. With several sources the result is plain missing.
#' @param loose Text matches whatever its case, outer spaces and accents.
#' @param rules Rules from a data frame, or the path of a CSV file, with the
#'   columns `code`, `label` and `when` (`"1 .. 4"`, `"5 .."`, `"[1, 2]"`,
#'   `"{missing: Refused}"`) or a column for each variable; `rest` is TRUE for
#'   the row that takes what no rule catches.
#' @param label,note,high What the result means: its label, a note, and what a
#'   high value stands for.
#' @param accept Findings that you have judged, with the reason:
#'   `c("open-range" = "99 is a real age here")`; see [findings()].
#' @param replace Replace a derived variable of that name. Originals are never
#'   replaced.
#' @return The book with the new variable. A receipt is shown, a condition of
#'   class `ableturn_receipt`.
#' @section Errors: Class `ableturn_error`; among them
#'   `ableturn_error_no_such_label` for a text that is no label of the source.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_recode(book, crossings, as = "rider3", label = "Kind of rider",
#'   becomes(0, 0, label = "Non-rider"),
#'   becomes(1, from(1, upto = 4), label = "Occasional"),
#'   becomes(2, from(5), label = "Regular"))
#' @export
turn_recode <- function(book, ..., as = NULL, missing = "carry", loose = FALSE, rules = NULL,
                        label = NULL, note = NULL, high = NULL, accept = NULL, replace = FALSE) {
  parts <- split_dots(rlang::enquos(...), "turn_recode")
  rules <- c(parts$rules, if (!is.null(rules)) rules_from_table(open_rules(rules)))
  chosen <- parts$selection
  from <- if (length(chosen)) select_vars(book,
    if (length(chosen) == 1) chosen[[1]] else all_of_them(chosen), "...")
  turn <- new_turn("recode", recode_names(from, as),
    from = from, rules = rules, loose = drop_default(loose, FALSE),
    missing = drop_default(missing, "carry"), label = label, note = note, high = high,
    accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("recode",
  keys = c(from = "names", label = "texts", rules = "rules", loose = "flag", missing = "word"),
  needs = "rules", main = character(), doing = "recoding",
  says = function(derived, turn) {
    paste0("recoded from ", in_a_row(derived$from), " by ",
      counted(length(derived$rules), "rule"))
  },
  traits = c("makes categories", "may be constant by mistake")
)

all_of_them <- function(quosures) rlang::new_quosure(rlang::expr(c(!!!quosures)))

recode_names <- function(from, as) {
  if (is.null(from)) one_name(as, "recode") else result_names(from, as, "_recoded")
}

# A data frame as it is; layers above know how to open files.
open_rules <- function(rules) UseMethod("open_rules")

#' @export
open_rules.default <- function(rules) rules

check_one_rest <- function(turn) {
  rest <- vapply(turn$rules, `[[`, NA, "rest")
  if (sum(rest) > 1) fail("rest-twice", name = turn$makes[1])
}

#' @export
check_turn.recode_turn <- function(turn) {
  if (!length(turn$rules)) fail("no-rules", name = turn$makes[1])
  if (length(turn$rules) > most_rules) fail("rules-many", name = turn$makes[1],
    rules = length(turn$rules), most = most_rules)
  check_carry(turn)
  check_flag(turn$loose %||% FALSE, "loose")
  check_one_rest(turn)
  several <- vapply(turn$rules, function(r) length(r$where) > 0, NA)
  single <- vapply(turn$rules, function(r) length(r$when) > 0, NA)
  if (any(several) && any(single)) fail("rules-both", name = turn$makes[1])
  if (any(single) && is.null(turn$from)) fail("no-source", name = turn$makes[1])
  if (any(several) && length(turn$from)) fail("source-and-where", name = turn$from)
  check_codes_alike(turn$rules, turn$makes[1])
}

# Each rule is held against every other.
most_rules <- 1000

check_codes_alike <- function(rules, name) {
  codes <- lapply(rules, `[[`, "code")
  codes <- Filter(function(code) !is_unchanged(code) && !is.na(code), codes)
  text <- vapply(codes, is.character, NA)
  if (any(text) && !all(text)) fail("codes-mixed", name = name)
  check_labels_agree(rules, name)
}

check_labels_agree <- function(rules, name) {
  said <- Filter(function(r) !is.null(r$label) && !is_unchanged(r$code), rules)
  code <- vapply(said, function(r) show_code(r$code), "")
  label <- vapply(said, `[[`, "", "label")
  known <- !duplicated(key_texts(list(code, label))) & code != "missing"
  twice <- unique(code[known][duplicated(code[known])])
  if (length(twice)) {
    fail("labels-differ", code = twice[1], labels = label[code == twice[1]], name = name)
  }
}

#' @export
lower.recode_turn <- function(turn, world) {
  if (is.null(turn$from)) return(list(lower_rules(turn, world, NULL, 1)))
  lapply(seq_along(turn$from), function(i) lower_rules(turn, world, turn$from[i], i))
}

lower_rules <- function(turn, world, source, place) {
  chosen <- choose_by_rules(turn, turn$rules, world, source)
  lowered_by_rules(turn, place, chosen, recode_meaning(turn, chosen$rules, source, world, place))
}

recode_meaning <- function(turn, rules, source, world, place) {
  old <- if (!is.null(source)) world$meaning(source)
  label <- if (!is.null(source)) paste0(old$label %||% source, ", recoded") else turn$makes[place]
  ranges <- vapply(unlist(lapply(rules, `[[`, "when"), recursive = FALSE),
    function(m) m$type == "range", NA)
  worked_out <- new_meaning(
    label = label, codes = recode_codes(rules, old),
    level = if (any(ranges)) "ordinal" else "nominal"
  )
  finish_meaning(turn, worked_out, place)
}
