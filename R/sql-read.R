# Texts that are typed in a way of their own, as terms of SQL: each that is met with what is read.
read_term <- function(raw, name, meaning, state) {
  met <- read_texts_met(name, state)
  column <- column_in(state$book, name)
  type <- if (inherits(column$x, "Date")) "date" else if (is.character(column$x)) "text" else
    "number"
  read <- read_column(met, without_fields(meaning, "asked_if"))$x
  held <- hold_term(raw, name, state)
  term <- table_of_texts(held, met, if (type == "text") read else as.double(read),
    if (type == "text") "text" else "number", state)
  hold_term(replace_type(term, type), name, state, "v")
}

read_texts_met <- function(name, state) {
  texts <- texts_as_they_came(name, state$book)
  if (is.null(texts)) refuse_in_sql("many_texts", name, state$engine)
  texts <- as.character(texts)
  met <- sort_points(unique(normal_text(texts[!is.na(texts)])))
  if (length(met) > 1000) refuse_in_sql("many_texts", name, state$engine)
  met
}

# The rows that are missing for a reason, by the texts that stand in them.
read_kind <- function(raw, name, kind, meaning, state) {
  met <- read_texts_met(name, state)
  column <- read_column(met, without_fields(meaning, "asked_if"))
  here <- met[is_kind(column, kind)]
  held <- hold_term(raw, name, state)
  test <- c(if (kind == "blank") paste(held$sql, "IS NULL"),
    if (length(here)) paste0(held$sql, " IN (", folded_list(sql_text(here, state$engine)), ")"))
  flag_of(test, held$level, paste(name, kind), state)
}
