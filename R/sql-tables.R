# Which table a name means: it is looked for once, and is named with its schema from then on, so
# that it stays the same table whatever is set, made or hidden later.

# What is known of a table or view by that name: `table`, its name with all that it lies in; `kind`
# ("table", "view" ...); and whether `policies` choose its rows. NULL where there is none. The
# analyst names a table, or its schema and the table.
found_table <- function(connection, table) {
  seen <- tables_named(connection, table)
  seen <- seen[seen$visible, ]
  lasting <- seen[!seen$temporary, ]
  if (length(table) == 1 && nrow(lasting) && any(seen$temporary)) {
    fail("table-hidden", table = table, schema = lasting$schema[1])
  }
  if (!nrow(seen)) return(NULL)
  list(table = place_of_table(seen[1, ]), kind = seen$kind[1], policies = seen$policies[1])
}

# The tables and views of a name, in the order in which they are met: `database` (NA where an engine
# has one alone), `schema`, `name`, `kind`, whether it is `temporary`, `visible` by the name as it
# was given, and whether `policies` choose its rows.
tables_named <- function(connection, table) {
  engine <- engine_at(connection)
  path <- engine$path(connection)
  found <- tables_like(connection, table[length(table)])
  keys <- c("database", "schema")
  place <- match(key_texts(found[keys]), key_texts(path[keys]))
  found$visible <- if (length(table) == 1) !is.na(place) else in_schema(found, table[1], path)
  found[order(place), ]
}

# Those of a name wherever they lie; of names that differ in case alone, the very one, if it is
# there.
tables_like <- function(connection, name) {
  engine <- engine_at(connection)
  text <- sql_text(name, engine)
  test <- if (engine$same_letters) paste0("LOWER(name) = LOWER(", text, ")") else
    paste("name =", text)
  found <- fetch(connection, paste(engine$tables, "WHERE", test))
  for (key in c("temporary", "policies")) found[[key]] <- as.logical(found[[key]])
  if (any(found$name == name)) found <- found[found$name == name, ]
  found
}

# What stands at a place that was found before; NULL where nothing does.
table_at <- function(connection, place) {
  seen <- tables_like(connection, place[length(place)])
  same <- vapply(seq_len(nrow(seen)), function(i) {
    all(lower_ascii(place_of_table(seen[i, ])) == lower_ascii(place))
  }, NA)
  if (any(same)) list(table = place, kind = seen$kind[same][1])
}

# A schema of one database: of that in use, where an engine holds several.
in_schema <- function(found, schema, path) {
  temporary <- schema %in% found$temporary_schema & found$temporary
  (found$schema == schema | temporary) & (is.na(found$database) | found$temporary |
    found$database %in% path$database)
}

# A name by which nothing else can be meant.
place_of_table <- function(row) {
  schema <- if (row$temporary) row$temporary_schema %|% row$schema else row$schema
  c(if (!is.na(row$database)) row$database, schema, row$name)
}

# Where a new table of that name lies; an error where it would hide another one. A view of a
# temporary table, `of`, is temporary as well.
place_for_table <- function(connection, table, of = NULL) {
  engine <- engine_at(connection)
  seen <- tables_named(connection, table)
  seen <- seen[seen$visible, ]
  brief <- length(table) == 1 && length(of) && identical(of[-length(of)], engine$temporary)
  if (brief && all(seen$temporary)) return(c(engine$temporary, table))
  if (brief) fail("table-elsewhere", table = table, schema = seen$schema[!seen$temporary][1],
    new = engine$temporary[1])
  path <- engine$path(connection)
  path <- path[path$new, ][1, ]
  schema <- if (length(table) == 2) table[1] else path$schema
  if (is.na(schema)) fail("no-schema", table = table)
  there <- seen$schema == schema
  if (any(there)) return(place_of_table(seen[there, ][1, ]))
  if (nrow(seen)) fail("table-elsewhere", table = table, schema = seen$schema[1], new = schema)
  c(if (!is.na(path$database)) path$database, schema, table[length(table)])
}

# The schemas in which a bare name is looked for.
path_of_sqlite <- function(connection) {
  quick_table(database = rep(NA_character_, 2), schema = c("temp", "main"), new = c(FALSE, TRUE))
}

path_of_duckdb <- function(connection) {
  known <- DBI::dbGetQuery(connection,
    "SELECT database_name AS d FROM system.main.duckdb_databases()")$d
  now <- DBI::dbGetQuery(connection,
    "SELECT system.main.current_database() AS d, system.main.current_schema() AS s")
  opened <- hers %in% known
  quick_table(database = c("temp", if (opened) hers else now$d),
    schema = c("main", if (opened) "main" else now$s), new = c(FALSE, TRUE))
}

# As the analyst has set it: within our own settings it is not known.
path_of_postgresql <- function(connection) {
  stopifnot(!is_under_way(connection))
  all <- DBI::dbGetQuery(connection, paste("SELECT s AS schema,",
    "pg_catalog.current_schema() AS here FROM pg_catalog.unnest(pg_catalog.current_schemas(true))",
    "WITH ORDINALITY AS a (s, place)"))
  quick_table(database = rep(NA_character_, nrow(all)), schema = all$schema,
    new = all$schema %in% all$here)
}

names_table <- function(table) {
  is.character(table) && length(table) %in% 1:2 && !anyNA(table) && all(nzchar(table))
}

check_table <- function(connection, table) {
  if (!names_table(table)) fail("table-needed", tables = table_hint(connection))
  found <- in_database(found_table(connection, table))
  if (is.null(found)) fail("table-not-here", table = dotted(table),
    tables = table_hint(connection))
  found
}

table_hint <- function(connection) {
  known <- tables_in_sight(connection)
  if (length(known)) paste("It holds", name_list(known, 8)) else
    "It holds no table that can be seen"
}

# The tables that can be named without their schema.
tables_in_sight <- function(connection) {
  engine <- engine_at(connection)
  known <- tryCatch({
    path <- engine$path(connection)
    all <- fetch(connection, engine$tables)
    all$name[paste(all$database, all$schema) %in% paste(path$database, path$schema)]
  }, error = function(e) character())
  sort_points(unique(known))
}

table_sql <- function(table) paste(sql_name(table), collapse = ".")

dotted <- function(table) paste(table, collapse = ".")

word_errors(list(
  "table-hidden" = c("{table} is a temporary table here, and a table of the schema {schema}.",
    "Say which: table = c(\"{schema}\", \"{table}\"), or rename the temporary one.",
    desk = "Open it from R or the command line, with its schema."),
  "table-elsewhere" = c(paste("There is a table {table} in the schema {schema}, and a new one",
    "would be made in {new}."),
    "Say which you mean: table = c(\"{new}\", \"{table}\").",
    desk = "Open it from R or the command line, with its schema."),
  "no-schema" = c("There is no schema in which a new table {table} could be made.",
    "Name one: table = c(\"schema\", \"{table}\").")
))
