#' @include turn-type.R
NULL

#' Merge categories
#'
#' Merges that are stated with [becomes()], and rare categories into one. What is
#' not mentioned stays as it is, or becomes what [the_rest()] says. Which categories are rare is
#' learned once and recorded.
#'
#' @inheritParams turn_recode
#' @param ... The variables (a tidyselect selection) and the merges:
#'   `becomes("Season ticket", "Monthly", "Annual")`. The first is the new
#'   category; where values have codes, it gets the lowest code of those merged,
#'   or a code and a `label` are given.
#' @param rarer_than Categories that fewer than this share of the valid rows hold
#'   (0.05 for five percent) become one.
#' @param most_frequent So many of the most frequent categories are kept, with those
#'   that are as frequent as the last of them; the others become one.
#' @param other What the merged rare categories are called.
#' @param as Name or pattern for the results; left out, the ending `_c`.
#' @return The book with fewer categories.
#' @section Errors: Class `ableturn_error`: `ableturn_error_collapse_nothing` if
#'   nothing is to be merged.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_collapse(book, ticket, as = "ticket4", rarer_than = 0.05)
#' book <- turn_collapse(book, island, as = "island3",
#'   becomes("Outer islands", "Sallow", "Merrin", "Tarn Skerry"))
#' @export
turn_collapse <- function(book, ..., rarer_than = NULL, most_frequent = NULL, other = "Other",
                          as = NULL, missing = "carry", label = NULL, note = NULL, high = NULL,
                          accept = NULL, replace = FALSE) {
  parts <- split_dots(rlang::enquos(...), "turn_collapse")
  from <- select_vars(book, rlang::expr(c(!!!parts$selection)), "...")
  turn <- new_turn("collapse", result_names(from, as, "_c"),
    from = from, rules = parts$rules, rarer_than = rarer_than, most_frequent = most_frequent,
    other = drop_default(other, "Other"), missing = drop_default(missing, "carry"), label = label,
    note = note, high = high, accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("collapse",
  keys = c(
    from = "names", label = "texts", rules = "rules", rarer_than = "number",
    most_frequent = "number", other = "text", missing = "word"
  ),
  needs = "from", main = character(), doing = "merging",
  says = function(derived, turn) paste0("merged from the categories of ", in_a_row(derived$from)),
  traits = "makes categories"
)

#' @export
check_turn.collapse_turn <- function(turn) {
  check_carry(turn)
  check_text(turn$other, "other")
  check_one_rest(turn)
  ways <- c("rules", "rarer_than", "most_frequent")
  if (!any(ways %in% names(turn))) fail("collapse-nothing", name = turn$makes[1])
  if (!is.null(turn$rarer_than)) check_share(turn$rarer_than)
  if (!is.null(turn$most_frequent)) check_number(turn$most_frequent, "most_frequent")
  if (!is.null(turn$rarer_than) && !is.null(turn$most_frequent)) {
    fail("collapse-two", name = turn$makes[1])
  }
}

check_share <- function(share) {
  check_number(share, "rarer_than")
  if (share <= 0 || share >= 1) fail("bad-share", share = share)
}

#' @export
lower.collapse_turn <- function(turn, world) {
  lapply(seq_along(turn$from), function(i) lower_merges(turn, world, turn$from[i], i))
}

lower_merges <- function(turn, world, source, place) {
  if (inherits(world$column(source), "Date")) fail("merge-date", name = source)
  rest <- vapply(turn$rules, `[[`, NA, "rest")
  stated <- lapply(turn$rules[!rest], coded_merge, source = source, world = world)
  note <- if (!is.null(turn$rarer_than %||% turn$most_frequent)) world$learn(rare_call(turn, stated,
    source, world))
  rules <- c(stated, rare_rule(turn, note$is, source, world),
    list(rest_of_merges(turn$rules[rest], source, world, length(note$is) > 0)))
  chosen <- choose_by_rules(turn, rules, world, source)
  out <- lowered_by_rules(turn, place, chosen, merged_meaning(turn, chosen$rules, source,
    world, place), note)
  out$remarks <- compact(list(tied_remark(turn, note, source, world)))
  out
}

# What is not mentioned stays as it is, unless it is said what it becomes.
rest_of_merges <- function(rest, source, world, rare) {
  if (!length(rest)) return(the_rest(unchanged()))
  rest <- rest[[1]]
  if (is_unchanged(rest$code) || !is.character(rest$code) || world$is_text(source)) return(rest)
  the_rest(code_above(source, world) + rare, rest$label %||% rest$code)
}

# A code of its own for a category that is made.
code_above <- function(source, world) {
  max(world$meaning(source)$codes, world$facts(source)$high, na.rm = TRUE) + 1
}

# Categories that are as frequent as the last one kept are kept as well.
tied_remark <- function(turn, note, source, world) {
  if (is.null(turn$most_frequent) || world$is_recorded(note)) return(NULL)
  kept <- length(world$met(source)$values) - length(note$is)
  if (kept > turn$most_frequent) new_remark(paste0("Kept ", kept, " categories of `", source,
    "` instead of ", turn$most_frequent, ", as the last are equally frequent."))
}

# A merge named by a text gets a code where the source has codes: the lowest of those merged.
coded_merge <- function(rule, source, world) {
  if (world$is_text(source) || !is.character(rule$code)) return(rule)
  named <- vapply(rule$when, function(m) m$type %in% c("values", "holding"), NA)
  if (!all(named) || !length(named)) fail("merge-code", label = rule$code)
  new_rule(min(merged_values(rule, source, world)), rule$label %||% rule$code, when = rule$when)
}

# The values that a merge names, as they are in the data.
merged_values <- function(rule, source, world) {
  by_piece <- vapply(rule$when, function(m) m$type == "holding", NA)
  met <- lapply(rule$when[by_piece], values_holding, source = source, world = world)
  named <- unlist(lapply(rule$when[!by_piece], `[[`, "values"))
  if (!world$is_text(source) && is.character(named)) {
    named <- codes_for(named, source, world$meaning(source)$codes)
  }
  unique(c(named, unlist(met)))
}

rare_call <- function(turn, stated, source, world) {
  named <- unlist(lapply(stated, merged_values, source = source, world = world))
  way <- if (is.null(turn$rarer_than)) "most_frequent" else "rarer_than"
  as.call(c(list(as.name("rare_values"), as.name(source), way, turn[[way]]), as.list(named)))
}

rare_rule <- function(turn, rare, source, world) {
  if (!length(rare)) return(NULL)
  other <- turn$other %||% "Other"
  when <- list(new_matcher("values", values = rare))
  if (world$is_text(source)) return(list(new_rule(other, NULL, when = when)))
  list(new_rule(code_above(source, world), other, when = when))
}

merged_meaning <- function(turn, rules, source, world, place) {
  old <- world$meaning(source)
  worked_out <- new_meaning(
    label = paste0(old$label %||% source, ", merged"), codes = recode_codes(rules, old),
    level = old$level %||% "nominal", high = old$high, low = old$low
  )
  finish_meaning(turn, worked_out, place)
}
