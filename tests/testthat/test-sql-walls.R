# Nothing of others runs in our SQL, and nothing of the analyst's is lost by it.
skip_on_cran() # long; make test runs it
skip_if_not_installed("RSQLite")

run <- function(connection, ...) for (statement in c(...)) DBI::dbExecute(connection, statement)
ask <- function(connection, query) DBI::dbGetQuery(connection, query)[[1]]
quiet_book <- function(...) quietly(turnbook(...))

# A connection to PostgreSQL of its own, in a schema that goes with it.
fresh_postgresql <- function(frame = parent.frame()) {
  port <- Sys.getenv("ABLETURN_POSTGRES")
  skip_if(!nzchar(port), "no PostgreSQL")
  connection <- door_of_postgresql(port)
  withr::defer({
    run(connection, "ROLLBACK", "DROP SCHEMA IF EXISTS able_room CASCADE",
      "DROP SCHEMA IF EXISTS able_other CASCADE")
    DBI::dbDisconnect(connection)
  }, envir = frame)
  suppressMessages(run(connection, "DROP SCHEMA IF EXISTS able_room CASCADE",
    "DROP SCHEMA IF EXISTS able_other CASCADE", "CREATE SCHEMA able_room",
    "CREATE SCHEMA able_other", "SET search_path = able_room, public"))
  suppressMessages(connection)
}

survey_in <- function(connection, table = "survey") {
  data <- data.frame(id = 1:6, x = c(1, 2, 3, 4, 5, NA), g = c("a\\", "b", "b", "a\\", NA, "c"))
  DBI::dbWriteTable(connection, table, data)
  connection
}

made_in <- function(connection, name) ask(connection, paste("SELECT COUNT(*) FROM", name))

test_each("no text becomes SQL where backslashes are more than letters", c(off = "off", on = "on"),
  function(setting, name) {
    promise("no_text_is_sql")
    con <- survey_in(fresh_postgresql())
    run(con, "CREATE TABLE victim AS SELECT 1 AS v",
      paste("CREATE FUNCTION able_room.boom() RETURNS text LANGUAGE plpgsql AS $$ BEGIN DELETE",
        "FROM able_room.victim; RETURN 'boom'; END $$"),
      paste("SET standard_conforming_strings =", setting), "SET backslash_quote = on",
      "SET escape_string_warning = off")
    book <- quiet_book(con, table = "survey", id = id)
    book <- quietly(turn_recode(book, g, as = "r", becomes("a\\", "b"),
      becomes("||able_room.boom()||", "c"), becomes("'\\'", "a\\"), the_rest("--")))
    expect_equal(book$r, c("'\\'", "a\\", "a\\", "'\\'", NA, "||able_room.boom()||"))
    quietly(write_data(book, con, table = "d2"))
    expect_equal(ask(con, "SELECT r FROM d2 ORDER BY id"), book$r)
    expect_equal(made_in(con, "victim"), 1)
    expect_equal(ask(con, "SHOW standard_conforming_strings"), setting)
    # the script that is run elsewhere
    lines <- core("script_lines")(book, "sql", "postgresql")
    run(con, "DROP TABLE IF EXISTS survey_derived")
    for (statement in strsplit(paste(lines, collapse = "\n"), ";\n")[[1]]) run(con, statement)
    expect_equal(ask(con, "SELECT r FROM able_room.survey_derived ORDER BY id"), book$r)
    expect_equal(made_in(con, "able_room.victim"), 1)
  })

test_that("operators, functions and types of others are not called in PostgreSQL", {
  promise("no_foreign_call")
  con <- survey_in(fresh_postgresql())
  run(con, "CREATE TABLE called (n int)",
    paste("CREATE FUNCTION able_room.wrong(float8, int) RETURNS float8 LANGUAGE sql AS",
      "'SELECT 13::float8'"),
    paste("CREATE FUNCTION able_room.wrong(float8, numeric) RETURNS float8 LANGUAGE sql AS",
      "'SELECT 13::float8'"),
    paste("CREATE FUNCTION able_room.wrong2(float8, int) RETURNS boolean LANGUAGE sql AS",
      "'SELECT true'"),
    unlist(lapply(c("int", "numeric"), function(type) {
      paste0("CREATE OPERATOR able_room.", c("*", "+", "-", "/"), " (LEFTARG = float8, RIGHTARG = ",
        type, ", PROCEDURE = able_room.wrong)")
    })),
    paste0("CREATE OPERATOR able_room.", c("=", "<", ">="), " (LEFTARG = float8, RIGHTARG = int, ",
      "PROCEDURE = able_room.wrong2)"),
    "CREATE FUNCTION able_room.floor(int) RETURNS float8 LANGUAGE sql AS 'SELECT 99::float8'",
    "SET search_path = able_room, pg_catalog, public")
  work <- function(book) {
    quietly(book |> turn_compute(x * 2 + 1, as = "y") |> turn_bin(x, as = "b", at = 3) |>
      turn_standardize(x, how = "z"))
  }
  book <- work(quiet_book(con, table = "survey", id = id))
  memory <- work(quiet_book(DBI::dbReadTable(con, "survey"), id = id))
  expect_equal(as.data.frame(book), as.data.frame(memory), ignore_attr = TRUE)
  expect_true(attr(prove(book), "proved"))
  quietly(write_data(book, con, table = "made"))
  quietly(write_data(book, con, table = "seen", view = TRUE))
  for (name in c("made", "seen")) {
    expect_equal(ask(con, paste("SELECT y FROM", name, "ORDER BY id")), memory$y)
  }
  lines <- core("script_lines")(book, "sql", "postgresql")
  for (statement in strsplit(paste(lines, collapse = "\n"), ";\n")[[1]]) run(con, statement)
  expect_equal(ask(con, "SELECT y FROM able_room.survey_derived ORDER BY id"), memory$y)
})

test_that("a column of somebody else's type is left out, a narrower number is not", {
  promise("no_foreign_call")
  con <- fresh_postgresql()
  run(con, "CREATE DOMAIN able_room.age AS int CHECK (VALUE > 0)",
    "CREATE TYPE able_room.trap AS ENUM ('a')",
    "CREATE TABLE able_room.called AS SELECT 1 AS n",
    paste("CREATE FUNCTION able_room.spring(able_room.trap) RETURNS text LANGUAGE plpgsql AS",
      "$$ BEGIN RAISE EXCEPTION 'called'; END $$"),
    "CREATE CAST (able_room.trap AS text) WITH FUNCTION able_room.spring(able_room.trap)",
    "CREATE TABLE typed (id int, a able_room.age, t able_room.trap)",
    "INSERT INTO typed VALUES (1, 3, 'a'), (2, 4, NULL)")
  told <- suppressWarnings(receipts(book <- turnbook(con, table = "typed", id = id)))
  expect_match(paste(told, collapse = " "), "t \\(able_room.trap\\)")
  expect_equal(names(book), c("id", "a"))
  expect_equal(quietly(turn_compute(book, a + 1, as = "b"))$b, c(4, 5))
})

begin_ways <- list("by BEGIN" = function(con) run(con, "BEGIN"),
  "by the driver" = function(con) DBI::dbBegin(con))
test_each("a transaction of the analyst stays hers, begun", begin_ways, function(begin, name) {
  promise("transaction_kept")
  con <- survey_in(fresh_postgresql())
  back <- function() if (name == "by BEGIN") run(con, "ROLLBACK") else DBI::dbRollback(con)
  begin(con)
  run(con, "UPDATE survey SET x = 55 WHERE id = 1", "SET LOCAL standard_conforming_strings = off",
    "SET LOCAL DateStyle = 'German'")
  book <- quiet_book(con, table = "survey", id = id)
  expect_equal(book$x[1], 55)
  quietly(book <- turn_compute(book, x * 2, as = "y"))
  told <- receipts(write_data(book, con, table = "t"))
  expect_match(paste(told, collapse = " "), "within your\\s+transaction")
  expect_error(quietly(write_data(book, con, table = "t")), class = "ableturn_error_table_exists")
  expect_equal(made_in(con, "t"), 6)
  expect_equal(c(ask(con, "SHOW standard_conforming_strings"), ask(con, "SHOW search_path"),
    ask(con, "SHOW DateStyle"), ask(con, "SHOW transaction_read_only")),
  c("off", "able_room, public", "German, DMY", "off"))
  run(con, "INSERT INTO survey VALUES (7, 7, 'z')") # she goes on writing
  back()
  expect_equal(ask(con, "SELECT x FROM survey WHERE id = 1"), 1)
  expect_equal(ask(con, "SELECT to_regclass('t') IS NULL"), TRUE)
  # one that has failed is told, not ended
  run(con, "BEGIN")
  try(run(con, "SELECT 1/0"), silent = TRUE)
  refused(turnbook(con, table = "survey"), "database-unreached")
  expect_error(run(con, "SELECT 1"), "aborted")
  run(con, "ROLLBACK")
})

test_each("where no part of a transaction can be made, writing in one is refused",
  engines_here()[setdiff(names(engines_here()), "postgresql")], function(connection, engine) {
    promise("transaction_kept")
    if (DBI::dbExistsTable(connection, "held")) run(connection, "DROP TABLE held")
    run(connection, "CREATE TABLE held AS SELECT 1 AS id, 5 AS x")
    book <- quiet_book(connection, table = "held", id = id)
    run(connection, "BEGIN", "UPDATE held SET x = 9")
    expect_equal(quiet_book(connection, table = "held")$x, 9L)
    refused(write_data(book, connection, table = "out"), "transaction-open")
    run(connection, "ROLLBACK")
    expect_equal(as.numeric(ask(connection, "SELECT x FROM held")), 5)
    run(connection, "DROP TABLE held")
  })

test_that("no part, child or reader of the source is written over in PostgreSQL", {
  promise("source_never")
  con <- fresh_postgresql()
  run(con, "CREATE TABLE parent (id int, x float8) PARTITION BY RANGE (id)",
    "CREATE TABLE child1 PARTITION OF parent FOR VALUES FROM (0) TO (50)",
    "CREATE TABLE child2 PARTITION OF parent FOR VALUES FROM (50) TO (200)",
    "INSERT INTO parent SELECT g, g FROM generate_series(1, 100) AS g",
    "CREATE TABLE base (id int, x float8)", "CREATE TABLE heir () INHERITS (base)",
    "INSERT INTO heir SELECT g, g FROM generate_series(1, 10) AS g",
    "CREATE TABLE deep (id int, x float8)", "INSERT INTO deep VALUES (1, 1)",
    "CREATE VIEW above AS SELECT * FROM deep", "CREATE VIEW higher AS SELECT id, x FROM above")
  cases <- list(c("parent", "child1"), c("child1", "parent"), c("base", "heir"), c("heir", "base"),
    c("higher", "deep"), c("higher", "above"), c("deep", "deep"))
  for (case in cases) {
    book <- quiet_book(con, table = case[1], id = id)
    rows <- nrow(book)
    for (to in list(case[2], c("able_room", case[2]))) {
      refused(write_data(book, con, table = to, overwrite = TRUE), "table-is-source")
    }
    other <- door_of_postgresql(Sys.getenv("ABLETURN_POSTGRES"))
    run(other, "SET search_path = able_room")
    expect_error(quietly(write_data(book, other, table = case[2], overwrite = TRUE)),
      class = "ableturn_error_table_is_source")
    DBI::dbDisconnect(other)
    expect_equal(made_in(con, case[1]), rows)
  }
})

test_that("what hangs on a table is kept or told, never taken away", {
  promise("nothing_taken")
  con <- survey_in(fresh_postgresql())
  try(run(con, "CREATE ROLE able_reader"), silent = TRUE)
  book <- quiet_book(con, table = "survey", id = id)
  book <- quietly(turn_compute(book, x * 2, as = "y"))
  memory <- quietly(turn_compute(quiet_book(DBI::dbReadTable(con, "survey")), x * 3, as = "y"))
  write <- function(b = book, ...) quietly(write_data(b, con, table = "d", overwrite = TRUE, ...))
  hanging <- c(grant = "GRANT SELECT ON d TO able_reader", comment = "COMMENT ON TABLE d IS 'hers'",
    index = "CREATE INDEX d_x ON d (x)", reader = "CREATE VIEW reads AS SELECT id FROM d",
    key = "ALTER TABLE d ADD PRIMARY KEY (id)",
    policy = "CREATE POLICY p ON d USING (true)")
  for (what in names(hanging)) {
    write()
    run(con, hanging[[what]])
    kept <- ask(con, "SELECT 'd'::regclass::oid::int")
    write()
    write(memory)
    expect_equal(ask(con, "SELECT y FROM d ORDER BY id"), memory$y, info = what)
    expect_equal(ask(con, "SELECT 'd'::regclass::oid::int"), kept, info = what)
    expect_error(write(columns = c(id, y)), class = "ableturn_error_table_loses", info = what)
    expect_equal(made_in(con, "d"), 6)
    run(con, "DROP TABLE d CASCADE")
  }
  write()
  run(con, paste("CREATE FUNCTION able_room.t() RETURNS trigger LANGUAGE plpgsql AS",
    "$$ BEGIN RAISE EXCEPTION 'called'; END $$"),
  paste("CREATE TRIGGER tr BEFORE INSERT OR TRUNCATE ON d FOR EACH STATEMENT EXECUTE FUNCTION",
    "able_room.t()"))
  expect_error(write(), class = "ableturn_error_table_loses")
  run(con, "DROP TABLE d")
  quietly(write_data(book, con, table = "d", view = TRUE))
  run(con, "GRANT SELECT ON d TO able_reader", "COMMENT ON VIEW d IS 'hers'")
  write(view = TRUE)
  expect_true(ask(con, "SELECT has_table_privilege('able_reader', 'd', 'SELECT')"))
  expect_error(write(view = TRUE, columns = c(y, id)), class = "ableturn_error_table_loses")
  run(con, "DROP VIEW d", "CREATE MATERIALIZED VIEW d AS SELECT 1 AS x")
  expect_error(write(), class = "ableturn_error_table_kind")
  run(con, "DROP MATERIALIZED VIEW d", "DROP OWNED BY able_reader", "DROP ROLE able_reader")
})

test_that("a name belongs to one schema, and a temporary table hides nothing untold", {
  promise("nothing_taken")
  con <- survey_in(fresh_postgresql())
  run(con, "CREATE TABLE able_other.d4 AS SELECT 1 AS theirs",
    "SET search_path = able_room, able_other")
  book <- quiet_book(con, table = "survey", id = id)
  for (overwrite in c(TRUE, FALSE)) {
    told <- refused(write_data(book, con, table = "d4", overwrite = overwrite), "table-elsewhere")
    expect_match(conditionMessage(told), "able_other.*able_room")
  }
  expect_equal(made_in(con, "able_other.d4"), 1)
  quietly(write_data(book, con, table = c("able_room", "d4")))
  expect_equal(c(made_in(con, "able_room.d4"), made_in(con, "able_other.d4")), c(6, 1))
  run(con, "CREATE VIEW able_other.d5 AS SELECT 1 AS one")
  quietly(write_data(book, con, table = c("able_room", "d5")))
  quietly(write_data(book, con, table = c("able_room", "d5"), overwrite = TRUE))
  run(con, "CREATE TEMPORARY TABLE survey AS SELECT 1 AS id")
  refused(turnbook(con, table = "survey"), "table-hidden")
  expect_equal(nrow(quiet_book(con, table = c("able_room", "survey"))), 6)
  expect_equal(nrow(quiet_book(con, table = c("pg_temp", "survey"))), 1)
  expect_match(paste(receipts(turnbook(con, table = c("able_other", "d5"))), collapse = " "),
    "is a view")
})

test_that("a table is there whole or not at all, also where it was there before", {
  promise("whole_or_not")
  con <- survey_in(fresh_postgresql())
  run(con, "CREATE TABLE d (id int CHECK (id < 3))", "INSERT INTO d VALUES (1)")
  memory <- quiet_book(data.frame(id = 1:6))
  expect_error(quietly(write_data(memory, con, table = "d", overwrite = TRUE)),
    class = "ableturn_error")
  expect_equal(ask(con, "SELECT id FROM d"), 1)
  expect_equal(ask(con, "SHOW search_path"), "able_room, public")
})

test_that("a session that was lost is told, and nothing is asked until it is as it was", {
  other <- fresh_postgresql()
  con <- survey_in(fresh_postgresql())
  run(con, "SET statement_timeout = 12345")
  book <- quiet_book(con, table = c("able_room", "survey"))
  lose <- function() {
    run(other, paste0("SELECT pg_terminate_backend(", ask(con, "SELECT pg_backend_pid()"), ")"))
    try(DBI::dbGetQuery(con, "SELECT 1"), silent = TRUE)
    if (!DBI::dbIsValid(con)) skip("this driver does not connect anew")
  }
  value <- function() mean(quietly(turn_compute(book, id + 1, as = "n"))$n)
  before <- value()
  lose()
  expect_error(value(), "statement_timeout = 12345")
  refused(value(), "session-lost")
  refused(quietly(write_data(book, con, table = "after")), "session-lost")
  expect_equal(made_in(other, "pg_class WHERE relname = 'after'"), 0)
  # the driver has a time zone of its own, which is gone as well
  run(con, "SET statement_timeout = 12345", "SET TimeZone = 'UTC'")
  expect_equal(value(), before)
  run(con, "SET statement_timeout = 54321") # the same session: it is hers to change
  expect_equal(value(), before)
})

sqlite_file <- function(...) {
  path <- tempfile(fileext = ".sqlite")
  con <- DBI::dbConnect(RSQLite::SQLite(), path)
  run(con, "CREATE TABLE t AS SELECT 1 AS id, 5.5 AS x", ...)
  DBI::dbDisconnect(con)
  path
}

test_that("a file of SQLite: views are told, nothing is loaded, readers and triggers stay", {
  promise(c("foreign_database", "nothing_taken", "source_never"))
  path <- sqlite_file("CREATE VIEW v AS SELECT id, x FROM t",
    "CREATE VIEW w AS SELECT load_extension('./evil') AS id FROM t",
    "CREATE VIEW broken AS SELECT * FROM gone")
  con <- core("connect_database")(path)
  expect_match(paste(receipts(book <- turnbook(con, table = "v", id = id)), collapse = " "),
    "is a view")
  refused(turnbook(con, table = "w")$id, "database-unreached")
  expect_error(run(con, "CREATE TABLE y AS SELECT 1"), "readonly")
  DBI::dbDisconnect(con)
  con <- DBI::dbConnect(RSQLite::SQLite(), path)
  withr::defer(DBI::dbDisconnect(con))
  book <- quiet_book(con, table = "v", id = id)
  write <- function(table, ...) quietly(write_data(book, con, table = table, overwrite = TRUE, ...))
  expect_error(write("t"), class = "ableturn_error_table_is_source")
  write("d")
  run(con, "CREATE VIEW reads AS SELECT id FROM d")
  write("d") # a broken view elsewhere, and a reader, are no hindrance
  expect_equal(made_in(con, "reads"), 1)
  run(con, "CREATE UNIQUE INDEX d_id ON d (id)")
  write("d")
  expect_equal(ask(con, "SELECT name FROM pragma_index_list('d')"), "d_id")
  expect_error(write("d", columns = id), class = "ableturn_error_table_loses")
  run(con, "CREATE TRIGGER tr AFTER DELETE ON d BEGIN SELECT 1; END")
  expect_error(write("d"), class = "ableturn_error_table_loses")
})

test_that("a file of DuckDB reads nothing else, and its macros are not ours", {
  promise(c("foreign_database", "no_foreign_call", "nothing_taken"))
  library <- Sys.getenv("ABLETURN_DUCKDB")
  skip_if(!nzchar(library), "no DuckDB")
  secret <- temporary(c("a,b", "1,2"))
  path <- tempfile(fileext = ".duckdb")
  con <- core("new_duckdb")(path)
  run(con, "CREATE TABLE survey AS SELECT range AS id, range + 0.5 AS x FROM range(4)",
    "CREATE MACRO floor(x) AS 4242.0", "CREATE MACRO strpos(a, b) AS 1",
    paste0("CREATE MACRO ln(a) AS (SELECT count(*) FROM read_csv('", secret, "'))"),
    paste0("CREATE VIEW spies AS SELECT * FROM read_csv('", secret, "')"))
  refused(turnbook(con, table = "survey"), "foreign-macro")
  # nor by a script that is run there
  script <- quietly(turn_compute(data.frame(x = 1.5), floor(x), as = "f"))
  lines <- core("script_lines")(script, "sql", "duckdb")
  first <- sub(";.*", "", paste(lines[!startsWith(lines, "--")], collapse = "\n"))
  expect_error(DBI::dbGetQuery(con, first), "floor|ln|strpos")
  # a macro that would hide the others from a search
  run(con, "CREATE MACRO lower(a) AS 'none'",
    "CREATE MACRO duckdb_functions() AS TABLE SELECT 'x' AS function_name, true AS internal")
  refused(turnbook(con, table = "survey"), "foreign-macro")
  run(con, "DROP MACRO lower", "DROP MACRO TABLE duckdb_functions")
  DBI::dbDisconnect(con)
  con <- core("connect_database")(path)
  book <- quiet_book(con, table = "survey", id = id)
  book <- quietly(book |> turn_compute(floor(x), as = "f") |> turn_compute(log(x), as = "l"))
  expect_equal(book$f, 0:3)
  expect_equal(book$l, log(0:3 + 0.5))
  error <- refused(turnbook(con, table = "spies"), "database-unreached")
  expect_match(conditionMessage(error), "disabled by configuration")
  expect_error(run(con, "SET enable_external_access = true"))
  expect_error(run(con, "CREATE TABLE able_hers.main.y AS SELECT 1"))
  DBI::dbDisconnect(con)
})

test_each("what comes from a table of one's own is kept in DuckDB", engines_here()["duckdb"],
  function(connection, engine) {
    skip_if(is.null(connection), "no DuckDB")
    run(connection, "CREATE OR REPLACE TABLE base AS SELECT 1 AS id, 2.0 AS x",
      "CREATE OR REPLACE VIEW above AS SELECT * FROM base",
      "CREATE OR REPLACE TABLE noted AS SELECT 1 AS id, 2.0 AS x",
      "COMMENT ON TABLE noted IS 'hers'")
    book <- quiet_book(connection, table = "above", id = id)
    refused(write_data(book, connection, table = "base", overwrite = TRUE), "table-is-source")
    expect_error(quietly(write_data(book, connection, table = "noted", overwrite = TRUE,
      columns = id)), class = "ableturn_error_table_loses")
    run(connection, "DROP VIEW above", "DROP TABLE base", "DROP TABLE noted")
  })
