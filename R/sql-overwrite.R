# Before a table is replaced: that the data do not come from it, and that nothing is taken away with
# it that the analyst would miss.

# How a table gets to its place: statements to run `before`, whether the table that is there is
# emptied and `filled` again, and how a view is created (`create`), where that is not the usual way.
# `shape` has the book, the names of its columns, the `kind` that is to be made, whether its rows
# are `inside` the same database, and the kinds of what `goes_too`.
way_over <- function(connection, place, shape) {
  engine <- engine_at(connection)
  there <- in_database(table_at(connection, place))
  if (is.null(there)) return(list(filled = FALSE))
  if (!there$kind %in% c("table", "view", if (length(shape$goes_too)) "foreign table")) {
    fail("table-kind", table = dotted(place), kind = there$kind)
  }
  if (there$kind == "table" && !is.null(engine$lock)) {
    run_sql(connection, fill_sql(engine$lock, table_sql(place)))
  }
  refuse_source(connection, place, shape$book)
  hanging <- in_database(engine$hanging(connection, place, there$kind))
  hanging <- hanging[!names(hanging) %in% shape$goes_too]
  if (!length(hanging)) return(list(filled = FALSE, before = drop_sql(place, there$kind)))
  fits <- !"triggers" %in% names(hanging) && there$kind == shape$kind &&
    same_columns(connection, place, shape)
  if (!fits) fail("table-loses", table = dotted(place), what = unname(hanging))
  if (there$kind == "view") return(list(filled = FALSE, create = "CREATE OR REPLACE"))
  list(filled = TRUE, before = fill_sql(engine$empty, table_sql(place)))
}

drop_sql <- function(place, kind) paste("DROP", toupper(kind), table_sql(place))

# Whether what is to be written has the same columns: it is made, empty, for a moment.
same_columns <- function(connection, place, shape) {
  engine <- engine_at(connection)
  if (shape$kind == "view" && engine$name != "postgresql") return(FALSE)
  if (shape$inside) {
    run_sql(connection, paste(c(paste("CREATE TEMPORARY TABLE", table_sql("able_shape"),
      "AS SELECT * FROM ("), query_of(shape, engine), ") AS s LIMIT 0"), collapse = "\n"))
  } else {
    run_sql(connection, create_empty_sql(connection, table_sql("able_shape"),
      columns_to_copy(shape, engine), temporary = TRUE))
  }
  made <- c(engine$temporary, "able_shape")
  new <- columns_at(connection, made)
  run_sql(connection, drop_sql(made, "table"))
  old <- columns_at(connection, place)
  identical(new$name, old$name) && identical(lower_ascii(new$type), lower_ascii(old$type))
}

columns_at <- function(connection, place) {
  engine <- engine_at(connection)
  fetch(connection, engine$columns(place))
}

# The data of a book are never written over: not the table that they come from, nor what that is a
# part of, what is a part of it, or what a view reads.
refuse_source <- function(connection, place, book) {
  site <- info_of(book)$site
  engine <- engine_at(connection)
  if (is.null(site) || site$engine$name != engine$name) return(invisible())
  same <- identical(site$connection, connection) ||
    identical(engine$identity(connection), engine$identity(site$connection))
  if (!same) return(invisible())
  if (in_database(engine$reaches(connection, site$place, place))) {
    fail("table-is-source", table = dotted(place))
  }
}

# By a bare name the source may be met, also where a new table would lie elsewhere.
refuse_by_name <- function(connection, table, site) {
  seen <- tables_named(connection, table)
  seen <- seen[seen$visible, ]
  if (nrow(seen) && all(lower_ascii(place_of_table(seen[1, ])) == lower_ascii(site$place))) {
    fail("table-is-source", table = dotted(table))
  }
}

word_errors(list(
  "table-kind" = c("{table} is a {kind}, which is not written over.", "Choose another name."),
  "table-loses" = c(paste("Writing {table} anew would take away what hangs on it: {what}. Nothing",
    "was written."),
    paste("Write the columns that it has now, in their order and types: then all of it is kept; or",
      "choose another name, or drop the table yourself."))
))
