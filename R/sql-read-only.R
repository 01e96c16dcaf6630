# Where SQL of ours runs: in a transaction of its own, or, where the analyst has one open, in a part
# of hers, which is left as it was. Before it, each engine is set such that texts, functions and
# operators are those that the translator means.

# The connections on which a table is being written or questions are put; what is asked there
# meanwhile belongs to that.
transactions <- new.env(parent = emptyenv())
transactions$open <- list()

is_under_way <- function(connection) {
  any(vapply(transactions$open, identical, NA, connection))
}

begin_on <- function(connection) transactions$open <- c(transactions$open, list(connection))

end_on <- function(connection) {
  transactions$open <- Filter(function(open) !identical(open, connection), transactions$open)
}

# What some code asks, in such a way that the database refuses to write, and all of it of one state
# of the tables.
reading_only <- function(connection, code) {
  if (is_under_way(connection)) return(code)
  engine <- engine_at(connection)
  leave <- in_database(engine$ask(connection))
  done <- FALSE
  begin_on(connection)
  on.exit({
    end_on(connection)
    leave(done)
  })
  force(code)
  done <- TRUE
  code
}

# What some code does in a database, done as a whole or not at all. Gives whether it is done for
# good: else it is with the COMMIT of the analyst.
in_transaction <- function(connection, code) {
  engine <- engine_at(connection)
  leave <- in_database(engine$write(connection))
  done <- FALSE
  begin_on(connection)
  on.exit({
    end_on(connection)
    if (!done) leave(FALSE)
  })
  force(code)
  for_good <- leave(TRUE)
  done <- TRUE
  for_good
}

run_sql <- function(connection, statement) {
  force(statement) # what cannot be written is told as such
  in_database(DBI::dbExecute(connection, statement))
}

# The functions `ask` and `write` of an engine begin, and give a function that ends what was begun:
# `done` tells whether it went well.

# SQLite: a transaction is begun where none is open, which is tried. Who has set it to read only is
# left with that.
ask_sqlite <- function(connection) {
  open <- DBI::dbGetQuery(connection, "PRAGMA query_only")[[1]] == 0
  if (open) DBI::dbExecute(connection, "PRAGMA query_only = ON")
  began <- is_done(connection, "BEGIN")
  function(done) {
    if (began) is_done(connection, if (done) "COMMIT" else "ROLLBACK")
    if (open) is_done(connection, "PRAGMA query_only = OFF")
  }
}

write_alone <- function(begin) {
  function(connection) {
    tryCatch(DBI::dbExecute(connection, begin), error = function(e) {
      if (grepl("within a transaction", conditionMessage(e))) fail("transaction-open")
      stop(e)
    })
    function(done) {
      # where the connection is lost, the database has taken everything back itself
      if (!done) return(is_done(connection, "ROLLBACK"))
      run_sql(connection, "COMMIT")
      TRUE
    }
  }
}

# DuckDB: where a transaction is open already, the question is put in it. To begin another would end
# hers; the number of a transaction tells whether two questions are in the same one.
ask_duckdb <- function(connection) {
  refuse_foreign_macros(connection)
  if (is_inside_duckdb(connection)) return(function(done) NULL)
  DBI::dbExecute(connection, "BEGIN TRANSACTION READ ONLY")
  function(done) is_done(connection, if (done) "COMMIT" else "ROLLBACK")
}

write_duckdb <- function(connection) {
  if (is_inside_duckdb(connection)) fail("transaction-open")
  write_alone("BEGIN TRANSACTION")(connection)
}

is_inside_duckdb <- function(connection) {
  number <- function() DBI::dbGetQuery(connection, "SELECT system.main.txid_current() AS n")$n
  number() == number()
}

# Macros of others that bear the name of a function of the engine would be called in its place. They
# are asked for without any function that could be one, and compared here.
refuse_foreign_macros <- function(connection) {
  functions <- paste("SELECT database_name AS d, function_name AS name FROM",
    "system.main.duckdb_functions()")
  others <- DBI::dbGetQuery(connection, paste(functions, "WHERE NOT internal"))
  others <- lower_ascii(others$name[!others$d %in% hers])
  if (!length(others)) return(invisible())
  own <- DBI::dbGetQuery(connection, paste(functions, "WHERE internal"))$name
  found <- intersect(others, lower_ascii(own))
  if (length(found)) fail("foreign-macro", name = found)
}

# What must be so in PostgreSQL for our SQL to mean what it says: backslashes are letters, and
# functions and operators are the server's own. Dates and numbers are written in one way; NULL is
# equal to nothing; long questions are not compiled, which takes longer than answering them.
postgresql_settings <- c(standard_conforming_strings = "on", search_path = "pg_catalog, pg_temp",
  DateStyle = "ISO", extra_float_digits = "1", transform_null_equals = "off", jit = "off")

set_local_sql <- function(values) {
  text <- function(x) sql_text(x, list(escapes = TRUE))
  paste("SELECT", listed_sql(paste0("pg_catalog.set_config(", text(names(values)), ", ",
    text(unname(values)), ", true) AS s", seq_along(values))))
}

# All questions until its end are about the same rows.
one_state <- "BEGIN TRANSACTION ISOLATION LEVEL REPEATABLE READ READ ONLY"

# Unless somebody has said how long, who holds the table is waited for a minute.
patience_sql <- paste("pg_catalog.set_config('lock_timeout', CASE",
  "pg_catalog.current_setting('lock_timeout') WHEN '0' THEN '60s' ELSE",
  "pg_catalog.current_setting('lock_timeout') END, true) AS patience")

ask_postgresql <- function(connection) {
  if (!is_inside(connection)) {
    DBI::dbExecute(connection, one_state)
    leave <- function(done) is_done(connection, if (done) "COMMIT" else "ROLLBACK")
    told <- DBI::dbGetQuery(connection, paste0(set_local_sql(postgresql_settings), ", ",
      patience_sql, ", ", session_sql))
    return(in_same_session(connection, told, leave))
  }
  DBI::dbExecute(connection, "SAVEPOINT able_ask")
  DBI::dbGetQuery(connection, set_local_sql(c(postgresql_settings, transaction_read_only = "on")))
  function(done) {
    is_done(connection, "ROLLBACK TO SAVEPOINT able_ask") &&
      is_done(connection, "RELEASE SAVEPOINT able_ask")
  }
}

# In a transaction of hers, what was set is set back as well.
write_postgresql <- function(connection) {
  inside <- is_inside(connection)
  DBI::dbExecute(connection, if (inside) "SAVEPOINT able_write" else "BEGIN TRANSACTION READ WRITE")
  told <- DBI::dbGetQuery(connection, paste0("SELECT ", session_sql, ", ", listed_sql(paste0(
    "pg_catalog.current_setting('", names(postgresql_settings), "') AS s",
    seq_along(postgresql_settings)))))
  before <- setNames(unlist(told[paste0("s", seq_along(postgresql_settings))]),
    names(postgresql_settings))
  leave <- function(done) {
    if (!inside && done) run_sql(connection, "COMMIT")
    if (!inside && !done) is_done(connection, "ROLLBACK")
    if (inside && !done) is_done(connection, "ROLLBACK TO SAVEPOINT able_write")
    if (inside) is_done(connection, "RELEASE SAVEPOINT able_write")
    if (inside && done) DBI::dbGetQuery(connection, set_local_sql(before))
    !inside
  }
  in_same_session(connection, told, leave)
  DBI::dbGetQuery(connection, set_local_sql(postgresql_settings))
  leave
}

# Whether a transaction is open. A value that is set until the end of a transaction is gone in the
# next question, unless both are in one: nothing of this is an error, which would stand in the log
# of the server.
is_inside <- function(connection) {
  word <- paste0("w", random_token())
  DBI::dbGetQuery(connection, set_local_sql(c(able_turn.inside = word)))
  told <- DBI::dbGetQuery(connection, "SELECT pg_catalog.current_setting('able_turn.inside', true)")
  identical(told[[1]], word)
}

random_token <- function() paste(format(openssl::rand_bytes(32)), collapse = "")

word_errors(list(
  "transaction-open" = c("A transaction is open on this connection, and nothing was written.",
    "End it first: DBI::dbCommit(con) or DBI::dbRollback(con)."),
  "foreign-macro" = c(paste("This database has a macro of its own named {name}, as a function is",
    "called that is used here. Nothing was asked."),
    "Drop it or rename it, or open the database by its path: its macros are not ours then.")
))

# What a query gives; whole numbers of 64 bits, which R cannot read itself, as numbers.
fetch <- function(connection, query) {
  found <- reading_only(connection, in_database(DBI::dbGetQuery(connection, query)))
  long <- vapply(found, inherits, NA, what = "integer64")
  found[long] <- lapply(found[long], function(x) numbers_of_bits(unclass(x)))
  found
}
