#' @include sql-engine.R
NULL

# Words of numbers and comparisons as terms of SQL. What is undefined is missing in place: engines
# stop at a division by zero or a root of a negative number, or give something infinite.

chain_in_sql <- function(word) {
  function(node, state) {
    if (length(node) == 2) return(sign_in_sql(word, node, state))
    parts <- number_parts(node, state)
    # also a + (b + c) keeps its order: a sum depends on it
    sides <- c(within_sql(parts[[1]], 6), within_sql(parts[[2]], 7))
    ends_negative <- startsWith(sides[2], "-")
    if (ends_negative) sides[2] <- paste0("(", sides[2], ")")
    refuse_extreme(node, state)
    term <- new_term(paste(sides, collapse = paste0(" ", word, " ")), dated_type_of(parts, word),
      top_level(parts), 6, any_null(parts))
    without_nan(term, state)
  }
}

# Terms of the two sides; dates stay dates, as days.
number_parts <- function(node, state) {
  lapply(as.list(node)[-1], function(part) {
    term <- sql_term(part, state)
    if (term$type == "date") term else number_of(term, state)
  })
}

dated_type_of <- function(parts, word) {
  dates <- sum(vapply(parts, `[[`, "", "type") == "date")
  if (dates == 1 && (word == "+" || parts[[1]]$type == "date")) "date" else "number"
}

sign_in_sql <- function(word, node, state) {
  part <- number_of(sql_term(node[[2]], state), state)
  if (word == "+") return(part)
  new_term(paste0("-", within_sql(part, 8)), "number", part$level, 6, part$null)
}

times_in_sql <- function(node, state) {
  parts <- number_terms(as.list(node)[-1], state)
  refuse_extreme(node, state)
  if (may_overflow(node, state)) return(guarded_product(parts, state))
  sides <- c(within_sql(parts[[1]], 7), within_sql(parts[[2]], 8))
  term <- new_term(paste(sides, collapse = " * "), "number", top_level(parts), 7, any_null(parts))
  without_nan(term, state)
}

# Something infinite may leave what is no number, which some engines take for the largest of all.
without_nan <- function(term, state) {
  if (!state$infinite || !state$engine$has_nan) return(term)
  nan <- cast_sql("'NaN'", state$engine$real)
  new_term(paste0("NULLIF(", term$sql, ", ", nan, ")"), term$type, term$level)
}

# Where an engine stops at results out of range, no such numbers are reckoned with.
refuse_extreme <- function(node, state) {
  if (!state$engine$name %in% sql_refusals$extreme$engines) return()
  reaches <- vapply(row_items(node), source_reach, 0, state = state)
  if (any(is.finite(reaches) & reaches > 1e150)) {
    refuse_in_sql("extreme", formula_text(node), state$engine)
  }
}

# A product that is out of the range of numbers is undefined.
guarded_product <- function(parts, state) {
  parts <- lapply(parts, hold_term, called = "factor", state = state)
  a <- within_sql(parts[[1]], 8)
  b <- within_sql(parts[[2]], 8)
  largest <- state$engine$number(1.797e308)
  fits <- paste0("ABS(", a, ") <= 1 OR ABS(", b, ") <= ", largest, " / ABS(", a, ")")
  new_term(case_sql(fits, paste(a, "*", b)), "number", top_level(parts))
}

divide_in_sql <- function(node, state) {
  parts <- number_terms(as.list(node)[-1], state)
  top <- as_real_in_sql(parts[[1]], parts[[2]], state)
  below <- without_zero_in_sql(parts[[2]], node[[3]], state)
  constant <- is.numeric(node[[3]])
  refuse_extreme(node, state)
  term <- new_term(paste(within_sql(top, 7), "/", within_sql(below, 8)), "number",
    top_level(list(top, below)), 7, if (constant) top$null)
  without_nan(term, state)
}

# Whole literals divided by one another would give a whole number.
as_real_in_sql <- function(top, below, state) {
  if (top$level > 0 || below$level > 0) return(top)
  new_term(cast_sql(top$sql, state$engine$real), "number", 0, null = top$null)
}

without_zero_in_sql <- function(term, node, state) {
  if (is.numeric(node) && node != 0) return(term)
  held <- hold_term(term, "divisor", state)
  new_term(case_sql(paste(held$sql, "<> 0"), held$sql), "number", held$level)
}

# Of whole numbers: what is left, and how often it goes in.
whole_division <- function(word) {
  function(node, state) {
    whole <- vapply(as.list(node)[-1], is_whole_node, NA, state = state)
    if (!all(whole)) refuse_in_sql("fractions_left", formula_text(node), state$engine)
    parts <- number_terms(as.list(node)[-1], state)
    above <- hold_term(parts[[1]], "dividend", state)
    below <- hold_term(without_zero_in_sql(parts[[2]], node[[3]], state), "divisor", state)
    times <- floor_sql(paste0(above$sql, " / ", below$sql), state)
    sql <- if (word == "%/%") times else paste0(above$sql, " - ", times, " * ", below$sql)
    new_term(sql, "number", top_level(list(above, below)), if (word == "%/%") 9 else 6)
  }
}

# x^2 is x * x, as R works it out.
power_in_sql <- function(node, state) {
  parts <- number_terms(as.list(node)[-1], state)
  base <- hold_term(parts[[1]], "base", state)
  if (identical(node[[3]], 2) && !may_overflow(call("*", node[[2]], node[[2]]), state)) {
    return(new_term(paste(base$sql, "*", base$sql), "number", base$level, 7, base$null))
  }
  exponent <- hold_term(parts[[2]], "exponent", state)
  new_term(power_case(base$sql, exponent$sql, state), "number", top_level(list(base, exponent)))
}

# Anything to the power of 0, and 1 to any power, is 1; what runs out of the range of numbers is
# undefined, and what is too small for them is 0.
power_case <- function(a, b, state) {
  number <- state$engine$number
  size <- paste0(b, " * ", fill_sql(state$engine$ln, paste0("ABS(", a, ")")))
  bare <- gsub("^-|[0-9.e]", "", b) == ""
  exponent <- if (bare && startsWith(b, "-")) paste0("(", b, ")") else b
  tests <- c(paste0(a, " IS NULL OR ", b, " IS NULL"), paste0(b, " = 0 OR ", a, " = 1"),
    paste0(a, " = 0"), paste0(a, " < 0 AND ", b, " <> ", floor_sql(b, state)),
    paste0(sub("^-", "(-", size), if (startsWith(size, "-")) ")", " > ", number(709.78)),
    paste0(size, " < ", number(-745.13)))
  values <- c("NULL", "1", case_sql(paste(b, "> 0"), "0"), "NULL", "NULL", "0")
  cast_sql(case_sql(tests, values, fill_sql(state$engine$power, a, exponent)), state$engine$real)
}

exponential_in_sql <- function(node, state) {
  part <- hold_term(number_of(sql_term(node[[2]], state), state), "exponent", state)
  x <- part$sql
  number <- state$engine$number
  new_term(case_sql(c(paste(x, ">", number(709.782712893384)),
    paste(x, "<", number(-745.1332191019411))), c("NULL", "0"), paste0("EXP(", x, ")")), "number",
  part$level)
}

# A function that is defined for some values, asked of these alone.
domain_in_sql <- function(word, template) {
  function(node, state) {
    part <- number_of(sql_term(node[[2]], state), state)
    domain <- formula_words[[word]]$domain
    held <- hold_term(part, "inner", state)
    inside <- case_sql(paste(held$sql, paste(domain, collapse = " ")), held$sql)
    sql <- if (is.null(template)) log1p_sql(inside, held$sql, state) else
      fill_sql(state$engine[[template]] %||% template, inside)
    new_term(sql, "number", held$level)
  }
}

# Exact for small x (Higham 2002, Accuracy and stability of numerical algorithms, 1.14.1).
log1p_sql <- function(inside, x, state) {
  ln <- fill_sql(state$engine$ln, paste0("(1 + ", x, ")"))
  case_sql(c(paste0(x, " <= -1"), paste0("1 + ", x, " = 1")), c("NULL", x),
    paste0(ln, " * ", x, " / ((1 + ", x, ") - 1)"))
}

one_number <- function(template) {
  function(node, state) {
    part <- number_of(sql_term(node[[2]], state), state)
    new_term(fill_sql(template, part$sql), "number", part$level, null = part$null)
  }
}

# The value stands in it several times.
of_held_number <- function(called, make) {
  function(node, state) {
    held <- hold_term(number_of(sql_term(node[[2]], state), state), called, state)
    new_term(make(held$sql, state), "number", held$level)
  }
}

floor_sql <- function(x, state) fill_sql(state$engine$floor, x)

# Beyond 2^52 all numbers are whole, and some engines would stop there.
whole_in_sql <- function(word) {
  of_held_number("number", function(x, state) {
    ceiling <- fill_sql(state$engine$ceiling, x)
    whole <- switch(word, floor = floor_sql(x, state), ceiling = ceiling,
      trunc = case_sql(paste(x, "< 0"), ceiling, floor_sql(x, state)))
    if (!state$large) whole else case_sql(paste0("ABS(", x, ") < 4503599627370496"), whole, x)
  })
}

# To the nearest whole number, and of two that are as near to the even one: beyond 2^52 numbers are
# whole anyway.
nearest_sql <- function(x, state) {
  shift <- "6755399441055744e0"
  if (identical(state$engine$name, "postgresql")) shift <- "CAST(6755399441055744 AS float8)"
  case_sql(paste0("ABS(", x, ") < 2251799813685248"), paste0("(", x, " + ", shift, ") - ", shift),
    x)
}

# With digits the nearer of the two candidates, as R 4.0 and later have it.
rounded_in_sql <- function(node, state) {
  held <- hold_term(number_of(sql_term(node[[2]], state), state), "number", state)
  digits <- c(row_items(node), 0)[[2]]
  if (!is.numeric(digits)) fail("sql-digits", part = formula_text(node))
  rounded_term(held, trunc(digits), state, as.list(node)$half)
}

# See half_up().
half_up_term <- function(held, digits, state) {
  ten <- number_sql(10^abs(digits), state$engine)
  signs <- if (digits > 0) c(" * ", " / ") else if (digits < 0) c(" / ", " * ")
  scaled <- function(x, i) if (digits == 0) x else paste0(x, signs[i], ten)
  size <- hold_term(new_term(scaled(paste0("ABS(", held$sql, ")"), 1), "number", held$level),
    "size", state)
  low <- hold_term(new_term(floor_sql(size$sql, state), "number", size$level), "lower", state)
  far <- paste0(size$sql, " - ", low$sql, " >= ", number_sql(0.5 - half_guard, state$engine))
  up <- hold_term(new_term(case_sql(far, paste(low$sql, "+ 1"), low$sql), "number", low$level),
    "rounded", state)
  out <- scaled(up$sql, 2)
  new_term(case_sql(paste(held$sql, "< 0"), paste0("-(", out, ")"), out), "number", up$level)
}

rounded_term <- function(held, digits, state, half = NULL) {
  if (identical(half, "up")) return(half_up_term(held, digits, state))
  if (digits == 0) return(new_term(nearest_sql(held$sql, state), "number", held$level))
  ten <- number_sql(10^abs(digits), state$engine)
  signs <- if (digits > 0) c("*", "/") else c("/", "*")
  size <- hold_term(new_term(paste0("ABS(", held$sql, ")"), "number", held$level), "size", state)
  low <- hold_term(new_term(floor_sql(paste0(size$sql, " ", signs[1], " ", ten), state), "number",
    size$level), "lower", state)
  below <- paste0(low$sql, " ", signs[2], " ", ten)
  up <- fill_sql(state$engine$ceiling, paste0(size$sql, " ", signs[1], " ", ten))
  up <- hold_term(new_term(up, "number", size$level), "upper", state)
  above <- paste0(up$sql, " ", signs[2], " ", ten)
  nearer <- nearer_case(size$sql, low$sql, below, above, digits, state)
  nearer <- hold_term(new_term(nearer, "number", low$level), "rounded", state)
  new_term(case_sql(paste(held$sql, "< 0"), paste0("-", nearer$sql), nearer$sql), "number",
    nearer$level)
}

# Numbers of no more than fifteen figures stay as they are.
nearer_case <- function(x, low, below, above, digits, state) {
  enough <- state$engine$number(10^(15 - digits))
  even <- paste0(floor_sql(paste0(low, " / 2"), state), " * 2 = ", low)
  case_sql(c(paste(x, ">=", enough), paste0(x, " - ", below, " < ", above, " - ", x),
    paste0(x, " - ", below, " > ", above, " - ", x), even), c(x, below, above, below), above)
}

# Comparisons: of two texts or two dates as such, of all else as numbers.
compare_in_sql <- function(word) {
  sign <- c("==" = "=", "!=" = "<>")[word] %|% word
  function(node, state) {
    parts <- lapply(as.list(node)[-1], sql_term, state = state)
    types <- vapply(parts, `[[`, "", "type")
    texts <- all(types %in% c("text", "any")) && word %in% c("==", "!=")
    if (!texts) parts <- lapply(parts, number_of, state = state)
    sides <- vapply(parts, within_sql, "", level = 6)
    null <- any_null(parts)
    new_term(paste(sides[1], sign, sides[2]), "truth", top_level(parts), 5, null, implies = null,
      denies = null)
  }
}

number_words_in_sql <- c(
  list(
    "+" = chain_in_sql("+"), "-" = chain_in_sql("-"), "*" = times_in_sql, "/" = divide_in_sql,
    "%%" = whole_division("%%"), "%/%" = whole_division("%/%"), "^" = power_in_sql,
    abs = one_number("ABS(%s)"), floor = whole_in_sql("floor"), ceiling = whole_in_sql("ceiling"),
    trunc = whole_in_sql("trunc"),
    sign = of_held_number("number", function(x, state) {
      cast_sql(case_sql(c(paste(x, "> 0"), paste(x, "< 0"), paste(x, "= 0")), c("1", "-1", "0")),
        state$engine$real)
    }),
    round = rounded_in_sql, exp = exponential_in_sql, sqrt = domain_in_sql("sqrt", "SQRT(%s)"),
    log = domain_in_sql("log", "ln"), log10 = domain_in_sql("log10", "log10"),
    log2 = domain_in_sql("log2", "log2"), log1p = domain_in_sql("log1p", NULL)
  ),
  lapply(self_named(c("==", "!=", "<", ">", "<=", ">=")), compare_in_sql)
)
