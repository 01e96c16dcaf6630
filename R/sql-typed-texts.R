# Texts that are typed in a way of their own, as terms of SQL: each that is met with what is read.
read_term <- function(raw, variable, state) {
  met <- read_texts_met(variable, state)
  column <- column_of(variable)
  name <- variable$name
  type <- if (inherits(column$x, "Date")) "date" else if (is.character(column$x)) "text" else
    "number"
  read <- read_column(met, without_fields(variable$meaning, "asked_if"))$x
  held <- hold_term(raw, name, state)
  term <- table_of_texts(held, met, if (type == "text") read else as.double(read),
    if (type == "text") "text" else "number", state)
  hold_term(replace_type(term, type), name, state, "v")
}

read_texts_met <- function(variable, state) {
  texts <- texts_as_they_came(variable)
  if (is.null(texts)) refuse_in_sql("many_texts", variable$name, state$engine)
  texts <- as.character(texts)
  met <- sort_points(unique(normal_text(texts[!is.na(texts)])))
  if (length(met) > 1000) refuse_in_sql("many_texts", variable$name, state$engine)
  met
}

# The rows that are missing for a reason, by the texts that stand in them.
read_kind <- function(raw, variable, kind, state) {
  met <- read_texts_met(variable, state)
  column <- read_column(met, without_fields(variable$meaning, "asked_if"))
  here <- met[is_kind(column, kind)]
  name <- variable$name
  held <- hold_term(raw, name, state)
  test <- c(if (kind == "blank") paste(held$sql, "IS NULL"),
    if (length(here)) paste0(held$sql, " IN (", folded_list(sql_text(here, state$engine)), ")"))
  flag_of(test, held$level, paste(name, kind), state)
}
