# A book's columns as a table, or a view, of a database.

# `names`: the columns, by the names they get. The table appears whole or not at all: all is done in
# one transaction, or in a part of one that the analyst has open.
write_to_database <- function(book, connection, names, table, view = FALSE, overwrite = FALSE) {
  check_flag(view, "view")
  if (!names_table(table)) fail("target-needed")
  check_flag(overwrite, "overwrite")
  wait_for_others(connection, engine_at(connection))
  inside <- identical(info_of(book)$site$connection, connection)
  if (view && !inside) fail("view-elsewhere")
  if (inside) in_database(refuse_by_name(connection, table, info_of(book)$site))
  place <- in_database(place_for_table(connection, table, if (view) info_of(book)$site$place))
  check_place_free(connection, place, overwrite)
  for_good <- if (inside && !view && !is.null(info_of(book)$site$shards)) {
    write_on_shards(connection, place, book, names, overwrite)
  } else {
    in_transaction(connection, write_table(connection, place, book, names,
      if (view) "view" else "table", overwrite, inside))
  }
  if (!for_good) show_receipt(new_receipt(list(verb = "written within", table = dotted(table)),
    list(), row_count(book)))
  invisible(table)
}

# Within a transaction. What stands there, if anything, is looked at again: somebody else may have
# made it meanwhile.
write_table <- function(connection, place, book, names, kind, overwrite, inside) {
  check_place_free(connection, place, overwrite)
  shape <- list(book = book, names = names, kind = kind, inside = inside)
  way <- way_over(connection, place, shape)
  for (statement in way$before) run_sql(connection, statement)
  if (!inside) return(copy_columns(connection, place, shape, make = !way$filled))
  start <- if (way$filled) paste("INSERT INTO", table_sql(place)) else
    paste(way$create %||% "CREATE", toupper(kind), table_sql(place), "AS")
  run_sql(connection, paste(c(start, query_of(shape, engine_at(connection))), collapse = "\n"))
  if (kind == "table") check_rows_written(connection, place, info_of(book)$site)
}

# In the same transaction, so that nothing stands there if they are others than at the opening.
check_rows_written <- function(connection, place, site) {
  refuse_changed(site, fetch(connection, paste("SELECT", count_sql(site$engine), "AS n FROM",
    table_sql(place)))$n)
}

# The rows of a book that is elsewhere: a table is made for them, or they go into the one there.
copy_columns <- function(connection, place, shape, make) {
  data <- columns_to_copy(shape, engine_at(connection))
  if (make) run_sql(connection, create_empty_sql(connection, table_sql(place), data))
  in_database(DBI::dbAppendTable(connection, name_for_driver(connection, place), data))
}

# Drivers of DuckDB know no name with a database before it.
name_for_driver <- function(connection, place) {
  if (engine_at(connection)$name != "duckdb") return(DBI::SQL(table_sql(place)))
  if (place[2] == "main") place[3] else DBI::Id(schema = place[2], table = place[3])
}
