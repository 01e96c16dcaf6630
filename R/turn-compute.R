#' Compute by a formula, or flag by a condition
#'
#' `turn_compute()` makes whatever a formula says; `turn_flag()` makes 1 where a
#' condition holds, 0 where it does not, and keeps missing missing. Formulas are
#' a closed language (see [formula_language()]): they cannot reach files, the
#' network or other objects. A statistic in a formula, such as `median(x)`, is
#' learned once and recorded with its value.
#'
#' @inheritParams turn_recode
#' @param formula,condition A formula over the variables; `!!cut` puts a value
#'   of your own into it as a constant. A label may stand for its code:
#'   `island == "Northholm"`.
#' @param each Variables for which the formula is computed one by one; `.x`
#'   stands for each.
#' @param ... Not used; the arguments after it are written in full.
#' @param as Name of the result; with `each` a pattern such as `"{name}_log"`.
#' @return The book with the new variables.
#' @section Errors: `ableturn_error_not_in_language`,
#'   `ableturn_error_unknown_name` and others of class `ableturn_error`, which
#'   show the formula and underline the piece.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_compute(book, income / sqrt(household), as = "income_eq",
#'   label = "Equivalised income")
#' book <- turn_compute(book, log10(.x), each = c(income, wait_min), as = "{name}_log")
#' book <- turn_flag(book, wait_min > median(wait_min), as = "long_wait")
#' @export
turn_compute <- function(book, formula, as = NULL, each = NULL, ..., label = NULL,
                         missing = "carry", note = NULL, high = NULL, replace = FALSE) {
  refuse_dots(...)
  written <- formula_text(tidy_node(rlang::enexpr(formula)))
  many <- rlang::enquo(each)
  over <- if (!rlang::quo_is_null(many)) select_vars(book, many, "each")
  makes <- if (is.null(over)) one_name(as, "compute") else result_names(over, as, "_new")
  turn <- new_turn("compute", makes,
    formula = written, each = over, missing = unless(missing, "carry"),
    label = label, note = note, high = high
  )
  make_turn(book, turn, replace)
}

#' @rdname turn_compute
#' @export
turn_flag <- function(book, condition, as = NULL, ..., label = NULL,
                      missing = "carry", note = NULL, high = NULL, replace = FALSE) {
  refuse_dots(...)
  turn <- new_turn("flag", one_name(as, "flag"),
    formula = formula_text(tidy_node(rlang::enexpr(condition))),
    missing = unless(missing, "carry"), label = label, note = note, high = high
  )
  make_turn(book, turn, replace)
}

#' @export
check_turn.compute_turn <- function(turn) {
  check_carry(turn)
}

#' @export
check_turn.flag_turn <- check_turn.compute_turn

#' @export
lower.compute_turn <- function(turn, world) {
  node <- parse_formula(turn$formula)
  if (is.null(turn$each)) return(list(lower_formula(node, turn, world, 1)))
  if (!".x" %in% formula_vars(node)) fail("each-without-x", formula = turn$formula)
  lapply(seq_along(turn$each), function(i) {
    check_formula(node, c(world$names, ".x"), turn$formula)
    lower_formula(replace_names(node, list(.x = as.name(turn$each[i]))), turn, world, i)
  })
}

#' @export
lower.flag_turn <- function(turn, world) {
  node <- parse_formula(turn$formula)
  check_formula(node, world$names, turn$formula)
  if (result_type(node, type_in(world)) != "truth") fail("flag-no-condition", formula = turn$formula)
  list(lower_formula(node, turn, world, 1))
}

lower_formula <- function(node, turn, world, place) {
  text <- formula_text(node)
  check_formula(node, world$names, text)
  if (!length(formula_vars(node))) fail("formula-no-variable", formula = text)
  check_kinds(node, world)
  node <- resolve_labels(node, world$meaning, world$is_text)
  if (is.call(node) && call_head(node) == "if") node <- if_to_choose(node)
  type <- result_type(node, type_in(world))
  if (type == "truth") node <- call("choose", node, 1L, 0L)
  worked_out <- formula_meaning(text, type)
  lowered(turn$makes[place], node, formula_label(finish_meaning(turn, worked_out, place), turn, place),
    carry = !identical(turn$missing, "plain")
  )
}

check_kinds <- function(node, world) {
  walk_formula(node, function(call) {
    if (call_head(call) == "unanswered" && length(call) == 3) check_kind(as.character(call[[2]]), call[[3]], world)
    call
  })
}

formula_label <- function(meaning, turn, place) {
  if (!is.null(turn$each)) meaning$label <- fill_name(meaning$label, turn$each[place])
  meaning
}

formula_meaning <- function(text, type) {
  truth <- type == "truth"
  new_meaning(
    label = text, codes = if (truth) c("No" = 0L, "Yes" = 1L),
    level = if (type == "number") "interval" else "nominal",
    high = if (truth) text
  )
}

# number, text or truth: the type of a variable.
type_in <- function(world) {
  function(name) {
    if (world$is_text(name)) "text" else if (is.logical(world$column(name))) "truth" else "number"
  }
}
