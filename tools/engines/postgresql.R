# A PostgreSQL server of its own, on this machine alone, in a folder that goes when it is stopped.

# Its programs, the newest where there are several; none where it is not installed.
postgresql_programs <- function() {
  folders <- c(Sys.glob("/usr/lib/postgresql/*/bin"), Sys.glob("/opt/homebrew/opt/postgresql*/bin"),
    dirname(Sys.which("pg_ctl")))
  folders <- folders[file.exists(file.path(folders, "pg_ctl")) &
    file.exists(file.path(folders, "initdb"))]
  if (length(folders)) folders[length(folders)]
}

# It refuses to run as root: then the account that Debian makes for it is used.
as_server <- function(command) {
  root <- identical(Sys.info()[["user"]], "root")
  if (root) system2("su", c("postgres", "-s", "/bin/sh", "-c", shQuote(command)), stdout = FALSE,
    stderr = FALSE)
  else system(command, ignore.stdout = TRUE, ignore.stderr = TRUE)
}

# Starts one: its `port`, its `folder`, and `stop`, which ends it and clears up. NULL where that
# cannot be done.
start_postgresql <- function(options = "") {
  programs <- postgresql_programs()
  if (is.null(programs)) return(NULL)
  folder <- tempfile("postgresql-", tmpdir = "/tmp")
  dir.create(folder)
  if (identical(Sys.info()[["user"]], "root")) system2("chown", c("postgres", folder))
  data <- file.path(folder, "data")
  port <- free_port()
  made <- as_server(paste(file.path(programs, "initdb"), "-D", data,
    "-U able -A trust -E UTF8 --locale=C"))
  start <- paste0(file.path(programs, "pg_ctl"), " -D ", data, " -w -l ", file.path(folder, "log"),
    " -o \"-p ", port, " -k ", folder, " -c listen_addresses=127.0.0.1 -c fsync=off ", options,
    "\" start")
  if (made != 0 || as_server(start) != 0) return(NULL)
  list(port = port, folder = folder, programs = programs, stop = function() {
    as_server(paste(file.path(programs, "pg_ctl"), "-D", data, "-m immediate stop"))
    unlink(folder, recursive = TRUE)
  })
}

# Starts one server that is asked and some beside it, which it knows as shard_1, shard_2 ...:
# several servers on one machine, for tests and to try things. Its `port`, `shards`, what
# start_postgresql() gives for each, and `stop`.
start_shards <- function(shards = 3, options = "") {
  front <- start_postgresql(options)
  if (is.null(front)) return(NULL)
  each <- lapply(seq_len(shards), function(i) start_postgresql(options))
  statements <- c("CREATE EXTENSION postgres_fdw", "CREATE EXTENSION dblink",
    unlist(lapply(seq_along(each), function(i) {
      c(paste0("CREATE SERVER shard_", i, " FOREIGN DATA WRAPPER postgres_fdw OPTIONS (",
        "host '127.0.0.1', port '", each[[i]]$port, "', dbname 'postgres', async_capable 'true')"),
      paste0("CREATE USER MAPPING FOR able SERVER shard_", i, " OPTIONS (user 'able')"))
    })))
  for (statement in statements) ask_server(front, statement)
  list(port = front$port, front = front, shards = each, stop = function() {
    for (server in c(each, list(front))) server$stop()
  })
}

ask_server <- function(server, statement) {
  psql <- file.path(server$programs, "psql")
  system2(if (file.exists(psql)) psql else "psql", c("-q", "-h", "127.0.0.1", "-p", server$port,
    "-U", "able", "-d", "postgres", "-v", "ON_ERROR_STOP=1", "-c", shQuote(statement)))
}

# A port that nothing listens on.
free_port <- function() {
  for (port in sample(20000:30000, 50)) {
    open <- tryCatch({
      socket <- serverSocket(port)
      close(socket)
      TRUE
    }, error = function(e) FALSE)
    if (open) return(port)
  }
}
