# A book's columns as a table, or a view, of a database.

# `names`: the columns, by the names they get. The table appears whole or not at all: it is made
# under another name and takes its own in the same transaction.
write_to_database <- function(book, connection, names, table, view = FALSE, overwrite = FALSE) {
  check_flag(view, "view")
  engine <- engine_at(connection)
  wait_for_others(connection, engine)
  check_target_table(connection, table, overwrite, book)
  inside <- is_on_site(book) && identical(info_of(book)$site$connection, connection)
  if (view && !inside) fail("view-elsewhere")
  if (inside && !view && !is.null(info_of(book)$site$shards)) {
    write_on_shards(connection, table, book, names, overwrite)
    return(invisible(table))
  }
  gone <- if (overwrite && has_table(connection, table)) drop_sql(connection, table, engine)
  half <- c(table[-length(table)], paste0("able_half_", Sys.getpid(), "_", length(names)))
  in_transaction(connection, {
    # somebody else may have made it meanwhile
    check_table_free(connection, table, overwrite)
    if (!is.null(engine$settings)) in_database(DBI::dbExecute(connection, engine$settings))
    if (!is.null(gone)) in_database(DBI::dbExecute(connection, gone))
    if (view) {
      make_from_query(connection, "VIEW", table, book, names, engine)
    } else {
      if (inside) make_from_query(connection, "TABLE", half, book, names, engine)
      else copy_columns(connection, half, book, names, engine)
      in_database(DBI::dbExecute(connection, paste("ALTER TABLE", table_sql(half), "RENAME TO",
        sql_name(table[length(table)]))))
    }
  })
  invisible(table)
}

check_target_table <- function(connection, table, overwrite, book) {
  if (!names_table(table)) fail("target-needed")
  check_flag(overwrite, "overwrite")
  named <- paste(table, collapse = ".")
  own <- info_of(book)$site$name
  if (!is.null(own) && same_ending(own, table)) fail("table-is-source", table = named)
  check_table_free(connection, table, overwrite)
}

check_table_free <- function(connection, table, overwrite) {
  if (!isTRUE(overwrite) && in_database(has_table(connection, table))) {
    fail("table-exists", table = paste(table, collapse = "."))
  }
}

# Whether two names may be of one table: some engines do not tell capitals from small letters, and a
# schema may be left out.
same_ending <- function(a, b) {
  last <- function(table) lower_ascii(table[length(table)])
  last(a) == last(b) && (length(a) != length(b) || all(lower_ascii(a) == lower_ascii(b)))
}

drop_sql <- function(connection, table, engine) {
  kind <- fetch(connection, fill_sql(engine$kinds, sql_text(table[length(table)], engine)))$kind
  paste("DROP", if (length(kind)) kind[1] else "TABLE", table_sql(table))
}

make_from_query <- function(connection, kind, table, book, names, engine) {
  state <- new_sql_state(book, engine)
  lines <- query_lines(state, info_of(book)$site$table, names)
  statement <- paste(c(paste("CREATE", kind, table_sql(table), "AS"), lines), collapse = "\n")
  in_database(DBI::dbExecute(connection, statement))
}

copy_columns <- function(connection, table, book, names, engine) {
  near <- if (is_on_site(book)) local_book(book, unname(names)) else book
  columns <- lapply(names, function(name) {
    x <- if (is_derived(near, name)) column_in(near, name)$x else original_source(near, name)
    stored_column(x, engine$name)
  })
  data <- structure(columns, class = "data.frame", row.names = .set_row_names(row_count(near)))
  in_database(DBI::dbWriteTable(connection, table_id(table), data))
}

# What some code does in a database, done as a whole or not at all.
in_transaction <- function(connection, code) {
  in_database(DBI::dbExecute(connection, engine_at(connection)$begin))
  done <- FALSE
  assign("under_way", TRUE, transactions)
  on.exit({
    assign("under_way", FALSE, transactions)
    # where the connection is lost, the database has taken everything back itself
    if (!done) is_done(connection, "ROLLBACK")
  })
  force(code)
  in_database(DBI::dbExecute(connection, "COMMIT"))
  done <- TRUE
}
