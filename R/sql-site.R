# A table of a database as a site: what a book asks is put as a query.

#   connection, table  where it is; the table's name as SQL
#   engine             how SQL is written for it
new_table_site <- function(connection, table, most = 65535) {
  engine <- engine_at(connection)
  from <- table_sql(table)
  like <- fetch(connection, paste("SELECT * FROM", from, "WHERE 1 = 0"))
  rows <- fetch(connection, paste("SELECT", count_sql(engine), "AS n FROM", from))$n
  structure(list(connection = connection, table = from, name = table, engine = engine,
    columns = as.list(like), rows = rows, most = most), class = "ableturn_table_site")
}

engine_at <- function(connection) {
  kind <- class(connection)[1]
  known <- c(SQLiteConnection = "sqlite", PqConnection = "postgresql", duckdb_connection = "duckdb")
  name <- if (kind %in% names(known)) known[[kind]] else if (is_duckdb(connection)) "duckdb"
  if (is.null(name)) fail("engine-unknown", got = kind)
  engines[[name]]
}

# A driver that serves several databases is asked which one it is.
is_duckdb <- function(connection) {
  tryCatch(nzchar(fetch(connection, "SELECT library_version AS v FROM pragma_version()")$v[1]),
    error = function(e) FALSE)
}

table_sql <- function(table) paste(sql_name(table), collapse = ".")

# What a query gives; whole numbers of 64 bits, which R cannot read itself, as numbers.
fetch <- function(connection, query) {
  found <- DBI::dbGetQuery(connection, query)
  long <- vapply(found, inherits, NA, what = "integer64")
  found[long] <- lapply(found[long], function(x) numbers_of_bits(unclass(x)))
  found
}

# A count as a number: engines count in whole numbers of 64 bits.
count_sql <- function(engine) cast_sql("COUNT(*)", engine$real)

#' @export
open_data.DBIConnection <- function(data, reading = NULL, table = NULL) {
  if (!is.null(reading)) fail("reading-frame")
  check_table(data, table)
  site <- new_table_site(data, table)
  columns <- lapply(site$columns, far_values, rows = site$rows)
  frame <- structure(columns, class = "data.frame", row.names = .set_row_names(site$rows))
  list(data = frame, site = site, name = table[length(table)], ascii = TRUE, finish = identity)
}

check_table <- function(connection, table) {
  named <- is.character(table) && length(table) %in% 1:2 && !anyNA(table) && all(nzchar(table))
  if (!named) fail("table-needed", tables = table_hint(connection))
  there <- tryCatch(DBI::dbExistsTable(connection, if (length(table) == 1) table else
    DBI::Id(schema = table[1], table = table[2])), error = function(e) TRUE)
  if (!there) fail("table-not-here", table = paste(table, collapse = "."),
    tables = table_hint(connection))
}

table_hint <- function(connection) {
  known <- tryCatch(DBI::dbListTables(connection), error = function(e) character())
  if (length(known)) paste("It holds", name_list(sort_points(known), 8)) else
    "It holds no table that can be seen"
}

#' @export
check_id_at_site.ableturn_table_site <- function(site, id) {
  column <- paste0("t.", sql_name(id))
  from <- paste("FROM", site$table, "AS t")
  gone <- fetch(site$connection, paste("SELECT", count_sql(site$engine), "AS n", from, "WHERE",
    column, "IS NULL"))$n
  if (gone > 0) fail("id-missing", name = id, rows = counted(gone, "row"))
  twice <- fetch(site$connection, paste("SELECT", column, "AS value", from, "GROUP BY", column,
    "HAVING COUNT(*) > 1 LIMIT 3"))$value
  if (length(twice)) fail("id-twice", name = id, values = show_value(twice))
}

#' @export
count_at_site.ableturn_table_site <- function(site, names, most) {
  columns <- paste0("t.", sql_name(names))
  query <- paste("SELECT", paste(columns, "AS", paste0("key_", seq_along(names)), collapse = ", "),
    ",", count_sql(site$engine), "AS n FROM", site$table, "AS t GROUP BY",
    paste(columns, collapse = ", "), "LIMIT", number_sql(most + 1, site$engine))
  found <- fetch(site$connection, query)
  if (nrow(found) > most) return(NULL)
  keys <- setNames(Map(as_column_of, found[seq_along(names)], site$columns[names]), names)
  list(keys = keys, rows = as.integer(found$n))
}

# Values of the type that their column has, whatever the first rows were.
as_column_of <- function(values, like) {
  if (inherits(like, "Date")) return(as.Date(values))
  if (inherits(like, "POSIXct") || is.factor(like)) return(values)
  storage.mode(values) <- typeof(like)
  values
}

#' @export
rows_at_site.ableturn_table_site <- function(site, names, where = NULL, id = NULL) {
  tests <- vapply(base::names(where), function(name) {
    values <- where[[name]][!is.na(where[[name]])]
    if (!length(values)) return("1 = 0")
    paste0("t.", sql_name(name), " IN (", paste(literal_sql(values, site$engine),
      collapse = ", "), ")")
  }, "")
  query <- paste("SELECT", paste0("t.", sql_name(names), collapse = ", "), "FROM", site$table,
    "AS t", if (length(tests)) paste("WHERE", paste(tests, collapse = " OR ")),
    if (!is.null(id)) paste("ORDER BY", paste0("t.", sql_name(id))))
  found <- fetch(site$connection, query)
  columns <- Map(as_column_of, as.list(found), site$columns[names])
  structure(columns, names = names, class = "data.frame", row.names = .set_row_names(nrow(found)))
}
