# A table of text that is too large for memory as a table of SQLite, in a file of its own beside it,
# which is used again as long as the text is the same.

# The columns of a file, some rows at a time: a hook, as files are read above. `each` is called with
# a list of columns, and after these with a function that gives the texts of one by its name.
read_in_blocks <- function(path, each) UseMethod("read_in_blocks")

load_into_sqlite <- function(path) {
  need_package("RSQLite", "work in SQLite")
  target <- paste0(absolute_path(path), ".sqlite")
  table <- sub("[.].*$", "", basename(path))
  state <- state_of_file(path)
  if (!file.exists(target)) {
    make_sqlite(path, target, table, state)
  } else if (!identical(loaded_state(target, table), state)) {
    fail("loaded-otherwise", path = target, of = path)
  }
  list(data = connect_sqlite(target, RSQLite::SQLITE_RO), table = table)
}

# A file is taken to be the same while its size and its time are.
state_of_file <- function(path) {
  info <- file.info(absolute_path(path))
  sprintf("%.0f bytes, %.6f", info$size, as.numeric(info$mtime))
}

state_table <- function(table) paste0(table, "_loaded_from")

loaded_state <- function(target, table) {
  connection <- DBI::dbConnect(RSQLite::SQLite(), target, flags = RSQLite::SQLITE_RO)
  on.exit(DBI::dbDisconnect(connection))
  tryCatch(DBI::dbReadTable(connection, state_table(table))$state, error = function(e) NULL)
}

# Under another name until it is whole.
make_sqlite <- function(path, target, table, state) {
  half <- paste0(target, ".half-", Sys.getpid())
  on.exit(unlink(half))
  types <- NULL
  shown <- function(columns) types <<- joined_types(types, columns)
  read_in_blocks(path, function(columns, texts) shown(columns))
  write_blocks(path, half, table, types, state)
  if (!file.rename(half, target)) fail("not-renamed", path = target)
}

write_blocks <- function(path, half, table, types, state) {
  connection <- in_database(DBI::dbConnect(RSQLite::SQLite(), half), half)
  on.exit(DBI::dbDisconnect(connection))
  # a file that is not whole is not used
  in_database(DBI::dbExecute(connection, "PRAGMA synchronous = OFF"))
  read_in_blocks(path, function(columns, texts) {
    rows <- lapply(self_named(names(types)), function(name) {
      if (types[[name]] %in% "text") block_texts(columns[[name]], texts(name)) else
        stored_column(columns[[name]], "sqlite")
    })
    rows <- structure(rows, class = "data.frame", row.names = .set_row_names(length(rows[[1]])))
    if (!DBI::dbExistsTable(connection, table)) create_loaded(connection, table, rows, types)
    in_database(DBI::dbAppendTable(connection, table, rows))
  })
  in_database(DBI::dbWriteTable(connection, state_table(table), data.frame(state = state)))
}

# Dates are texts there, and known by what their column is declared to hold.
create_loaded <- function(connection, table, rows, types) {
  fields <- vapply(rows, function(x) DBI::dbDataType(connection, x), "")
  fields[types %in% "Date"] <- "DATE"
  in_database(DBI::dbCreateTable(connection, table, fields))
}

# The type of each column over all blocks: text, if one of them holds text or another type than one
# before; of a block without an answer nothing is known.
joined_types <- function(types, columns) {
  now <- vapply(columns, function(x) {
    if (all(is.na(x))) return(NA_character_)
    if (is.character(x)) "text" else if (is.numeric(x) && !is.object(x)) "number" else class(x)[1]
  }, "")
  if (is.null(types)) return(now)
  if (!identical(names(types), names(now))) fail("blocks-unlike", names = setdiff(names(now),
    names(types)))
  same <- is.na(now) | !is.na(types) & now == types
  setNames(ifelse(same, types, ifelse(is.na(types), now, "text")), names(now))
}

block_texts <- function(x, texts) {
  texts[is.na(x)] <- NA
  texts
}

stored_column <- function(x, engine) {
  if (inherits(x, "Date")) return(if (engine == "sqlite") format(x) else x)
  plain_values(x)
}

# A file read where it lies: a connection that shows it as a table, and the name of that.
#' @export
open_in_place.character <- function(path, engine) {
  check_choice(engine, "engine", c("duckdb", "sqlite"))
  check_readable(path)
  ending <- ending_of(sub("[.]gz$", "", path))
  if (engine == "sqlite") {
    if (!ending %in% c("csv", "tsv", "txt")) fail("load-form", path = path)
    return(load_into_sqlite(path))
  }
  reader <- switch(ending, parquet = "READ_PARQUET(%s)", csv = , tsv = ,
    txt = "READ_CSV(%s, header = TRUE, sample_size = -1)", fail("in-place-form", path = path))
  connection <- new_duckdb(":memory:")
  table <- sub("[.].*$", "", basename(path))
  from <- fill_sql(reader, sql_text(absolute_path(path), engines$duckdb))
  in_database(DBI::dbExecute(connection, paste("CREATE VIEW", sql_name(table), "AS SELECT * FROM",
    from)), path)
  list(data = close_duckdb(connection, absolute_path(path)), table = table)
}
