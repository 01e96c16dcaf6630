#' Rules for recoding
#'
#' `becomes()` states one new code and what it is made from; `the_rest()` takes
#' every valid row for which all rules are false.
#'
#' Unnamed values and ranges belong to the one source of the turn. Named ones
#' are conditions on the variables they name, all of which must hold; use
#' `when(label = 1)` for a variable whose name is an argument's. Rules are
#' tried in order and the first that is true wins. A row for which an earlier
#' rule cannot be decided, because an answer is missing, stays missing.
#'
#' @param code The new code: a number or a text. `NA` makes a missing kind,
#'   named by `label`. [unchanged()] keeps the source's own code.
#' @param ... Values (`3`, `c(1, 2, 5)`, `"Daily"`), ranges (see [ranges]), [holding()] or
#'   [unanswered()]; or conditions named by their variables. A text matches
#'   text, or a value label.
#' @param label The label of the new code.
#' @return A rule, to be used inside [turn_recode()].
#' @section Errors: Class `ableturn_error`, if nothing is said about what the
#'   code is made from, or values and named conditions are mixed.
#' @seealso [turn_recode()]
#' @examples
#' becomes(1, from(1, upto = 4), label = "Occasional")
#' becomes(1, gender_code = 1, age = under(40), label = "Men under 40")
#' becomes(NA, 97, label = "Not applicable")
#' the_rest(5, label = "Other")
#' @export
becomes <- function(code, ..., label = NULL) {
  given <- list(...)
  where <- vapply(given, inherits, NA, what = "ableturn_where")
  given <- c(given[!where], unlist(unname(given[where]), recursive = FALSE))
  named <- nzchar(names(given) %||% rep("", length(given)))
  if (!length(given)) fail("rule-empty", code = show_code(code))
  if (any(named) && !all(named)) fail("rule-mixed", code = show_code(code))
  if (all(named)) new_rule(code, label, where = lapply(given, read_condition))
  else new_rule(code, label, when = merge_values(as_matchers(given)))
}

#' @rdname becomes
#' @export
the_rest <- function(code, label = NULL) new_rule(code, label, rest = TRUE)

#' Keep the source's own code
#'
#' @return A mark for [the_rest()] and [becomes()].
#' @examples
#' the_rest(unchanged())
#' @export
unchanged <- function() structure(list(), class = "ableturn_unchanged")

#' Conditions on variables whose names are taken
#'
#' @param ... Conditions named by their variables, as in [becomes()].
#' @return Conditions, to be used inside [becomes()].
#' @examples
#' becomes(1, when(label = 1, code = from(2)))
#' @export
when <- function(...) {
  given <- list(...)
  if (!length(given) || !is_named(given)) fail("when-unnamed")
  structure(given, class = "ableturn_where")
}

new_rule <- function(code, label, when = NULL, where = NULL, rest = FALSE) {
  check_code(code)
  check_text(label, "label")
  to_missing <- !is_unchanged(code) && is.na(code)
  if (to_missing && is.null(label)) fail("kind-unlabelled")
  if (to_missing && label %in% standard_kinds) fail("kind-taken", kind = label)
  structure(
    list(code = if (is.numeric(code)) as_code(as.double(code)) else code, label = label,
      when = when, where = where, rest = rest),
    class = "ableturn_rule"
  )
}

read_condition <- function(value) merge_values(as_matchers(value))

check_code <- function(code) {
  if (is_unchanged(code)) return()
  ok <- is.atomic(code) && length(code) == 1 && (is.na(code) || is.numeric(code) ||
    is.character(code))
  if (!ok) fail("bad-code", got = describe_type(code))
}

is_unchanged <- function(code) inherits(code, "ableturn_unchanged")

is_rule <- function(x) inherits(x, "ableturn_rule")

show_code <- function(code) {
  if (is_unchanged(code)) "unchanged" else if (is.na(code)) "missing" else show_value(code)
}

# What a rule catches, in words.
describe_rule <- function(rule) {
  if (rule$rest) return("the rest")
  if (length(rule$when)) return(describe_matchers(rule$when))
  paste(names(rule$where), vapply(rule$where, describe_matchers, ""), sep = ": ", collapse = "; ")
}

#' @export
print.ableturn_rule <- plainly(function(x, ...) {
  label <- if (!is.null(x$label)) paste0(" (", x$label, ")")
  cat(show_controls(paste0("<", describe_rule(x), " becomes ", show_code(x$code), label, ">")),
    "\n", sep = "")
  invisible(x)
})

# Rules from a data frame: columns code, label and `when`, or a column for each variable. A row
# whose `rest` is TRUE takes what no rule catches.
rules_from_table <- function(table) {
  if (!is.data.frame(table)) fail("rules-not-table", got = describe_type(table))
  if (!"code" %in% names(table)) fail("rules-no-code", names = names(table))
  if (!nrow(table)) fail("rules-no-rows")
  lapply(seq_len(nrow(table)), function(i) rule_from_row(lapply(table, `[[`, i), i))
}

rule_from_row <- function(row, place) {
  code <- read_code(row$code)
  label <- if (!is_blank(row$label)) as.character(row$label)
  if (isTRUE(as.logical(row$rest))) return(the_rest(code, label))
  conditions <- row[setdiff(names(row), c("code", "label", "rest"))]
  conditions <- conditions[!vapply(conditions, is_blank, NA)]
  if (!length(conditions)) fail("rules-row-empty", row = place)
  conditions <- lapply(conditions, read_cell)
  if (identical(names(conditions), "when")) new_rule(code, label, when = conditions$when)
  else new_rule(code, label, where = conditions)
}

is_blank <- function(x) is.null(x) || is.na(x) || (is.character(x) && !nzchar(trimws(x)))

read_code <- function(code) {
  if (is_blank(code)) return(NA)
  if (!is.character(code)) return(code)
  if (code == "unchanged") return(unchanged())
  if (grepl(plain_number, code)) as_code(as.numeric(code)) else code
}

# Rules and selections share the dots, told apart by what they are.
split_dots <- function(dots, verb) {
  named <- nzchar(names(dots))
  if (any(named)) fail("named-dots", name = names(dots)[named], verb = verb)
  is_a_rule <- vapply(dots, makes_rule, NA)
  for (dot in dots[is_a_rule]) check_rule_call(rlang::quo_get_expr(dot), rlang::quo_get_env(dot))
  list(
    rules = flatten_rules(lapply(dots[is_a_rule], rlang::eval_tidy)),
    selection = unname(dots[!is_a_rule])
  )
}

makes_rule <- function(dot) {
  value <- rlang::quo_get_expr(dot)
  if (is.symbol(value)) {
    value <- get0(as.character(value), envir = rlang::quo_get_env(dot), mode = "list")
  }
  is_rule(value) || rlang::is_call(value, c("becomes", "the_rest"))
}

# What R would work out by itself, to something else than is meant: becomes(1, age < 40), or a bare
# word.
check_rule_call <- function(expr, env) {
  if (!rlang::is_call(expr, "becomes")) return(invisible())
  for (part in unname(as.list(expr)[-(1:2)])) {
    if (rlang::is_call(part, c("<", ">", "<=", ">=", "==", "!=", "&", "|"))) {
      fail("rule-comparison", given = paste(deparse(part), collapse = " "),
        form = comparison_form(part))
    }
    if (is.symbol(part) && nzchar(part) && is.null(get0(as.character(part), env))) {
      fail("rule-word", given = paste(deparse(part), collapse = " "))
    }
  }
}

# What to write instead of a comparison: a range or a value.
comparison_form <- function(part) {
  head <- as.character(part[[1]])
  right <- if (length(part) == 3) paste(deparse(part[[3]]), collapse = " ") else "..."
  if (!head %in% c("<", ">", "<=", ">=", "==")) {
    return("becomes(1, from(1, upto = 4)), or becomes(1, age = under(40))")
  }
  word <- c("<" = "under", ">" = "over", "<=" = "upto", ">=" = "from")[head]
  paste0("becomes(1, ", if (is.na(word)) right else paste0(word, "(", right, ")"), ")")
}

flatten_rules <- function(rules) {
  rules <- lapply(unname(rules), function(r) if (is_rule(r)) list(r) else r)
  unlist(rules, recursive = FALSE)
}
