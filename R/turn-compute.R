#' @include turn-type.R
NULL

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
#' @param each Variables for which the formula is computed one by one; in it
#'   the word `each` stands for the variable.
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
#' book <- turn_compute(book, log10(each), each = c(income, wait_min), as = "{name}_log")
#' book <- turn_flag(book, wait_min > median(wait_min), as = "long_wait")
#' @export
turn_compute <- function(book, formula, as = NULL, each = NULL, ..., label = NULL,
                         missing = "carry", note = NULL, high = NULL, accept = NULL,
                         replace = FALSE) {
  refuse_dots(...)
  need_given(formula)
  expr <- rlang::enexpr(formula)
  refuse_loop_names(expr, book, parent.frame())
  written <- formula_of(expr, book, parent.frame())
  many <- rlang::enquo(each)
  over <- if (!rlang::quo_is_null(many)) select_vars(book, many, "each")
  makes <- if (is.null(over)) one_name(as, "compute") else result_names(over, as, "_new")
  turn <- new_turn("compute", makes,
    formula = written, each = over, missing = drop_default(missing, "carry"),
    label = label, note = note, high = high,
    accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("compute",
  keys = c(formula = "formula", each = "names", label = "texts", missing = "word"),
  needs = "formula", main = c(formula = "formula"), doing = "one formula",
  says = function(derived, turn) paste0("worked out as ", turn$formula),
  traits = c("reckons", "may be constant by mistake")
)

# A name of the analyst's own that holds the name of a variable, as in a loop.
refuse_loop_names <- function(expr, book, env) {
  known <- names(book)
  for (name in setdiff(all.vars(expr), c(known, "each"))) {
    value <- get0(name, env)
    if (is.character(value) && length(value) && all(value %in% known)) {
      by <- setNames(list(as.name("each")), name)
      fail("loop-name", name = name, value = value[1], pattern = "{name}_new",
        formula = formula_text(replace_names(tidy_node(expr), by)))
    }
  }
}

#' @export
check_turn.compute_turn <- function(turn) {
  check_carry(turn)
}

#' @export
lower.compute_turn <- function(turn, world) {
  nodes <- formulas_of(turn, world)
  lapply(seq_along(nodes), function(i) lower_formula(nodes[[i]], turn, world, i))
}
