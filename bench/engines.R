# Work inside a database, on a made-up register: composite of 20 items, recode, z, percentile,
# equal-count bands, group mean, dummies, and the table that is made of them. Told of each step:
# how long it takes and how much computing (the server's as well), how many questions are put and
# how many of these go through the whole table; how long the SQL takes that an analyst would write
# for the same column and its figures; and the largest size of the R process.
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
    ", CAST(i * 48271 % 1000003 AS DOUBLE PRECISION) / 7 AS income, ",
    "CAST(18 + i * 16807 % 80 AS INTEGER) AS age, ",
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

# Seconds of computing: of this process, and of the servers that are at work.
computing <- function() {
  ours <- sum(proc.time()[c("user.self", "sys.self")])
  ids <- if (is.null(server)) character() else
    suppressWarnings(system2("pgrep", "postgres", stdout = TRUE))
  theirs <- vapply(ids, function(id) {
    stat <- tryCatch(readLines(file.path("/proc", id, "stat")), error = function(e) NULL,
      warning = function(w) NULL)
    if (is.null(stat)) return(0)
    sum(as.numeric(strsplit(sub(".*[)] ", "", stat), " ")[[1]][12:15])) / 100
  }, 0)
  ours + sum(theirs)
}

# Every question that the package puts; those of the first rows, or of a sample, are no pass.
asked <- character()
fetch <- getFromNamespace("fetch", "ableturn")
utils::assignInNamespace("fetch", function(connection, query) {
  asked <<- c(asked, query)
  fetch(connection, query)
}, "ableturn")
passes <- function() {
  own <- asked[grepl("register", asked, fixed = TRUE)]
  sum(!grepl("AS t (LIMIT|WHERE ABS)", own) & !grepl("pg_|pragma|1 = 0", own))
}

timed <- function(what, code) {
  asked <<- character()
  before <- computing()
  took <- system.time(value <- suppressMessages(code))[["elapsed"]]
  cat(sprintf("%-30s %7.1f s %7.1f s computing %4d questions %3d passes %6.0f MB\n", what, took,
    computing() - before, length(asked), passes(), peak()))
  invisible(value)
}

# What an analyst would ask for the same column and its figures.
items <- paste0("CASE WHEN q_", 1:20, " <> 9 THEN q_", 1:20, " END")
held <- paste0("(SELECT ", paste(items, "AS v_", seq_along(items), sep = "", collapse = ", "),
  " FROM register) AS s")
held <- gsub("ENDAS", "END AS", held, fixed = TRUE)
valid <- paste0("CASE WHEN v_", 1:20, " IS NULL THEN 0 ELSE 1 END", collapse = " + ")
total <- paste0("COALESCE(v_", 1:20, ", 0)", collapse = " + ")
analyst <- list(
  "composite of 20" = c(
    paste0("SELECT n, COUNT(*) AS rows_, AVG(total * 1.0 / NULLIF(n, 0)) AS m FROM (SELECT ", valid,
      " AS n, ", total, " AS total FROM ", held, ") AS t GROUP BY n"),
    paste0("SELECT ", paste0("AVG(v_", 1:20, " * 1.0), AVG(v_", 1:20, " * v_", 1:20,
      " * 1.0)", collapse = ", "), ", AVG((", total, ") * 1.0) AS t FROM ", held, " WHERE ", valid,
    " = 20")),
  "recode" = paste("SELECT CASE WHEN age < 30 THEN 1 WHEN age < 60 THEN 2 ELSE 3 END AS code,",
    "COUNT(*) FROM register GROUP BY 1"),
  "z of income" = paste("SELECT COUNT(income), AVG(income), MIN(income), MAX(income),",
    "SUM(income * income) FROM register"),
  "five bands of equal count" = c(
    paste("SELECT PERCENTILE_CONT(ARRAY[0.2, 0.4, 0.6, 0.8]) WITHIN GROUP (ORDER BY income)",
      "FROM register"),
    paste("SELECT CASE WHEN income < 28571 THEN 1 WHEN income < 57142 THEN 2 WHEN income < 85714",
      "THEN 3 WHEN income < 114285 THEN 4 ELSE 5 END AS band, COUNT(*) FROM register GROUP BY 1")),
  "dummies" = "SELECT area, COUNT(*) FROM register GROUP BY area",
  "mean of an area" = paste("SELECT area, COUNT(income), AVG(income), MIN(income), MAX(income)",
    "FROM register GROUP BY area")
)

by_hand <- function(what) {
  queries <- analyst[[what]]
  if (is.null(queries)) return()
  ranks <- "PERCENTILE_CONT\\(ARRAY(\\[.*?\\])\\) WITHIN GROUP \\(ORDER BY income\\)"
  if (engine == "duckdb") queries <- sub(ranks, "QUANTILE_CONT(income, \\1)", queries)
  if (engine == "sqlite") queries <- queries[!grepl("PERCENTILE", queries)]
  before <- computing()
  took <- system.time(for (query in queries) DBI::dbGetQuery(con, query))[["elapsed"]]
  cat(sprintf("%-30s %7.1f s %7.1f s computing\n", "  by hand", took, computing() - before))
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
  "dummies" = function(b) turn_dummy(b, area, reference = "north"),
  "mean of an area" = function(b) turn_group(b, income, within = area, as = "income_area")
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
for (step in names(steps)) {
  book <- timed(step, steps[[step]](book))
  by_hand(step)
}
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
