# A node of a formula as a term of SQL. Every word has its function in one of the tables of the
# files `sql-words-`; a test holds them to the list of words.
sql_term <- function(node, state) {
  if (is.symbol(node)) return(named_term(as.character(node), state))
  if (!is.call(node)) return(constant_term(node, state))
  head <- call_head(node)
  if (is_constant_call(node, head)) return(constant_term(evaluate(node, NULL), state))
  words <- sql_words()
  words[[head]](node, state)
}

# Worked out beforehand: what names no variable.
is_constant_call <- function(node, head) {
  !length(all.vars(node)) && !head %in% c("lookup", "{", "if", "choose", "c")
}

sql_words <- function() {
  c(number_words_in_sql, choice_words_in_sql, text_words_in_sql, date_words_in_sql,
    item_words_in_sql, table_words_in_sql)
}

named_term <- function(name, state) {
  state$temporary[[name]] %||% variable_term(state$variable(name), state)
}

variable_term <- function(variable, state) {
  key <- rlang::obj_address(variable)
  if (is.null(state$made[[key]])) {
    state$made[[key]] <- if (is_made(variable)) derived_term(variable, state) else
      original_term(variable, state)
  }
  state$made[[key]]
}

constant_term <- function(value, state) {
  if (length(value) != 1) fail("sql-several", part = formula_text(value))
  if (is.na(value)) return(new_term("NULL", "any", 0, null = NULL))
  if (is.character(value)) {
    term <- new_term(sql_text(value, state$engine), "text", 0, null = character())
    term$value <- value
    return(term)
  }
  if (is.logical(value)) {
    return(new_term(if (value) "(1 = 1)" else "(1 = 0)", "truth", 0, null = character()))
  }
  number <- number_sql(as.double(value), state$engine)
  new_term(number, if (inherits(value, "Date")) "date" else "number", 0,
    binds = if (value < 0) 6 else 9, null = character())
}

# A term as another type.

number_of <- function(term, state) {
  switch(term$type,
    text = number_of_text(term, state), any = typed_null(state$engine$real),
    truth = number_of_truth(term, state), replace_type(term, "number")
  )
}

replace_type <- function(term, type) {
  term$type <- type
  term
}

typed_null <- function(type) new_term(paste0("CAST(NULL AS ", type, ")"), "number", 0)

number_of_truth <- function(term, state) {
  test <- within_sql(term, 3)
  new_term(cast_sql(case_sql(c(test, paste("NOT", within_sql(term, 4))), c("1", "0")),
    state$engine$real), "number", term$level, null = term$null)
}

truth_of <- function(term, state) {
  if (term$type == "truth") return(term)
  if (term$type == "any") return(new_term("NULL", "truth", 0))
  number <- number_of(term, state)
  new_term(paste(within_sql(number, 6), "<> 0"), "truth", number$level, 5, number$null)
}

# Text as it stands, numbers as number_text() writes them.
text_of <- function(term, state) {
  switch(term$type,
    text = term,
    any = replace_type(typed_null(state$engine$text), "text"),
    truth = new_term(case_sql(c(within_sql(term, 3), paste("NOT", within_sql(term, 4))),
      c("'TRUE'", "'FALSE'")), "text", term$level, null = term$null),
    date = date_as_text(term, state), number_as_text(term, state)
  )
}

number_terms <- function(nodes, state) {
  lapply(nodes, function(node) number_of(sql_term(node, state), state))
}
