# Variables as columns of a script: originals with their valid answers alone, and derived ones.

# The valid answers of an original, a column of the first stage; who was not asked has none.
original_term <- function(variable, state) {
  term <- raw_valid(variable, state)
  asked <- asked_node(variable$meaning)
  if (is.null(asked)) return(term)
  test <- within_scope(variable, state, truth_of(sql_term(rewrite_kinds(asked, function(name) {
    variable$asked[[name]]
  }), state), state))
  not_asked <- if (identical(test$null, character())) "" else paste0(" OR (", test$sql, ") IS NULL")
  sql <- case_sql(paste0(within_sql(test, 3), not_asked), term$sql)
  hold_term(new_term(sql, term$type, top_level(list(term, test))), variable$name, state, "v",
    sql_remark(remark(variable$name, ": those who were asked")))
}

raw_valid <- function(variable, state) {
  meaning <- variable$meaning
  raw <- raw_term(variable, state)
  name <- variable$name
  if (!is.null(meaning$read) && raw$type == "text") return(read_term(raw, variable, state))
  if (needs_numbers(raw, meaning$missing)) raw <- hold_term(raw, name, state)
  gone <- c(if (raw$type == "text") paste0(raw$sql, " = ''"), nan_test(raw, state))
  declared <- missing_tests(raw, meaning$missing, state)
  gone <- c(gone, vapply(declared, `[[`, "", "sql"))
  sql <- if (length(gone)) case_sql(paste0("NOT (", paste(gone, collapse = " OR "), ")"), raw$sql)
  else raw$sql
  hold_term(new_term(sql, raw$type, top_level(c(list(raw), declared))), name, state, "v")
}

nan_test <- function(raw, state) {
  if (state$engine$has_nan && isTRUE(raw$may_be_nan)) paste(raw$sql, "= 'NaN'")
}

# Ranges of codes that are kept as text.
needs_numbers <- function(raw, missing) {
  raw$type == "text" &&
    any(vapply(unlist(unname(missing), recursive = FALSE), function(m) m$type == "range", NA))
}

# An original as it came, as a number (double), a text, a truth value, or the days of a date. It
# stands in the table itself, so that it can be read in the first stage alone.
raw_term <- function(variable, state) {
  engine <- state$engine
  name <- variable$name
  column <- paste0("t.", sql_name(name))
  x <- source_of(variable)
  if (inherits(x, "Date")) {
    return(new_term(cast_sql(fill_sql(engine$to_days, column), engine$real), "date", 0))
  }
  if (inherits(x, "POSIXct") && !site_can(variable$site, "values")) {
    refuse_in_sql("moments", name, engine)
  }
  if (is_text_like(x)) return(raw_text(column, variable, state))
  if (is.logical(x)) {
    return(new_term(if (engine$truth) column else paste(column, "<> 0"), "truth", 0, 5))
  }
  term <- new_term(cast_sql(column, engine$real), "number", 0)
  term$may_be_nan <- is.double(plain_values(x))
  term
}

# Texts in their normal form; where the engine has none, those that are met in another.
raw_text <- function(column, variable, state) {
  engine <- state$engine
  texts <- texts_as_they_came(variable)
  odd <- texts[!is.na(texts)]
  odd <- odd[normal_text(odd) != odd]
  sql <- cast_sql(column, engine$text)
  if (!is.null(texts) && !length(odd)) return(new_term(sql, "text", 0))
  if (is.null(texts) && has_plain_texts(variable$site, variable$name)) {
    return(new_term(sql, "text", 0))
  }
  if (!is.null(engine$composed)) return(new_term(fill_sql(engine$composed, sql), "text", 0))
  if (is.null(texts) || length(odd) > 1000) refuse_in_sql("many_texts", variable$name,
    engine)
  new_term(case_sql(paste(sql, "=", sql_text(odd, engine)), sql_text(normal_text(odd), engine),
    sql), "text", 0)
}

# Whether all texts of a column of a table are of plain letters and signs, found once; FALSE where
# the engine does not tell.
has_plain_texts <- function(site, name) {
  if (is.null(site$engine$odd_text)) return(FALSE)
  if (is.null(site$replies[[name]])) {
    odd <- fill_sql(site$engine$odd_text, paste0("t.", sql_name(name)))
    found <- fetch(site$connection, paste("SELECT COUNT(*) AS n FROM", site$table, "AS t WHERE",
      odd))
    assign(name, found$n == 0, site$replies)
  }
  site$replies[[name]]
}

# The distinct texts of an original; NULL where there are too many to ask for.
texts_as_they_came <- function(variable) {
  if (!site_can(variable$site, "values")) return(index_of(variable)$values)
  x <- source_of(variable)
  if (is.factor(x)) levels(x) else unique(plain_values(x))
}

# Conditions for declared missing codes, on a column as it came.
missing_tests <- function(raw, missing, state) {
  matchers <- unlist(unname(missing), recursive = FALSE)
  unname(lapply(matchers, matcher_term, raw = raw, state = state))
}

matcher_term <- function(m, raw, state) {
  if (m$type != "values") return(range_term(m, raw, state))
  fitted <- function(column) as.double(fit_type(m$values, column))
  values <- switch(raw$type, text = show_value(m$values),
    date = fitted(days_in_texts(character())), fitted(numeric()))
  values <- values[!is.na(values)]
  if (!length(values)) return(new_term("1 = 0", "truth", 0, 5))
  list <- literal_sql(values, state$engine)
  x <- if (raw$type == "truth") number_of_truth(raw, state)$sql else raw$sql
  sql <- if (length(list) == 1) paste(x, "=", list) else paste0(x, " IN (", folded_list(list), ")")
  new_term(sql, "truth", raw$level, 5)
}

range_term <- function(m, raw, state) {
  number <- switch(raw$type, text = number_of_text(raw, state),
    truth = number_of_truth(raw, state), raw)
  x <- number$sql
  ends <- c(
    if (is.finite(m$low)) paste(x, if (m$low_in) ">=" else ">", number_sql(m$low, state$engine)),
    if (is.finite(m$high)) paste(x, if (m$high_in) "<=" else "<", number_sql(m$high, state$engine))
  )
  if (!length(ends)) ends <- paste(x, "IS NOT NULL")
  sql <- paste0(if (raw$type == "text") paste(x, "IS NOT NULL AND "),
    paste(ends, collapse = " AND "))
  new_term(paste0("(", sql, ")"), "truth", number$level)
}

# Rows that are missing in an original for one reason; those who were not asked have no other.
kind_term <- function(name, kind, state) {
  variable <- state$variable(name)
  if (is_made(variable)) {
    return(within_scope(variable, state, truth_of(sql_term(kind_condition(variable, kind), state),
      state)))
  }
  meaning <- variable$meaning
  raw <- raw_term(variable, state)
  if (!is.null(meaning$read) && raw$type == "text") {
    return(read_kind(raw, variable, kind, state))
  }
  if (needs_numbers(raw, meaning$missing[kind])) raw <- hold_term(raw, name, state)
  if (kind == "blank") {
    test <- c(paste(raw$sql, "IS NULL"), if (raw$type == "text") paste0(raw$sql, " = ''"),
      nan_test(raw, state))
    return(flag_of(test, raw$level, paste(name, kind), state))
  }
  tests <- missing_tests(raw, meaning$missing[kind], state)
  flag_of(vapply(tests, `[[`, "", "sql"), top_level(c(list(raw), tests)), paste(name, kind), state)
}

# Whether one of some conditions on a column as it came holds, itself a column.
flag_of <- function(tests, level, called, state) {
  if (!length(tests)) return(constant_term(FALSE, state))
  sql <- case_sql(paste(tests, collapse = " OR "), "1", "0")
  held <- hold_term(new_term(sql, "number", level), called, state, "m")
  new_term(paste(held$sql, "= 1"), "truth", held$level, 5, character())
}

# A made variable: its formula, in a column of its own under what it means in words.
derived_term <- function(variable, state) {
  within_scope(variable, state, {
    term <- sql_term(variable$expr, state)
    type <- result_type_in_sql(variable$x)
    term <- as_type_in_sql(term, type, state)
    if (type == "number" && endless_result(variable$expr, state)) {
      term <- finite_sql(hold_term(term, variable$name, state), state)
    }
    column_of_result(term, variable, state)
  })
}

# Why a variable is missing, as the place of its reason.
reason_term <- function(name, state) {
  variable <- column_of(state$variable(name))
  within_scope(variable, state, number_of(sql_term(reason_formula(variable), state), state))
}

result_type_in_sql <- function(x) {
  if (is.character(x)) "text" else if (inherits(x, "Date")) "date" else "number"
}

endless_result <- function(expr, state) {
  state$infinite || uses(expr, c("+", "-", "*", "/", "row_sum", "row_mean", "group")) &&
    may_overflow(expr, state)
}

column_of_result <- function(term, variable, state) {
  alias <- sql_alias("d", variable$name, state)
  remarks <- sql_remark(meaning_remarks(variable))
  stage <- term$level + 1
  add_column_to(stage, alias, term$sql, remarks, state)
  new_term(alias, term$type, stage, null = alias)
}
