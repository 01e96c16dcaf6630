#' @include script-dialect.R script-base.R script-own.R sql-engine.R
NULL

# The script: remarks, and a statement that makes a table beside that of the data. `also` names a
# further column of the table that is handed on.
sql_lines <- function(book, engine = NULL, also = NULL) {
  engine <- engine_of(engine %||% info_of(book)$site$engine$name)
  state <- sql_state_of_book(book, engine)
  state$taken <- c(state$taken, also)
  table <- info_of(book)$name
  place <- info_of(book)$site$place %||% c(engine$schema, table)
  query <- query_lines(state, table_sql(place), c(also, names(book)))
  place[length(place)] <- paste0(table, "_derived")
  c(
    sql_heading(book, engine, table), if (!is.null(engine$start)) c(engine$start, ""),
    paste0("CREATE TABLE ", table_sql(place), " AS"), query[-length(query)],
    paste0(query[length(query)], ";")
  )
}

engine_of <- function(name) engines[[check_choice(name %||% "sqlite", "engine", engine_names())]]

sql_heading <- function(book, engine, table) {
  info <- info_of(book)
  came <- if (!is.null(info$site)) paste("the table", info$name) else
    if (is.null(info$file)) "a data frame" else basename(info$reading$file %||% info$file)
  sql_remark(c(
    remark(counted_text(length(derived_names(book)), "variable"), " derived from ", came, " (",
      info$rows, " rows), in SQL for ", engine$title, "."),
    remark("The data stand in the table ", table, if (length(engine$schema)) paste(" of the schema",
      info_of(book)$site$place[1] %||% engine$schema), ", which is not changed: whole numbers and",
      " others as numbers, dates as dates", if (engine$name == "sqlite") " (2031-03-01)",
      ", truth values as ", if (engine$truth) "such" else "0 and 1", ", all else as text."),
    remark("Stage by stage: v_ are valid answers, h_ what is worked out on the way, d_ the derived",
      " variables.")
  ))
}

# A query for columns of a table and derived variables, `names`, under the names that these have.
query_lines <- plainly(function(state, from, names) {
  names <- if (is.null(base::names(names))) self_named(names) else names
  refuse_names(base::names(names), state$engine)
  state$stage_name <- stage_name_beside(list(table = from))
  derived <- Filter(function(name) is_made(state$variable(name)), names)
  terms <- lapply(self_named(unname(derived)), named_term, state = state)
  refuse_columns(state)
  if (!length(state$stages)) state$stages <- list(list())
  outputs <- paste0("  ", Map(function(as, name) {
    sql <- if (name %in% base::names(terms)) output_sql(name, terms[[name]], state) else
      paste0("s.", sql_name(name))
    if (identical(sql, paste0("s.", sql_name(as)))) sql else paste(sql, "AS", sql_name(as))
  }, base::names(names), names))
  c(stage_lines(state, from), "SELECT",
    paste0(outputs, c(rep(",", length(outputs) - 1), "")),
    paste0("FROM ", state$stage_name, length(state$stages), " AS s"))
})

refuse_names <- function(names, engine) {
  odd <- names[has_control(names)]
  if (length(odd)) refuse_in_sql("odd_name", quote_text(odd[1]), engine)
  long <- names[nchar(enc2utf8(names), "bytes") > engine$longest_name]
  if (length(long)) refuse_in_sql("long_name", long[1], engine)
  truth <- names[lower_ascii(names) %in% engine$lost_names]
  if (length(truth)) refuse_in_sql("truth_name", truth[1], engine)
  alike <- names[duplicated(lower_ascii(names))]
  if (engine$same_letters && length(alike)) refuse_in_sql("alike_names", alike[1], engine)
}

# A derived variable as it is given in the end: whole codes as whole numbers, dates as dates.
output_sql <- function(name, term, state) {
  engine <- state$engine
  column <- paste0("s.", term$sql)
  if (term$type == "date") return(fill_sql(engine$from_days, column))
  whole <- is.integer(state$variable(name)$x)
  if (whole && term$type == "number") cast_sql(column, engine$whole) else column
}

# How one variable is made, from columns that stand before it in the script.
variable_lines_sql <- function(book, name) {
  state <- sql_state_of_book(book, info_of(book)$site$engine)
  term <- named_term(name, state)
  column <- state$stages[[term$level]][[term$sql]]
  c(column$remarks, paste(column$sql, "AS", term$sql))
}

# The types of columns of the result, as SQL, where the table says those of its own.
output_types <- function(names, book, site) {
  engine <- site$engine
  vapply(unname(names), function(name) {
    if (!is_derived(book, name)) return(type_at_site(site, name))
    x <- derived_in(book, name)$x
    switch(result_type_in_sql(x), text = engine$text, date = "DATE",
      if (is.integer(x)) engine$whole else engine$real)
  }, "")
}
