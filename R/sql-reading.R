# Questions are put in such a way that the database refuses to write.

# Whether a table is being written or a question is put; what is asked meanwhile belongs to that.
transactions <- new.env(parent = emptyenv())
transactions$under_way <- FALSE

# What some code asks, by the engine's statements around a question. Where somebody has a
# transaction of their own open, it is left as it is.
reading_only <- function(connection, code) {
  if (transactions$under_way || is_transacting(connection)) return(code)
  engine <- engine_at(connection)
  statements <- engine$reading
  if (is.null(statements) || !is_done(connection, statements[1])) return(code)
  if (!is.null(engine$settings)) is_done(connection, engine$settings)
  done <- FALSE
  transactions$under_way <- TRUE
  on.exit({
    transactions$under_way <- FALSE
    is_done(connection, statements[if (done) 2 else 3])
  })
  force(code)
  done <- TRUE
  code
}

is_done <- function(connection, statement) {
  tryCatch({
    DBI::dbExecute(connection, statement)
    TRUE
  }, error = function(e) FALSE)
}

is_transacting <- function(connection) {
  if (inherits(connection, "PqConnection")) {
    told <- "postgresIsTransacting" %in% getNamespaceExports("RPostgres")
    return(told && part_of_driver("RPostgres", "postgresIsTransacting")(connection))
  }
  if (!inherits(connection, "SQLiteConnection")) return(FALSE)
  # who has set it so is left with it
  DBI::dbGetQuery(connection, "PRAGMA query_only")[[1]] == 1
}
