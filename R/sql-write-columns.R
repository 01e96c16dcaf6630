# What a table is made of that is written into a database: its query, its columns, its place.

query_of <- function(shape, engine) {
  query_lines(sql_state_of_book(shape$book, engine), info_of(shape$book)$site$table, shape$names)
}

columns_to_copy <- function(shape, engine) {
  near <- local_book(shape$book, unname(shape$names))
  columns <- lapply(shape$names, function(name) {
    variable <- variable_in(near, name)
    x <- if (is_made(variable)) variable$x else source_of(variable)
    stored_column(x, engine$name)
  })
  structure(columns, class = "data.frame", row.names = .set_row_names(row_count(near)))
}

create_empty_sql <- function(connection, name, data, temporary = FALSE) {
  types <- vapply(data, function(x) DBI::dbDataType(connection, x), "")
  paste0("CREATE ", if (temporary) "TEMPORARY ", "TABLE ", name, " (",
    listed_sql(paste(sql_name(base::names(data)), types)), ")")
}

check_place_free <- function(connection, place, overwrite) {
  if (!isTRUE(overwrite) && !is.null(in_database(table_at(connection, place)))) {
    fail("table-exists", table = dotted(place))
  }
}
