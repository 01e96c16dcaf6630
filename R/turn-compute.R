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
                         missing = "carry", note = NULL, high = NULL, accept = NULL, replace = FALSE) {
  refuse_dots(...)
  expr <- rlang::enexpr(formula)
  refuse_loop_names(expr, book, parent.frame())
  written <- formula_text(tidy_node(expr))
  many <- rlang::enquo(each)
  over <- if (!rlang::quo_is_null(many)) select_vars(book, many, "each")
  makes <- if (is.null(over)) one_name(as, "compute") else result_names(over, as, "_new")
  turn <- new_turn("compute", makes,
    formula = written, each = over, missing = unless(missing, "carry"),
    label = label, note = note, high = high,
    accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("compute",
  keys = c(formula = "formula", each = "names", label = "texts", missing = "word"),
  needs = "formula", main = c(formula = "formula"), doing = "one formula",
  says = function(made, turn) paste0("worked out as ", turn$formula),
  traits = c("reckons", "may be constant by mistake")
)

#' @rdname turn_compute
#' @export
turn_flag <- function(book, condition, as = NULL, each = NULL, ..., label = NULL,
                      missing = "carry", note = NULL, high = NULL, accept = NULL, replace = FALSE) {
  if (missing(condition)) refuse_equals(...)
  refuse_dots(...)
  many <- rlang::enquo(each)
  over <- if (!rlang::quo_is_null(many)) select_vars(book, many, "each")
  turn <- new_turn("flag", if (is.null(over)) one_name(as, "flag") else result_names(over, as, "_flag"),
    formula = formula_text(tidy_node(rlang::enexpr(condition))), each = over,
    missing = unless(missing, "carry"), label = label, note = note, high = high,
    accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("flag",
  keys = c(formula = "formula", each = "names", label = "texts", missing = "word"),
  needs = "formula", main = c(condition = "formula"), doing = "flagging",
  says = function(made, turn) paste0("1 where ", turn$formula, " holds, else 0"),
  traits = "may be constant by mistake"
)

# A name of the analyst's own that holds the name of a variable, as in a loop.
refuse_loop_names <- function(expr, book, env) {
  known <- names(book)
  for (name in setdiff(all.vars(expr), c(known, "each"))) {
    value <- get0(name, env)
    if (is.character(value) && length(value) && all(value %in% known)) {
      by <- stats::setNames(list(as.name("each")), name)
      fail("loop-name", name = name, value = value[1], pattern = "{name}_new",
        formula = formula_text(replace_names(tidy_node(expr), by)))
    }
  }
}

# A comparison written with one sign is taken for an argument.
refuse_equals <- function(...) {
  given <- as.list(substitute(list(...)))[-1]
  if (length(given) == 1 && is_named(given)) {
    fail("equals-sign", name = names(given), value = paste(deparse(given[[1]]), collapse = " "))
  }
}

#' @export
check_turn.compute_turn <- function(turn) {
  check_carry(turn)
}

#' @export
check_turn.flag_turn <- check_turn.compute_turn

#' @export
lower.compute_turn <- function(turn, world) {
  nodes <- formulas_of(turn, world)
  lapply(seq_along(nodes), function(i) lower_formula(nodes[[i]], turn, world, i))
}

#' @export
lower.flag_turn <- function(turn, world) {
  nodes <- formulas_of(turn, world)
  for (node in nodes) {
    check_formula(node, world$names, turn$formula)
    if (result_type(node, type_in(world)) != "truth") fail("flag-no-condition", formula = turn$formula)
  }
  lapply(seq_along(nodes), function(i) lower_formula(nodes[[i]], turn, world, i))
}

# The formula, or one for each variable that `each` stands for.
formulas_of <- function(turn, world) {
  node <- parse_formula(turn$formula)
  if (is.null(turn$each)) return(list(node))
  if (!"each" %in% formula_vars(node)) fail("each-without-x", formula = turn$formula)
  check_formula(node, c(world$names, "each"), turn$formula)
  lapply(turn$each, function(name) replace_names(node, list(each = as.name(name))))
}

lower_formula <- function(node, turn, world, place) {
  text <- formula_text(node)
  check_formula(node, world$names, text)
  node <- ready_formula(node, world)
  if (is.character(node)) refuse_quoted_formula(node, world)
  type <- result_type(node, type_in(world))
  if (is.call(node) && call_head(node) == "if") node <- if_to_choose(node)
  if (type == "truth") node <- call("choose", node, 1L, 0L)
  worked_out <- formula_meaning(text, type)
  lowered(turn$makes[place], node, formula_label(finish_meaning(turn, worked_out, place), turn, place),
    carry = !identical(turn$missing, "plain")
  )
}

# A text is a text, unless it reads as a formula over the variables.
refuse_quoted_formula <- function(text, world) {
  read <- tryCatch(parse_formula(text), error = function(e) NULL)
  named <- if (is.call(read) || is.symbol(read)) formula_vars(read) else words_beside_signs(text)
  if (length(named) && all(named %in% world$names)) fail("formula-quoted", formula = quote_text(text))
}

# What stands beside a sign of arithmetic in a text that is no whole formula: "18 < age < 30".
words_beside_signs <- function(text) {
  words <- regmatches(text, gregexpr("[A-Za-z.][A-Za-z0-9._]*", text))[[1]]
  if (grepl("[<>=+*/&|]", text)) words
}

# A checked formula with labels, dates and draws put in terms of values.
ready_formula <- function(node, world) {
  node <- spell_out_statistics(node)
  check_kinds(node, world)
  node <- resolve_occasions(resolve_draws(node, world), world)
  node <- resolve_labels(node, world$meaning, world$is_text)
  type_of <- with_temporaries(node, type_in(world))
  node <- resolve_dates(node, type_of)
  check_dates(node, type_of)
}

whole_numbers <- function(x) is.numeric(x) && all(x == round(x) & abs(x) < 2^52)

# A draw is a function of its seed and the row identifier.
resolve_draws <- function(node, world) {
  id <- world$id
  words <- c(draw_uniform = "uniform_draw", draw_normal = "normal_draw")
  walk_formula(node, function(call) {
    if (!call_head(call) %in% names(words)) return(call)
    if (is.null(id)) fail("draw-needs-id")
    if (!is.character(world$column(id)) && !whole_numbers(world$column(id))) fail("draw-id", name = id)
    seed <- as.list(call)$seed
    if (!is_whole(check_number(seed, "seed"))) fail("draw-seed", seed = seed)
    call(words[[call_head(call)]], as.name(id), seed)
  })
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
    level = if (type %in% c("number", "date")) "interval" else "nominal",
    high = if (truth) text
  )
}

# number, text, truth or date: the type of a variable.
type_in <- function(world) {
  function(name) {
    if (world$is_text(name)) return("text")
    x <- world$column(name)
    if (is.logical(x)) "truth" else if (inherits(x, "Date")) "date" else "number"
  }
}
