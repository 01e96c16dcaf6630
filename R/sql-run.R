# SQL as a dialect of the record, and how it is run.

#' @include script-dialect.R script-base.R script-own.R sql-engine.R
NULL

script_dialect("sql", "SQL",
  paste("gives one statement of SQL that makes a table of the originals and the derived variables,",
    "for the engine that is named: \"sqlite\", \"duckdb\" or \"postgresql\"; what one of them",
    "cannot do is listed in [sql_engines()]."),
  lines = function(book, engine) sql_lines(book, engine),
  run = function(...) run_in_sqlite(...),
  ready = function() all(vapply(c("DBI", "RSQLite"), requireNamespace, NA, quietly = TRUE)),
  by_engine = TRUE, ending = "sql"
)

# Runs a script for a proof: in SQLite, in a fresh process which knows nothing of this package. The
# data become a table there whose rows are numbered; the script runs on it, and its derived
# columns are brought back in the order of the rows. See start_dialect() for what is given.
run_in_sqlite <- function(book, lines, folder, data, seconds) {
  row <- free_column("row_number", names(book))
  lines <- sql_lines(book, "sqlite", row)
  refuse_foreign_sql(lines)
  at <- function(file) file.path(folder, file)
  saveRDS(c(stored_columns(book, "sqlite"), setNames(list(seq_len(row_count(book))), row)),
    at("data.rds"), compress = FALSE)
  write_bytes(lines, at("script.sql"))
  name <- info_of(book)$name
  names <- sql_name(derived_names(book))
  query <- paste("SELECT", paste0("d.", names, " AS ", names, collapse = ", "), "FROM",
    sql_name(paste0(name, "_derived")), "AS d ORDER BY", paste0("d.", sql_name(row)))
  write_bytes(c(
    "columns <- readRDS('data.rds')",
    "rows <- .set_row_names(length(columns[[1]]))",
    "data <- structure(columns, class = 'data.frame', row.names = rows)",
    "connection <- DBI::dbConnect(RSQLite::SQLite(), ':memory:')",
    paste0("DBI::dbWriteTable(connection, ", code_text(name), ", data)"),
    "script <- paste(readLines('script.sql', encoding = 'UTF-8'), collapse = '\\n')",
    "invisible(DBI::dbExecute(connection, script))",
    paste0("given <- DBI::dbGetQuery(connection, ", code_text(query), ")"),
    "saveRDS(unclass(given), 'given.rds', compress = FALSE)"
  ), at("run.R"))
  wait_for_r(folder, seconds)
}

# A name that no column has, whatever its case.
free_column <- function(name, taken) {
  tries <- c(name, paste0(name, "_", seq_along(taken)))
  tries[!tries %in% tolower(taken)][1]
}

# The originals as plain columns of the types that an engine stores; those whose meaning says how
# their texts are read, as the texts.
stored_columns <- function(book, engine) {
  lapply(self_named(original_names(book)), function(name) {
    stored_column(source_of(variable_in(book, name)), engine)
  })
}

# Of a book on a table the script runs where that is.
#' @export
rows_by_script.ableturn_table_site <- function(site, book, names, id, ids) {
  chosen <- paste0("WHERE s.", sql_name(id), " IN (", listed_sql(literal_sql(ids, site$engine)),
    ")")
  query <- function(table) {
    state <- sql_state_of_book(book, site$engine, apart = TRUE)
    paste(c(query_lines(state, table, c(id, names)), chosen), collapse = "\n")
  }
  if (is.null(site$shards)) return(fetch(site$connection, query(site$table)))
  types <- output_types(c(id, names), book, site)
  ask_shards(site, query, setNames(types, sql_name(c(id, names))),
    function(from) paste("SELECT * FROM", from))
}

#' @export
ids_at.ableturn_table_site <- function(site, id, most) {
  question <- new_plain_question(site, id)
  step <- number_sql(ceiling(site$rows / most), site$engine)
  placed <- c(paste("SELECT", question$columns, "AS ask_1,", row_number_sql(NULL, question$columns),
    "AS place"), question$from)
  spaced <- c("SELECT s.ask_1 FROM (", placed, ") AS s WHERE", paste(fill_sql(site$engine$modulo,
    "s.place", step), "= 1 % ", step))
  asked_values(fetch_asked(question, spaced, c(ask_1 = question$types)), question)[[1]]
}
