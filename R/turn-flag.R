#' @include turn-type.R
NULL

#' @rdname turn_compute
#' @export
turn_flag <- function(book, condition, as = NULL, each = NULL, ..., label = NULL, missing = "carry",
                      note = NULL, high = NULL, accept = NULL, replace = FALSE) {
  if (missing(condition)) refuse_equals(...)
  refuse_dots(...)
  many <- rlang::enquo(each)
  over <- if (!rlang::quo_is_null(many)) select_vars(book, many, "each")
  turn <- new_turn("flag", if (is.null(over)) one_name(as, "flag") else result_names(over,
    as, "_flag"), formula = formula_of(rlang::enexpr(condition), book, parent.frame()), each = over,
  missing = drop_default(missing, "carry"), label = label, note = note, high = high,
  accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("flag",
  keys = c(formula = "formula", each = "names", label = "texts", missing = "word"),
  needs = "formula", main = c(condition = "formula"), doing = "flagging",
  says = function(derived, turn) paste0("1 where ", turn$formula, " holds, else 0"),
  traits = "may be constant by mistake"
)

# A comparison written with one sign is taken for an argument.
refuse_equals <- function(...) {
  given <- as.list(substitute(list(...)))[-1]
  if (length(given) == 1 && is_named(given)) {
    fail("equals-sign", name = names(given), value = paste(deparse(given[[1]]), collapse = " "))
  }
}

#' @export
check_turn.flag_turn <- check_turn.compute_turn

#' @export
lower.flag_turn <- function(turn, world) {
  nodes <- formulas_of(turn, world)
  for (node in nodes) {
    check_formula(node, world$names, turn$formula)
    if (is.character(node)) refuse_quoted_formula(node, world)
    if (result_type(node, type_in(world)) != "truth") {
      fail("flag-no-condition", formula = turn$formula)
    }
  }
  lapply(seq_along(nodes), function(i) lower_formula(nodes[[i]], turn, world, i))
}
