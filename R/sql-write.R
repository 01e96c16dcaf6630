# A book's columns as a table, or a view, of a database.

# `names`: the columns, by the names they get. The table appears whole or not at all: it is made
# under another name and takes its own in the same transaction.
write_to_database <- function(book, connection, names, table, view = FALSE, overwrite = FALSE) {
  check_flag(view, "view")
  engine <- engine_at(connection)
  check_target_table(connection, table, overwrite)
  inside <- is_on_site(book) && identical(info_of(book)$site$connection, connection)
  if (view && !inside) fail("view-elsewhere")
  half <- c(table[-length(table)], paste0("able_half_", Sys.getpid(), "_", length(names)))
  in_transaction(connection, {
    if (overwrite) drop_table(connection, table)
    if (view) {
      make_from_query(connection, "VIEW", table, book, names, engine)
    } else {
      if (inside) make_from_query(connection, "TABLE", half, book, names, engine)
      else copy_columns(connection, half, book, names, engine)
      DBI::dbExecute(connection, paste("ALTER TABLE", table_sql(half), "RENAME TO",
        sql_name(table[length(table)])))
    }
  })
  invisible(table)
}

check_target_table <- function(connection, table, overwrite) {
  named <- is.character(table) && length(table) %in% 1:2 && !anyNA(table) && all(nzchar(table))
  if (!named) fail("target-needed")
  check_flag(overwrite, "overwrite")
  if (!overwrite && has_table(connection, table)) {
    fail("table-exists", table = paste(table, collapse = "."))
  }
}

has_table <- function(connection, table) {
  id <- if (length(table) == 1) table else DBI::Id(schema = table[1], table = table[2])
  DBI::dbExistsTable(connection, id)
}

drop_table <- function(connection, table) {
  if (!has_table(connection, table)) return()
  for (kind in c("VIEW", "TABLE")) {
    gone <- tryCatch({
      DBI::dbExecute(connection, paste("DROP", kind, "IF EXISTS", table_sql(table)))
      TRUE
    }, error = function(e) FALSE)
  }
  gone
}

make_from_query <- function(connection, kind, table, book, names, engine) {
  state <- new_sql_state(book, engine)
  lines <- query_lines(state, info_of(book)$site$table, names)
  DBI::dbExecute(connection, paste(c(paste("CREATE", kind, table_sql(table), "AS"), lines),
    collapse = "\n"))
}

copy_columns <- function(connection, table, book, names, engine) {
  near <- if (is_on_site(book)) local_book(book, unname(names)) else book
  columns <- lapply(names, function(name) {
    x <- if (is_derived(near, name)) column_in(near, name)$x else original_source(near, name)
    stored_column(x, engine$name)
  })
  data <- structure(columns, class = "data.frame", row.names = .set_row_names(row_count(near)))
  DBI::dbWriteTable(connection, if (length(table) == 1) table else DBI::Id(schema = table[1],
    table = table[2]), data)
}

# What some code does in a database, done as a whole or not at all.
in_transaction <- function(connection, code) {
  DBI::dbExecute(connection, "BEGIN TRANSACTION")
  done <- FALSE
  on.exit(DBI::dbExecute(connection, if (done) "COMMIT" else "ROLLBACK"))
  force(code)
  done <- TRUE
}
