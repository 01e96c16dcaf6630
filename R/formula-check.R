# Checks that a formula stays inside the language and names only known variables.
#   `text` is the formula as written, for errors that point at the offending piece.
check_formula <- function(node, known, text = formula_text(node), path = NULL) {
  spot <- list(text = text, path = path)
  check_node(node, known, spot)
  invisible(node)
}

check_node <- function(node, known, spot) {
  if (is.symbol(node)) return(check_name(node, known, spot))
  if (!is.call(node)) return(check_constant(node, spot))
  name <- check_head(node, spot)
  if (name == "{") return(check_block(node, known, spot))
  check_arguments(node, name, spot)
  check_text_constant(node, name, spot)
  own <- formula_words[[name]]$check
  if (!is.null(own)) own(node, name, spot)
  if (name == "if" && !length(formula_vars(node[[2]]))) fail_at("if-constant", node[[2]], spot)
  for (part in parts_to_check(node, name)) check_node(part, known, spot)
}

# The arguments of a call; of an option each of the variables that it names, and each of the values
# after %in%.
parts_to_check <- function(node, name) {
  parts <- as.list(node)[-1]
  given <- names(parts) %||% rep("", length(parts))
  named <- given %in% formula_words[[name]]$vars
  constants <- given %in% formula_words[[name]]$options
  if (name == "%in%") constants <- c(FALSE, !is.call(parts[[2]]) && !is.symbol(parts[[2]]))
  c(parts[!named & !constants], lapply(unlist(lapply(parts[named], option_vars)), as.name),
    unlist(lapply(parts[constants], as.list)))
}

# Columns one after the other would be one column of many more rows, and so would be constants.
check_several <- function(node, name, spot) {
  vars <- formula_vars(node)
  if (length(vars)) fail_at("c-of-variables", node, spot, name = vars[1],
    parts = paste(vapply(row_items(node), piece_text, ""), collapse = ", "))
}

check_name <- function(node, known, spot) {
  name <- as.character(node)
  if (!name %in% known) {
    fail_at("unknown-name", node, spot, name = name, hint = near_hint(name, known))
  }
}

check_constant <- function(node, spot) {
  if (!is.numeric(node) && !is.character(node) && !is.logical(node)) {
    fail_at("bad-constant", node, spot, got = describe_type(node))
  }
  if (length(node) > 1) fail_at("c-alone", node, spot, parts = formula_text(node))
}

check_head <- function(node, spot) {
  name <- if (is.symbol(node[[1]])) as.character(node[[1]]) else piece_text(node[[1]])
  word <- formula_words[[name]]
  if (is.null(word) || word$inner) {
    fail_at("not-in-language", node, spot, name = name, hint = word_hint(name))
  }
  if (name == "<-") fail_at("assignment-outside", node, spot)
  name
}

word_advice <- c(
  "ifelse" = " Write `if (test) a else b`.", "&&" = " Write `&`.", "||" = " Write `|`.",
  "=" = " To compare, write `==`.", "var" = " Write `sd(x)^2`.",
  "length" = " Count answers with `row_valid()`.",
  "rowMeans" = " Write `row_mean(a, b, c)`.", "rowSums" = " Write `row_sum(a, b, c)`.",
  "complete.cases" = " Write `!unanswered(x)`.", "between" = " Write `x >= 1 & x <= 5`.",
  "pmax" = " Write `row_max(a, b)`.", "pmin" = " Write `row_min(a, b)`.",
  "is.null" = " Write `unanswered(x)`.", "cut" = " Bands are made by turn_bin().",
  "scale" = " Write `(x - mean(x)) / sd(x)`, or use turn_standardize().",
  "factor" = " Categories are made by turn_recode().", "ave" = " Write `mean(x, within = group)`.",
  "rank" = " Use turn_standardize(how = \"percentile\").", "cumsum" = " Rows have no order here.",
  "table" = " Count with look() or cross().",
  "as.numeric" = " Text that holds numbers is read as numbers by itself.",
  "switch" = " Use turn_recode().", "paste" = " Write `paste0(a, \" \", b)`.",
  "rev" = " Use turn_reverse().",
  ":" = paste(" Write `x >= 1 & x <= 5`, or `x %in% c(1, 2, 3)`; of many items a call",
    "in R may say row_mean(a:b), and a sheet names them."), "xor" = " Write `a != b`.",
  "lag" = " Write `previous(x, unit = person, order = wave)`.",
  "Sys.Date" = " Write the day, as.Date(\"2031-03-01\"), so that the result stays the same.",
  "coalesce" = " Write `first_valid(a, b)`.",
  "case_when" = " Write `if (test) a else if (test) b else c`, or use turn_recode().",
  "na_if" = " Declare the code missing: define(book, x, missing = c(\"Refused\" = 99)).",
  "replace" = " Write `if (test) a else b`.", "is.nan" = " Write `unanswered(x)`.",
  "row_missing" = " Use turn_tally(of = unanswered()); `row_valid()` counts the others.",
  "rowsum" = " Use turn_group(how = \"sum\").",
  "difftime" = " Dates apart are days, `b - a`; write `hours_between(a, b)` for times.",
  "age" = " Write `years_between(birth, day)`.", "ntile" = " Use turn_bin(groups = 4).",
  "percent_rank" = " Use turn_standardize(how = \"percentile\").",
  "winsorize" = " Write `if (x > quantile(x, 0.99)) quantile(x, 0.99) else x`.",
  "weekdays" = " Write `weekday(day)`: 1 is Monday, 7 is Sunday.",
  "n" = " Use turn_group(how = \"size\").", "nrow" = " Use turn_group(how = \"size\").",
  "rowMaxs" = " Write `row_max(a, b, c)`."
)

word_hint <- function(name) {
  if (name %in% names(word_advice)) return(word_advice[[name]])
  near_hint(name, allowed_words())
}

check_arguments <- function(node, name, spot) {
  word <- formula_words[[name]]
  args <- as.list(node)[-1]
  empty <- vapply(seq_along(args), function(i) identical(args[[i]], rlang::missing_arg()), NA)
  if (any(empty)) fail_at("empty-argument", node, spot)
  given <- names(args) %||% rep("", length(args))
  odd <- setdiff(given[nzchar(given)], c(word$options, word$vars))
  if (identical(odd, "na.rm") && (word$learned || !is.null(word$how))) {
    fail_at(if (word$learned) "na-rm" else "na-rm-row", node, spot, name = name)
  }
  if (length(odd)) fail_at("unknown-option", node, spot, option = odd, name = name)
  count <- sum(!nzchar(given))
  if (count < word$least || count > word$most) {
    fail_at("argument-count", node, spot, name = name, count = count, hint = count_hint(word, name))
  }
  check_options(node, name, args[nzchar(given)], word, spot)
}

check_options <- function(node, name, options, word, spot) {
  constant <- vapply(options[names(options) %in% word$options], is_constant, NA)
  if (!all(constant)) fail_at("option-constant", node, spot, name = name)
  for (option in intersect(names(options), word$vars)) {
    named <- option_vars(options[[option]])
    if (is.null(named) || (option != "within" && length(named) > 1)) {
      examples <- c(within = "island", weight = "weight", unit = "person", order = "wave")
      fail_at("option-variable", node, spot, option = option, example = examples[[option]])
    }
  }
  needed <- setdiff(word$needs, names(options))
  if (length(needed)) {
    fail_at("option-needed", node, spot, name = name, option = needed, example = word$example)
  }
}

# The share that a quantile asks for.
check_share_of <- function(node, name, spot) {
  share <- row_items(node)[[2]]
  ok <- is.numeric(share) && length(share) == 1 && share >= 0 && share <= 1
  if (!ok) fail_at("quantile-share", node, spot)
}

check_half <- function(node, name, spot) {
  half <- as.list(node)$half %||% "even"
  if (!is.character(half) || !half %in% c("even", "up")) fail_at("half", node, spot)
}

count_hint <- function(word, name) {
  if (word$learned && word$most == 1) {
    return(paste0(" It is a statistic of one variable; across variables write `row_", name,
      "(a, b, c)`."))
  }
  need <- if (is.infinite(word$most)) paste("at least", word$least)
  else paste(unique(c(word$least, word$most)), collapse = " to ")
  paste0(" It takes ", need, ".")
}

is_constant <- function(node) {
  if (is.symbol(node)) return(FALSE)
  if (!is.call(node)) return(TRUE)
  head <- as.character(node[[1]])
  head[1] %in% c("c", "-", "(") && all(vapply(as.list(node)[-1], is_constant, NA))
}

# A text that is no number cannot stand where a number must.
check_text_constant <- function(node, name, spot) {
  if (formula_words[[name]]$takes != "number") return()
  for (arg in row_items(node)) {
    usable <- !is.character(arg) || all(grepl(plain_number, arg) | grepl(iso_date, arg))
    like_date <- is.character(arg) && any(grepl("^[0-9]{1,4}([./-])[0-9]{1,2}\\1[0-9]{1,4}$", arg))
    if (!usable) fail_at(if (like_date) "date-form" else "text-as-number", node, spot,
      text = quote_text(arg), name = name)
  }
}

check_unanswered <- function(node, name, spot) {
  if (length(node) < 3) return()
  if (!is.symbol(node[[2]]) || !is.character(node[[3]])) fail_at("unanswered-of", node, spot)
}

# A pattern and what it is replaced by are texts of their own, and R can read the pattern.
check_pattern <- function(node, name, spot) {
  items <- row_items(node)
  stated <- vapply(items[-length(items)], function(p) {
    is.character(p) && length(p) == 1 &&
      !is.na(p)
  }, NA)
  if (!all(stated)) fail_at("pattern-stated", node, spot, name = name)
  if (!nzchar(items[[1]])) fail_at("pattern-broken", node, spot, pattern = quote_text(items[[1]]))
  if (!isTRUE(as.list(node)$regex)) return()
  if (!is_pattern(items[[1]])) {
    fail_at("pattern-broken", node, spot, pattern = quote_text(items[[1]]))
  }
}

check_comparison <- function(node, name, spot) {
  sides <- as.list(node)[-1]
  lone_na <- vapply(sides, function(s) {
    !is.call(s) && !is.symbol(s) && length(s) == 1 &&
      is.na(s)
  }, NA)
  if (any(lone_na)) fail_at("compare-na", node, spot)
  chained <- vapply(sides, is_comparison, NA)
  if (any(chained)) fail_at("chained-comparison", node, spot)
}

is_comparison <- function(node) {
  while (is.call(node) && identical(node[[1]], as.name("("))) node <- node[[2]]
  is.call(node) && is_ordering(as.character(node[[1]])[1])
}

is_ordering <- function(word) {
  has_word_trait(word, "compares") && formula_words[[word]]$takes == "number"
}

check_block <- function(node, known, spot) {
  for (step in as.list(node)[-1]) {
    if (is_assignment(step)) {
      check_temporary(step[[2]], known, spot)
      check_node(step[[3]], known, spot)
      known <- c(known, as.character(step[[2]]))
    } else {
      check_node(step, known, spot)
    }
  }
  if (length(node) < 2 || is_assignment(step)) fail_at("block-end", node, spot)
}

check_temporary <- function(name, known, spot) {
  if (!is.symbol(name)) fail_at("bad-temporary", name, spot)
  if (as.character(name) %in% known) {
    fail_at("temporary-taken", name, spot, name = as.character(name))
  }
}

# An error that shows the formula and underlines the piece.
fail_at <- function(id, node, spot, ...) {
  fail(id, ..., shown = point_at(piece_text(node), spot$text), path = spot$path)
}

point_at <- function(piece, text) {
  line <- gsub("\\s+", " ", text)
  start <- regexpr(piece, line, fixed = TRUE)
  if (start < 1) return(paste0("  ", line))
  paste0("  ", line, "\n  ", strrep(" ", start - 1), "^", strrep("~", max(0, nchar(piece) - 1)))
}

piece_text <- function(node) {
  if (is.call(node) && !is.symbol(node[[1]])) {
    paste(deparse(node), collapse = " ")
  } else {
    formula_text(node)
  }
}
