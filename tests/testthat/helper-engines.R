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
    if (nzchar(port)) door_of_postgresql(port)
  }
)

door_of_postgresql <- function(port) {
  suppressWarnings(DBI::dbConnect(RPostgres::Postgres(), host = "127.0.0.1", port = port,
    user = "able", dbname = "postgres", bigint = "numeric"))
}

# These, and PostgreSQL over several servers: tables lie on three of them, spread by some column.
places_here <- local({
  open <- NULL
  function() {
    if (is.null(open) && nzchar(Sys.getenv("ABLETURN_SHARDS"))) {
      open <<- door_of_postgresql(Sys.getenv("ABLETURN_SHARDS"))
    }
    c(engines_here(), if (!is.null(open)) list(shards = open))
  }
})

# The table `whole` is put on the servers shard_1, shard_2 and shard_3, in tables of one name.
spread_table <- function(connection, table, by) {
  run <- function(...) DBI::dbExecute(connection, paste0(...))
  there <- function(shard, statement) {
    run("SELECT dblink_exec('", shard, "', ", DBI::dbQuoteString(connection, statement), ")")
  }
  types <- DBI::dbGetQuery(connection, paste0("SELECT attname AS name, format_type(atttypid, ",
    "atttypmod) AS type FROM pg_attribute WHERE attrelid = to_regclass('whole') AND attnum > 0"))
  columns <- paste0("(", paste(core("sql_name")(types$name), types$type, collapse = ", "), ")")
  run("DROP TABLE IF EXISTS ", table)
  run("CREATE TABLE ", table, " ", columns, " PARTITION BY HASH (", core("sql_name")(by), ")")
  for (i in 1:3) {
    shard <- paste0("shard_", i)
    run("SELECT dblink_connect('", shard, "', '", shard, "')")
    there(shard, paste("DROP TABLE IF EXISTS", table, "CASCADE"))
    there(shard, paste("CREATE TABLE", table, columns))
    run("CREATE FOREIGN TABLE ", table, "_", i, " PARTITION OF ", table, " FOR VALUES WITH ",
      "(MODULUS 3, REMAINDER ", i - 1, ") SERVER ", shard, " OPTIONS (table_name '", table, "')")
    run("SELECT dblink_disconnect('", shard, "')")
  }
  run("INSERT INTO ", table, " SELECT * FROM whole")
}

# The originals of a book as a table, with the number of each row. SQLite knows `days` by what their
# column is declared to hold.
table_on <- function(engine, book, name = "survey", by = NULL, days = NULL) {
  connection <- places_here()[[engine]]
  kind <- if (engine == "shards") "postgresql" else engine
  columns <- c(core("stored_columns")(book, kind), list(row_number = seq_len(nrow(book))))
  data <- structure(columns, class = "data.frame", row.names = seq_len(nrow(book)))
  quoted <- core("sql_name")(name)
  if (DBI::dbExistsTable(connection, name)) DBI::dbExecute(connection, paste("DROP TABLE", quoted))
  # of this connection alone: another process may use the same name
  more <- switch(kind, postgresql = list(temporary = TRUE),
    sqlite = if (length(days)) list(field.types = setNames(rep("DATE", length(days)), days)))
  do.call(DBI::dbWriteTable, c(list(connection, if (engine == "shards") "whole" else name, data),
    more))
  if (engine == "shards") {
    spread_table(connection, name, by)
    DBI::dbExecute(connection, "DROP TABLE whole")
  }
  connection
}

# The derived columns of a book by its script, run on one engine on its originals.
run_sql_script <- function(engine, book, name = "survey") {
  connection <- table_on(engine, book, name)
  state <- core("sql_state_of_book")(book, core("engines")[[engine]])
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
      off <- core("rows_that_differ")(known_variable(book, name)$x, given[[name]])
      expect_equal(length(off), 0, info = paste(info, engine, name, "in row", off[1]))
    }
  }
}
