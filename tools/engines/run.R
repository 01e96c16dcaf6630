# Starts PostgreSQL, once as one server and once as four, and finds DuckDB, runs the tests of what
# is done in engines on all of them, and stops what it started.
# Use: Rscript tools/engines/run.R [NAME of a test file ...]
source("tools/engines/postgresql.R")
names <- commandArgs(TRUE)
source("tools/sets.R")
if (!length(names)) names <- test_sets$engines

duckdb <- Sys.glob("tools/engines/node_modules/@duckdb/*/libduckdb.so")
if (length(duckdb)) Sys.setenv(ABLETURN_DUCKDB = normalizePath(duckdb[1])) else
  cat("DuckDB is not here: its tests are left out.\n")
server <- start_postgresql()
if (is.null(server)) cat("PostgreSQL is not here: its tests are left out.\n") else
  Sys.setenv(ABLETURN_POSTGRES = server$port)
shards <- if (!is.null(server)) start_shards(3)
if (!is.null(shards)) Sys.setenv(ABLETURN_SHARDS = shards$port)
# Servers are stopped and changed in the last one, so that it cannot be run beside another.
alone <- names == "sql-shards"
runs <- Filter(length, list(names[!alone], names[alone]))
status <- max(vapply(runs, function(names) {
  system2(file.path(R.home("bin"), "Rscript"), c("tools/test.R", "only", names))
}, 1L))
for (started in list(server, shards)) if (!is.null(started)) started$stop()
quit(status = status)
