# Tables whose rows lie on several servers (make test-engines starts three beside the one asked);
# that all is told as in memory is tried in test-sql-table.R.
skip_on_cran()
skip_if(Sys.getenv("ABLETURN_SHARDS") == "")

asked_server <- function() places_here()$shards
run <- function(...) DBI::dbExecute(asked_server(), paste0(...))
get <- function(...) DBI::dbGetQuery(asked_server(), paste0(...))
on_server <- function(shard, statement) {
  run("SELECT dblink_connect('test', '", shard, "')")
  on.exit(run("SELECT dblink_disconnect('test')"))
  get("SELECT * FROM dblink('test', ", DBI::dbQuoteString(asked_server(), statement),
    ") AS a (said TEXT)")$said
}

# The demo survey spread by some variable, on the servers and in memory.
spread_books <- function(by) {
  source <- quietly(turnbook(demo_file("ferry-survey.csv"), codebook = demo_file(
    "ferry-survey.codebook.json"), id = person))
  connection <- table_on("shards", source, "ferry", by = by)
  list(memory = source, table = quietly(turnbook(connection, table = "ferry",
    codebook = demo_file("ferry-survey.codebook.json"), id = person)))
}

test_that("groups on several servers are told as in memory, earlier occasions are refused", {
  refused(turn_change(spread_books("person")$table, income, unit = household_id, order = person),
    "unit-of-shards")
  withr::local_options(ableturn.answers = 60)
  books <- spread_books("person")
  for (how in c("mean", "sd", "sum", "min", "max", "median", "size", "valid")) {
    add <- function(b) turn_group(b, income, within = c(island, gender), how = how, as = "g")
    expect_identical(receipts(there <- add(books$table)), receipts(here <- add(books$memory)),
      info = how)
    expect_equal(there$g, here$g, tolerance = 1e-12, info = how)
    expect_true(attr(prove(there), "proved"), info = how)
  }
})

test_that("a new table is divided as its source is, whatever that looks like", {
  for (i in 1:2) for (name in c("\"Odd\"\"one\"", "two", "made_1", "made_3", "made_4")) {
    on_server(paste0("shard_", i), paste("DROP TABLE IF EXISTS", name))
  }
  run("DROP TABLE IF EXISTS levels, made")
  run("CREATE TABLE levels (id INT, region TEXT, x FLOAT8) PARTITION BY LIST (region)")
  run("CREATE TABLE levels_here PARTITION OF levels FOR VALUES IN ('a')")
  run("CREATE TABLE levels_away PARTITION OF levels FOR VALUES IN ('b''; x') ",
    "PARTITION BY HASH (id)")
  there <- c("\"Odd\"\"one\"", "two")
  for (i in 1:2) {
    on_server("shard_1", paste("CREATE TABLE", there[i], "(id INT, region TEXT, x FLOAT8)"))
    run("CREATE FOREIGN TABLE levels_", i, " PARTITION OF levels_away FOR VALUES WITH (MODULUS 2, ",
      "REMAINDER ", i - 1, ") SERVER shard_1 OPTIONS (table_name '", c("Odd\"one", "two")[i], "')")
  }
  run("INSERT INTO levels SELECT i, CASE WHEN i % 3 = 0 THEN 'a' ELSE 'b''; x' END, i * 0.1 ",
    "FROM GENERATE_SERIES(1, 100) AS i")
  book <- quietly(turnbook(asked_server(), table = "levels", id = id))
  book <- quietly(turn_bin(turn_standardize(book, x), x, as = "band", groups = 3))
  for (twice in 1:2) quietly(write_data(book, asked_server(), table = "made", overwrite = TRUE))
  given <- get("SELECT id, x_z, band FROM made ORDER BY id")
  expect_equal(given$x_z, as.double(scale((1:100) * 0.1)), tolerance = 1e-12)
  expect_equal(as.integer(table(given$band)), c(33L, 33L, 34L))
  expect_equal(get("SELECT COUNT(DISTINCT tableoid) AS n FROM made")$n, 3)
  refused(write_data(book, asked_server(), table = "made"), "table-exists")
  refused(write_data(book, asked_server(), table = "m", columns = c(id, x_z)), "key-of-shards")
  refused(write_data(book, asked_server(), table = "levels", overwrite = TRUE), "table-is-source")
  run("DROP TABLE made")
  refused(write_data(book, asked_server(), table = "made"), "table-on-server")
  quietly(write_data(book, asked_server(), table = "made", overwrite = TRUE))
  # a foreign table by itself is one shard, and all its units lie there
  run("DROP FOREIGN TABLE IF EXISTS single")
  run("CREATE FOREIGN TABLE single (id INT, region TEXT, x FLOAT8) SERVER shard_1 ",
    "OPTIONS (table_name 'two')")
  single <- quietly(turnbook(asked_server(), table = "single", id = id))
  single <- quietly(turn_group(turn_standardize(single, x), x, within = region, how = "mean"))
  expect_equal(mean(single$x_z), 0)
  for (twice in 1:2) quietly(write_data(single, asked_server(), table = "alone", overwrite = TRUE))
  expect_equal(get("SELECT AVG(x_mean - x) AS m FROM alone")$m, 0, tolerance = 1e-12)
  expect_true(attr(prove(single), "proved"))
})

test_that("a server that fails is named, nothing is half made, and the book still holds", {
  withr::local_options(ableturn.answers = 60)
  book <- quietly(turn_standardize(spread_books("person")$table, age))
  run("DROP TABLE IF EXISTS made")
  write <- function() write_data(book, asked_server(), table = "made", overwrite = TRUE)
  left <- function() {
    vapply(1:3, function(i) {
      on_server(paste0("shard_", i), paste0("SELECT CAST(to_regclass('made_", i, "') AS TEXT)"))
    }, "")
  }
  for (i in 1:3) on_server(paste0("shard_", i), paste0("DROP TABLE IF EXISTS made_", i))
  # one shard cannot make its part
  on_server("shard_2", "ALTER TABLE ferry RENAME COLUMN age TO gone")
  refused(write(), "database-unreached")
  expect_true(all(is.na(left())))
  on_server("shard_2", "ALTER TABLE ferry RENAME COLUMN gone TO age")
  # one has ended its part, the next one cannot
  real <- core("run_there")
  put <- function(value) utils::assignInNamespace("run_there", value, "ableturn")
  withr::defer(put(real))
  put(function(site, shard, statement) {
    ends <- statement == "COMMIT" && shard$server == "shard_2"
    real(site, shard, if (ends) "SELECT no_such_thing" else statement)
  })
  refused(write(), "database-unreached")
  put(real)
  expect_true(all(is.na(left())))
  expect_false(DBI::dbExistsTable(asked_server(), "made"))
  # one is down
  port <- get("SELECT option_value AS port FROM pg_foreign_server, ",
    "pg_options_to_table(srvoptions) WHERE srvname = 'shard_2' AND option_name = 'port'")$port
  end <- paste("SELECT COUNT(pg_terminate_backend(pid))::TEXT FROM pg_stat_activity",
    "WHERE pid <> pg_backend_pid() AND backend_type = 'client backend'")
  on_server("shard_2", end)
  run("ALTER SERVER shard_2 OPTIONS (SET port '1')")
  withr::defer(run("ALTER SERVER shard_2 OPTIONS (SET port '", port, "')"))
  down <- tryCatch(quietly(turn_standardize(book, income, how = "robust")), error = identity)
  expect_s3_class(down, "ableturn_error_server_unreached")
  expect_match(conditionMessage(down), "The server shard_2, on which a part of ferry lies")
  refused(write(), "server-unreached")
  run("ALTER SERVER shard_2 OPTIONS (SET port '", port, "')")
  expect_true(all(is.na(left())))
  expect_false(DBI::dbExistsTable(asked_server(), "made"))
  quietly(write())
  expect_equal(get("SELECT AVG(age_z) AS m FROM made")$m, 0, tolerance = 1e-12)
})

test_that("without dblink the table is worked with as a whole, and that is told", {
  books <- spread_books("person")
  run("DROP EXTENSION dblink")
  withr::defer(run("CREATE EXTENSION dblink"))
  said <- receipts(whole <- turnbook(asked_server(), table = "ferry", id = person))
  expect_match(paste(said, collapse = " "), "lie on shard_1, shard_2, shard_3 and all pass")
  add <- function(b) quietly(turn_standardize(b, income, how = "robust"))
  expect_equal(add(whole)$income_robust, add(turnbook(as.data.frame(whole)))$income_robust,
    tolerance = 1e-12)
})

test_that("links can only read", {
  book <- spread_books("person")$table
  site <- core("info_of")(book)$site
  add <- function(table) paste("INSERT INTO", table, "SELECT * FROM", table, "RETURNING 1")
  refused(core("ask_shards")(site, add, c(n = "INT"), function(from) paste("SELECT * FROM", from)),
    "database-unreached")
  expect_equal(get("SELECT COUNT(*) AS n FROM ferry")$n, 1200)
})
