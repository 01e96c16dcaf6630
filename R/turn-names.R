# The variables a selection names, in its order.
select_vars <- function(book, selection, argument = "vars") {
  alone <- if (rlang::is_quosure(selection)) rlang::quo_get_expr(selection) else selection
  if (rlang::is_missing(alone)) fail("argument-needed", argument = argument)
  known <- inherits(book, c("ableturn_book", "data.frame"))
  if (is.call(alone) && as.character(alone[[1]])[1] %in% c("==", "!=", "<", "<=", ">", ">=")) {
    fail("selection-condition", argument = argument, text = formula_text(alone))
  }
  plain <- if (known) plain_selection(alone, names(book))
  if (length(plain)) return(plain)
  data <- selectable(book)
  chosen <- tryCatch(tidyselect::eval_select(selection, data, allow_rename = FALSE),
    error = identity)
  if (inherits(chosen, "vctrs_error_subscript_oob")) fail_unknown(chosen$i, names(data))
  if (inherits(chosen, "ableturn_error")) stop(chosen)
  if (inherits(chosen, "error")) {
    fail("selection", argument = argument, why = conditionMessage(chosen))
  }
  if (!length(chosen)) fail("nothing-selected", argument = argument)
  names(chosen)
}

# The names that single names, stretches of them (a:b) and c() of these stand for; NULL for any
# other selection, which tidyselect has to read.
plain_selection <- function(expr, names) {
  if (inherits(expr, "quosure")) expr <- rlang::quo_get_expr(expr)
  if (is.symbol(expr)) return(if (as.character(expr) %in% names) as.character(expr))
  if (!is.call(expr) || !is.null(names(expr))) return(NULL)
  parts <- as.list(expr)[-1]
  if (identical(expr[[1]], as.name(":")) && all(vapply(parts, is.symbol, NA))) {
    ends <- match(vapply(parts, as.character, ""), names)
    return(if (!anyNA(ends)) names[ends[1]:ends[2]])
  }
  if (!identical(expr[[1]], as.name("c"))) return(NULL)
  chosen <- lapply(parts, plain_selection, names = names)
  if (!any(vapply(chosen, is.null, NA))) unique(unlist(chosen))
}

# A selection that may be left out.
chosen_vars <- function(book, quo, argument) {
  if (!rlang::quo_is_null(quo)) select_vars(book, quo, argument)
}

# The weight that is given; where none is, that which the book states, unless it is `stated` that
# there is none (weight = NULL).
weight_var <- function(book, quo, stated) {
  if (!rlang::quo_is_null(quo)) return(one_var(book, quo, "weight"))
  if (!stated) default_weight(book)
}

one_var <- function(book, quo, argument) {
  name <- select_vars(book, quo, argument)
  if (length(name) > 1) fail("one-variable", argument = argument, names = name)
  name
}

fail_unknown <- function(name, known) {
  name <- setdiff(as.character(name), known)
  fail("unknown-variable", name = name, hint = near_hint(name[1], known))
}

# Names for the results: given, by a pattern with {name}, or by the turn's own ending.
result_names <- function(from, as, ending) {
  if (is.null(as)) return(paste0(from, ending))
  if (!is.character(as) || anyNA(as)) fail("bad-as", got = describe_type(as))
  if (length(as) == 1 && grepl("{name}", as, fixed = TRUE)) {
    return(vapply(from, function(name) fill_name(as, name), "", USE.NAMES = FALSE))
  }
  if (length(as) != length(from)) fail("as-count", names = length(as), variables = length(from))
  as
}

one_name <- function(as, verb) {
  if (is.null(as)) fail("as-needed", verb = paste0("turn_", verb))
  if (!is.character(as) || length(as) != 1 || is.na(as)) fail("bad-as", got = describe_type(as))
  as
}

check_new_names <- function(makes) {
  bad <- makes[is.na(makes) | !grepl("[^[:space:]]", makes)]
  if (length(bad)) fail("empty-name")
  twice <- unique(makes[duplicated(makes)])
  if (length(twice)) fail("name-twice", name = twice)
  invisible(makes)
}

# Limits of a scale: those given, or those that the variable is defined with.

# The limits to reverse by, given or defined; every valid value must lie inside.
limits_for <- function(name, limits, world) {
  limits <- limits %||% world$meaning(name)$limits
  if (is.null(limits)) fail_no_limits(name, as_number(world$values(name)))
  if (!inside_limits(limits, world$facts(name))) {
    off <- world$outside(name, limits)
    if (length(off$values)) fail_beyond(name, off$values, off$rows, limits)
  }
  limits
}

# Whether the facts of a column show that all its values lie inside; FALSE where they cannot tell,
# as infinite values are not among its ends.
inside_limits <- function(limits, facts) {
  facts$few && sum(facts$rows) == facts$valid && isTRUE(facts$low >= limits[1] &&
    facts$high <= limits[2])
}

fail_no_limits <- function(name, x) {
  seen <- if (all(is.na(x))) "nothing but missing answers" else paste(show_number(range(x,
    na.rm = TRUE)), collapse = " to ")
  fail("limits-needed", name = name, seen = seen)
}

fail_beyond <- function(name, outside, rows, limits) {
  seen <- counts_of(outside, sort, rows)
  values <- seen$values
  counts <- seen$rows
  fail("beyond-limits",
    name = name, low = limits[1], high = limits[2],
    values = paste0(show_number(values), " (", counts, " row", ifelse(counts == 1, "", "s"), ")"),
    code = show_number(values[length(values)])
  )
}

# A part of a name from a label: ASCII, at most 30 letters; the code where a label has no such form.
safe_name <- function(labels, codes) {
  plain <- stringi::stri_trans_general(labels, "Latin-ASCII")
  lost <- !stringi::stri_enc_isascii(plain)
  plain[lost] <- show_value(codes[lost])
  name <- gsub("[^a-z0-9]+", "_", lower_ascii(signs_in_words(plain)))
  name <- gsub("^_+|_+$", "", name)
  ends <- nchar(name) > 30
  name[ends] <- sub("_[^_]*$", "", substr(name[ends], 1, 30))
  ifelse(nzchar(name) & stringi::stri_enc_isascii(name), name, paste0("level", seq_along(name)))
}

# Signs that tell one level from another: a minus before a number (but not between two), "<12",
# ">16", "12+".
signs_in_words <- function(text) {
  words <- c("(?<![0-9A-Za-z])-(?=[.]?[0-9])" = "minus_", "<=" = " up to ", ">=" = " from ",
    "<" = " under ", ">" = " over ", "(?<=[0-9])[+]" = " plus ")
  for (sign in names(words)) text <- gsub(sign, words[[sign]], text, perl = TRUE)
  text
}

one_of_each <- function(names) {
  copy <- stats::ave(seq_along(names), names, FUN = seq_along)
  ifelse(copy > 1, paste0(names, "_", copy), names)
}
