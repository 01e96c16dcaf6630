# The engines that can be tried here: SQLite where its package is, and those that
# tools/engines/run.R has started, see `make test-engines`.
engines_here <- local({
  open <- NULL
  function() {
    if (is.null(open)) open <<- Filter(Negate(is.null), lapply(engine_doors, function(door) door()))
    open
  }
})

engine_doors <- list(
  sqlite = function() {
    if (requireNamespace("RSQLite", quietly = TRUE)) {
      DBI::dbConnect(RSQLite::SQLite(), ":memory:")
    }
  },
  duckdb = function() {
    library <- Sys.getenv("ABLETURN_DUCKDB")
    if (nzchar(library)) {
      driver <- adbcdrivermanager::adbc_driver(library, "duckdb_adbc_init")
      DBI::dbConnect(adbi::adbi(driver))
    }
  },
  postgresql = function() {
    port <- Sys.getenv("ABLETURN_POSTGRES")
    if (nzchar(port)) {
      suppressWarnings(DBI::dbConnect(RPostgres::Postgres(), host = "127.0.0.1", port = port,
        user = "able", dbname = "postgres", bigint = "numeric"))
    }
  }
)

# The originals of a book as a table, with the number of each row.
table_on <- function(engine, book, name = "survey") {
  connection <- engines_here()[[engine]]
  columns <- c(core("stored_columns")(book, engine), list(row_number = seq_len(nrow(book))))
  data <- structure(columns, class = "data.frame", row.names = seq_len(nrow(book)))
  quoted <- core("sql_name")(name)
  if (DBI::dbExistsTable(connection, name)) DBI::dbExecute(connection, paste("DROP TABLE", quoted))
  # of this connection alone: another process may use the same name
  more <- if (engine == "postgresql") list(temporary = TRUE)
  do.call(DBI::dbWriteTable, c(list(connection, name, data), more))
  connection
}

# The derived columns of a book by its script, run on one engine on its originals.
run_sql_script <- function(engine, book, name = "survey") {
  connection <- table_on(engine, book, name)
  state <- core("new_sql_state")(book, core("engines")[[engine]])
  state$taken <- c(state$taken, "row_number")
  lines <- core("query_lines")(state, core("sql_name")(name),
    c("row_number", core("derived_names")(book)))
  if (engine == "postgresql") DBI::dbExecute(connection, "SET jit = off")
  DBI::dbGetQuery(connection, paste(c(lines, "ORDER BY s.row_number"), collapse = "\n"))
}

# Every engine here gives the columns of a book, or refuses in words, which counts as `refused`.
same_on_engines <- function(book, info = NULL, refused = FALSE) {
  for (engine in names(engines_here())) {
    given <- tryCatch(run_sql_script(engine, book), ableturn_error_sql_refused = identity)
    if (inherits(given, "error")) {
      expect_true(refused, info = paste(info, engine, conditionMessage(given)))
      next
    }
    for (name in core("derived_names")(book)) {
      off <- core("rows_that_differ")(core("column_in")(book, name)$x, given[[name]])
      expect_equal(length(off), 0, info = paste(info, engine, name, "in row", off[1]))
    }
  }
}
