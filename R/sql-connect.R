# Connections that are opened here: for the command line by an address, and to read a file where it
# lies.

# `address`: postgresql://USER@HOST:PORT/NAME, or the path of a file of SQLite or DuckDB. Unless
# something is to be written, nothing can be. A password is best left to the server's own ways
# (PGPASSWORD, .pgpass); it is never shown.
connect_database <- function(address, write = FALSE) {
  if (grepl("^postgres(ql)?://", address)) return(connect_postgresql(address))
  ending <- ending_of(address)
  if (grepl("^[a-z]+://", address) || !ending %in% unlist(database_endings)) {
    fail("address-unknown", address = without_password(address))
  }
  if (!write) check_readable(address)
  if (ending %in% database_endings$duckdb) return(connect_duckdb(address, read_only = !write))
  need_package("RSQLite", "work in SQLite")
  flags <- if (write) RSQLite::SQLITE_RWC else RSQLite::SQLITE_RO
  connect_sqlite(absolute_path(address), flags, address)
}

# A file of a stranger: broken pages are told. The driver needs extensions for its own functions; no
# view or trigger of a file can load another, as SQLite refuses that there.
connect_sqlite <- function(path, flags, address = path) {
  connection <- in_database(DBI::dbConnect(RSQLite::SQLite(), path, flags = flags), address)
  in_database(DBI::dbExecute(connection, "PRAGMA cell_size_check = ON"), address)
  connection
}

database_endings <- list(sqlite = c("sqlite", "sqlite3", "db"), duckdb = c("duckdb", "ddb"))

connect_postgresql <- function(address) {
  need_package("RPostgres", "work in PostgreSQL")
  found <- regmatches(address, regexec(
    "^[a-z]+://(?:([^:@/]*)(?::([^@]*))?@)?([^:/?]*)(?::([0-9]+))?(?:/([^?]*))?$", address,
    perl = TRUE))[[1]]
  if (!length(found)) fail("address-unknown", address = without_password(address))
  parts <- as.list(vapply(found[-1], utils::URLdecode, "", USE.NAMES = FALSE))
  names(parts) <- c("user", "password", "host", "port", "dbname")
  given <- parts[nzchar(unlist(parts))]
  in_database(suppressWarnings(do.call(DBI::dbConnect, c(list(part_of_driver("RPostgres",
    "Postgres")(), bigint = "numeric"), given))), address)
}

# A file of a stranger is attached to a database of ours, so that its macros are not called by what
# we ask, and what stands in it reads nothing else. One that is written to is the analyst's own.
connect_duckdb <- function(path, read_only = TRUE) {
  if (read_only) {
    connection <- new_duckdb(":memory:")
    in_database(DBI::dbExecute(connection, paste("ATTACH", sql_text(absolute_path(path),
      engines$duckdb), "AS", sql_name(hers), "(READ_ONLY)")), path)
  } else {
    connection <- new_duckdb(absolute_path(path))
  }
  close_duckdb(connection)
}

# What such a database may reach is settled for good; older versions lack some of these.
close_duckdb <- function(connection, paths = character()) {
  allowed <- listed_sql(sql_text(paths, engines$duckdb))
  settings <- c(if (length(paths)) paste0("allowed_paths = [", allowed, "]"),
    "enable_external_access = false", "autoload_known_extensions = false",
    "autoinstall_known_extensions = false", "allow_community_extensions = false")
  done <- vapply(paste("SET", settings), is_done, NA, connection = connection)
  if (all(done)) is_done(connection, "SET lock_configuration = true")
  connection
}

# Through the package duckdb, or, where ABLETURN_DUCKDB names its library, through adbi.
new_duckdb <- function(path) {
  library <- Sys.getenv("ABLETURN_DUCKDB")
  if (nzchar(library)) {
    need_package("adbi", "work in DuckDB by its library")
    driver <- part_of_driver("adbcdrivermanager", "adbc_driver")(library, "duckdb_adbc_init")
    return(in_database(DBI::dbConnect(part_of_driver("adbi", "adbi")(driver), path = path), path))
  }
  if (!is_installed("duckdb")) fail("duckdb-needed")
  in_database(DBI::dbConnect(part_of_driver("duckdb", "duckdb")(), dbdir = path), path)
}

# Drivers are for those who have such a database: this package does not ask for them.
part_of_driver <- function(package, name) getExportedValue(package, name)

is_installed <- function(package) requireNamespace(package, quietly = TRUE)

# An error of a database in our words, with what it said itself, but for the password.
in_database <- function(code, address = NULL) {
  tryCatch(code, error = function(e) {
    if (inherits(e, "ableturn_error")) stop(e)
    why <- without_password(squeeze(conditionMessage(e)))
    failure <- failure_of(why)
    fail("database-unreached", address = without_password(paste(c("The database", address),
      collapse = " ")), what = failure$what, why = why, advice = failure$advice)
  })
}

without_password <- function(text) gsub("(://[^:@/ ]*):[^@ ]*@", "\\1@", text)

engine_at <- function(connection) {
  kind <- class(connection)[1]
  known <- c(SQLiteConnection = "sqlite", PqConnection = "postgresql", duckdb_connection = "duckdb")
  name <- if (kind %in% names(known)) known[[kind]] else if (is_duckdb(connection)) "duckdb"
  if (is.null(name)) fail("engine-unknown", got = kind)
  engines[[name]]
}

# A driver that serves several databases is asked which one it is.
is_duckdb <- function(connection) {
  version <- "SELECT library_version AS v FROM pragma_version()"
  tryCatch(nzchar(DBI::dbGetQuery(connection, version)$v[1]), error = function(e) FALSE)
}

is_done <- function(connection, statement) {
  tryCatch({
    DBI::dbExecute(connection, statement)
    TRUE
  }, error = function(e) FALSE)
}

# What a database is called that was opened by its path.
hers <- "able_hers"
