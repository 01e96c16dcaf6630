# Work inside a database, on a made-up register: composite of 20 items, recode, z, percentile,
# equal-count bands, dummies, and the table that is made of them; how long each step takes, the
# largest size of the R process, and how long it takes to fetch the columns and work in memory.
# Use: Rscript bench/engines.R sqlite|duckdb|postgresql|shards1|shards2|shards3 ROWS [MB]
# (DuckDB runs inside the R process, and takes as much memory as it finds, or up to MB; shards are
# that many servers beside the one that is asked)
suppressMessages(library(ableturn))
source("tools/engines/postgresql.R")
given <- commandArgs(TRUE)
engine <- if (length(given)) given[1] else "sqlite"
rows <- if (length(given) > 1) as.numeric(given[2]) else 2e6
options(ableturn.quiet = TRUE)

library_of_duckdb <- function() {
  normalizePath(Sys.glob("tools/engines/node_modules/@duckdb/*/libduckdb.so")[1])
}

connection_to <- function(engine, room, server) {
  switch(engine,
    sqlite = DBI::dbConnect(RSQLite::SQLite(), file.path(room, "bench.sqlite")),
    duckdb = DBI::dbConnect(adbi::adbi(adbcdrivermanager::adbc_driver(library_of_duckdb(),
      "duckdb_adbc_init")), path = file.path(room, "bench.duckdb")),
    DBI::dbConnect(RPostgres::Postgres(), host = "127.0.0.1", port = server$port,
      user = "able", dbname = "postgres", bigint = "numeric"))
}

# Items from 1 to 5 that go together, in nearly as many ways as there are rows, with some 9 (no
# answer); an income of many values, an age, an area.
register_sql <- function(engine, rows, parts = 1, part = 0) {
  number <- format(rows, scientific = FALSE)
  series <- switch(engine,
    sqlite = paste("WITH RECURSIVE g(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM g WHERE i <",
      number, ")"),
    duckdb = paste0("WITH g AS (SELECT range + 1 AS i FROM range(", number, "))"),
    paste0("WITH g AS (SELECT CAST(generate_series(1, ", number, ") AS BIGINT) AS i)"))
  mixed <- function(prime, plus) {
    paste0("((i * ", prime, " % 999983) * (i * ", prime, " % 999983 + ", plus, ") % 99991)")
  }
  own <- mixed(c(7919, 7927, 7933, 7937, 7949, 7951, 7963, 7993, 8009, 8011, 8017, 8039, 8053,
    8059, 8069, 8081, 8087, 8089, 8093, 8101), 1:20)
  items <- paste0("CAST(CASE WHEN ", own, " % 101 = 0 THEN 9 ELSE 1 + (", own, " + ",
    mixed(104729, 77), " + ", 200 * 1:20, ") % 199982 / 39997 END AS INTEGER) AS q_", 1:20,
  collapse = ", ")
  paste0("CREATE TABLE register AS ", series, " SELECT i AS person, ", items,
    ", (i * 48271 % 1000003) / 7e0 AS income, CAST(18 + i * 16807 % 80 AS INTEGER) AS age, ",
    "CASE i * 69621 % 4 WHEN 0 THEN 'north' WHEN 1 THEN 'south' WHEN 2 THEN 'east' ELSE 'west' ",
    "END AS area, CAST(i % ", parts, " AS INTEGER) AS part FROM g WHERE i % ", parts, " = ", part)
}

# Each server makes its part of the register; the one that is asked gets the table of the parts.
make_register <- function(con, engine, rows, server) {
  parts <- length(server$shards)
  if (!parts) return(DBI::dbExecute(con, register_sql(engine, rows)))
  shards <- lapply(server$shards, function(shard) connection_to(engine, NULL, shard))
  for (i in seq_along(shards)) DBI::dbExecute(shards[[i]], register_sql(engine, rows, parts, i - 1))
  types <- DBI::dbGetQuery(shards[[1]], paste("SELECT attname AS name, format_type(atttypid, NULL)",
    "AS type FROM pg_attribute WHERE attrelid = to_regclass('register') AND attnum > 0"))
  DBI::dbExecute(con, paste0("CREATE TABLE register (", paste(types$name, types$type,
    collapse = ", "), ") PARTITION BY LIST (part)"))
  for (i in seq_along(shards)) {
    DBI::dbExecute(con, paste0("CREATE FOREIGN TABLE register_", i, " PARTITION OF register FOR ",
      "VALUES IN (", i - 1, ") SERVER shard_", i, " OPTIONS (table_name 'register')"))
    DBI::dbDisconnect(shards[[i]])
  }
}

peak <- function() {
  line <- grep("VmHWM", readLines("/proc/self/status"), value = TRUE)
  as.numeric(gsub("[^0-9]", "", line)) / 1024
}

timed <- function(what, code) {
  took <- system.time(value <- suppressMessages(code))[["elapsed"]]
  cat(sprintf("%-34s %8.1f s %8.0f MB\n", what, took, peak()))
  invisible(value)
}

steps <- list(
  "define missing codes" = function(b) define(b, q_1:q_20, missing = c("No answer" = 9)),
  "composite of 20" = function(b) turn_composite(b, q_1:q_20, as = "score", at_least = 15),
  "recode" = function(b) {
    turn_recode(b, age, as = "age3", becomes(1, upto(29)), becomes(2, from(30, upto = 59)),
      becomes(3, from(60)))
  },
  "z of the score" = function(b) turn_standardize(b, score),
  "z of income" = function(b) turn_standardize(b, income),
  "percentile of the score" = function(b) turn_standardize(b, score, how = "percentile"),
  "five bands of equal count" = function(b) turn_bin(b, income, as = "income5", groups = 5),
  "dummies" = function(b) turn_dummy(b, area, reference = "north")
)

room <- tempfile("engines-")
dir.create(room)
memory <- "-c shared_buffers=512MB"
server <- if (engine == "postgresql") start_postgresql(memory) else
  if (startsWith(engine, "shards")) start_shards(as.numeric(sub("shards", "", engine)), memory)
con <- suppressWarnings(connection_to(engine, room, server))
if (engine == "duckdb" && length(given) > 2) {
  DBI::dbExecute(con, paste0("SET memory_limit = '", given[3], "MB'"))
  DBI::dbExecute(con, paste0("SET temp_directory = '", room, "'"))
}
cat(engine, format(rows, big.mark = ","), "rows\n")
timed("the register is made", make_register(con, engine, rows, server))
book <- timed("opened", turnbook(con, table = "register", id = person))
for (step in names(steps)) book <- timed(step, steps[[step]](book))
timed("look at score and income", utils::capture.output(print(look(book, score, income))))
timed("table of all columns", write_data(book, con, table = "made"))
if (rows <= 2e6) {
  data <- timed("all rows fetched", DBI::dbGetQuery(con, "SELECT * FROM register"))
  timed("the same in memory", Reduce(function(b, step) step(b), steps,
    turnbook(data, id = person)))
}
DBI::dbDisconnect(con)
if (!is.null(server)) server$stop()
unlink(room, recursive = TRUE)
