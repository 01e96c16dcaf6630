# Scripts in SQL: each on every engine that can be tried here.
skip_on_cran() # long; make test runs it
skip_if_not_installed("RSQLite")

sql_of <- function(book, engine = "sqlite") core("script_lines")(book, "sql", engine)

odd_texts <- c("'; DROP TABLE survey; --", "a\"b", "a\\", "/* x */", "two\nlines", "%s %d",
  "$1 :a ?", "\u202eright", "--", "''", "E'\\n'", "{x}", "tab\there")

test_each("nothing of the analyst's becomes SQL", setNames(nm = odd_texts), function(text, name) {
  data <- data.frame(x = c(1, 2, 2, NA), t = c(text, "b", "b", NA))
  names(data)[1] <- odd <- gsub("\n|\t", " ", text)
  book <- quietly(define(turnbook(data), tidyselect::all_of(odd), label = text, note = text,
    codes = setNames(1:2, c(text, "two")), missing = setNames(2, text)))
  book <- quietly(turn_recode(book, t, as = "made", becomes(1, text, label = text),
    the_rest(0, label = "rest"), label = text))
  book <- quietly(turn_flag(book, unanswered(!!as.name(odd), !!text), as = paste("f", odd)))
  book <- quietly(turn_compute(book, paste0(t, !!text), as = "joined"))
  same_on_engines(book, text)
  for (engine in core("engine_names")()) core("refuse_foreign_sql")(sql_of(book, "sqlite"))
  expect_true(attr(prove(book, "sql"), "proved"))
})

test_that("names and texts are quoted as each engine's own driver does", {
  for (engine in names(engines_here())) {
    connection <- engines_here()[[engine]]
    names <- gsub("\n|\t", " ", odd_texts)
    named <- DBI::dbGetQuery(connection, paste("SELECT", paste("1 AS", core("sql_name")(names),
      collapse = ", ")))
    expect_equal(names(named), names, info = engine)
    if (engine == "postgresql") {
      expect_equal(core("sql_name")(names), as.character(DBI::dbQuoteIdentifier(connection, names)))
    }
    about <- core("engines")[[engine]]
    given <- DBI::dbGetQuery(connection, paste("SELECT",
      paste(core("sql_text")(odd_texts, about), "AS", letters[seq_along(odd_texts)],
        collapse = ", ")))
    expect_equal(unname(unlist(given)), odd_texts, info = engine)
  }
})

test_that("numbers are read by each engine as they are", {
  set.seed(5)
  numbers <- c(0.1, 1 / 3, pi, 1e300, 5e-324, .Machine$double.xmax, 2^53, 2^53 - 1, -0.7, 1e15,
    1e22, 123456789012345678, runif(600), rnorm(200) * 10^sample(-300:290, 200, TRUE))
  for (engine in names(engines_here())) {
    about <- core("engines")[[engine]]
    literals <- paste0("CAST(", core("number_sql")(numbers, about), " AS ", about$real, ")")
    given <- unlist(lapply(split(literals, seq_along(literals) %/% 100), function(some) {
      unlist(DBI::dbGetQuery(engines_here()[[engine]], paste("SELECT",
        paste(some, "AS", paste0("c", seq_along(some)), collapse = ", "))))
    }))
    order <- unlist(split(seq_along(numbers), seq_along(numbers) %/% 100))
    expect_identical(as.double(unname(given)), numbers[order], info = engine)
  }
})

test_each("awkward data", sampled(frames), function(data, name) {
  for (step in names(sampled(steps, 2))) {
    book <- tryCatch(quietly(steps[[step]](turnbook(data))), error = function(e) NULL)
    if (!is.null(book) && !length(core("derived_names")(book))) {
      book <- tryCatch(quietly(turn_flag(book, unanswered(x) | unanswered(g), as = "f")),
        error = function(e) NULL)
    }
    if (is.null(book)) next
    extreme <- grepl("extreme", name) || step == "power"
    same_on_engines(book, paste(name, step), refused = extreme)
  }
})

survey_book <- function() {
  quietly(turnbook(demo_file("ferry-survey.csv"),
    codebook = demo_file("ferry-survey.codebook.json"), id = person))
}

test_that("the demo survey with every kind of turn is the same on every engine", {
  book <- quietly(survey_book() |>
    define(crossings, missing = c("Don't know" = 98, "Refused" = 99)) |>
    turn_recode(crossings, as = "rider3", becomes(0, 0), becomes(1, from(1, upto = 4)),
      becomes(2, from(5)), becomes(8, unanswered("Refused"))) |>
    turn_recode(as = "young", becomes(1, gender_code = 1, age = under(40)), the_rest(0)) |>
    turn_reverse(c(st_2, st_5), limits = c(1, 5)) |>
    turn_rescale(opinion, limits = c(1, 5), to = c(0, 100)) |>
    turn_composite(c(st_1, st_2_r, st_3, st_4, st_5_r, st_6), as = "strain", at_least = 5) |>
    turn_standardize(strain) |> turn_standardize(strain, how = "sten", within = island) |>
    turn_standardize(income, how = "percentile", weight = weight) |>
    turn_standardize(income, how = "normal", as = "income_n") |>
    turn_bin(age, as = "age3", at = c(30, 60)) |>
    turn_bin(income, as = "income4", groups = 4) |>
    turn_collapse(ticket, as = "ticket4", rarer_than = 0.05) |>
    turn_dummy(island, coding = "helmert") |> turn_flag(wait_min > median(wait_min), as = "long") |>
    turn_compute(income / sqrt(household), as = "income_eq") |>
    turn_key(c(st_1, st_3), key = c(2, 3)) |> turn_tally(st_1:st_6, of = 4, as = "fours") |>
    turn_crosswalk(ticket, as = "fare", table = data.frame(ticket = c("Single", "Return"),
      fare = c(4.5, 8))) |>
    turn_norm(age, as = "age_n", table = data.frame(raw = c("0 .. 39", "40 .."),
      scaled = c(10, 20))) |>
    turn_group(income, within = household_id, how = "median") |>
    turn_winsorize(wait_min) |> turn_component(tr_1:tr_4, as = "trust", at_least = 3) |>
    turn_fill(tr_1:tr_4, at_least = 3) |> turn_split(ticket, by = " ") |>
    turn_consensus(c(qz_1, qz_2, qz_3, qz_4), as = "code", ties = "first") |>
    turn_interact(age, household) |> turn_compute(draw_normal(seed = 3), as = "noise") |>
    turn_compute(years_between(as.Date("1990-02-28"), as.Date("2031-03-01")) + age, as = "y"))
  expect_length(setdiff(core("turn_verbs")(), c(core("verbs_in")(book, names(book)), "change",
    "instrument")), 0)
  same_on_engines(book, "demo")
  expect_true(attr(prove(book, "sql"), "proved"))
})

test_that("moments, days and months are those of the calendar on every engine", {
  set.seed(8)
  days <- c(as.Date(c("0000-03-01", "1899-12-31", "1900-02-28", "2000-02-29", "2031-12-31",
    "9999-12-31")), as.Date(sample(-700000:2900000, 80), origin = "1970-01-01"))
  texts <- format(days, "%Y-%m-%d")
  texts <- c(texts, "2023-02-30", "2023-13-01", "2023-00-10", "23-01-01", "2023-1-1", "x", "",
    "2031-03-01 08:15", "2031-03-01T23:59:30.5+02:00", "2031-03-01 08:15 Z",
    "2031-03-01 08:15:1+0130", "2031-03-01 08:15 -03:30", "2031-03-01 0815",
    "2031-03-01 08:15x", "2031-03-01 08:15 +")
  data <- data.frame(t = texts, u = rev(texts), d = as.Date("2020-02-29") + seq_along(texts) * 37)
  book <- quietly(turnbook(data) |> turn_compute(as.Date(t), as = "day") |>
    turn_compute(year(day), as = "y") |> turn_compute(month(day), as = "m") |>
    turn_compute(day(day), as = "n") |> turn_compute(weekday(day), as = "w") |>
    turn_compute(years_between(day, d), as = "age") |>
    turn_compute(months_between(d, day), as = "months") |> turn_compute(hour(t), as = "h") |>
    turn_compute(hours_between(t, u), as = "hours") |> turn_compute(d + 30, as = "later") |>
    turn_compute(paste0(d, "!"), as = "said") |> turn_compute(day - d, as = "apart"))
  same_on_engines(book, "calendar")
})

test_that("texts are cut, joined and replaced alike on every engine", {
  texts <- c("plain", " out ", "\tt\n", "\u00e9t\u00e9", "e\u0301t", "STRASSE", "stra\u00dfe",
    "\u0130i", "a.b.a", "100%", "", NA, "\u65e5\u672c", "x", "1e5", " -.5E+02 ", "5.", ".",
    "1e", "+7", "0x1F", "1 2", "\u00a05")
  data <- data.frame(t = texts, u = rev(texts), n = c(1e5, 0.1, 1 / 3, 1e-5, 123456.789, -2, 1e16,
    2^53, NA, 0, 1e-300, 1e300, 12345678901234567, seq(0.5, 5, length.out = 10)),
    k = seq(-2, 9, by = 0.5))
  book <- quietly(turnbook(data) |> turn_compute(toupper(t), as = "up") |>
    turn_compute(tolower(t), as = "down") |> turn_compute(trimws(t), as = "bare") |>
    turn_compute(nchar(t) / 2, as = "half") |> turn_compute(substr(t, 2, 3), as = "piece") |>
    turn_compute(substr(t, nchar(t) - 1, k), as = "end") |>
    turn_flag(startsWith(t, u) | endsWith(t, "e"), as = "begins") |>
    turn_compute(paste0(t, "-", n), as = "joined") |> turn_flag(grepl("a.b", t), as = "has") |>
    turn_compute(sub("a", "<a>", t), as = "first") |> turn_compute(gsub("a", "", t), as = "all") |>
    turn_flag(grepl("^[a-z]+$", t, regex = TRUE), as = "fits") |>
    turn_compute(gsub("(a)|(b)", "<\\1>", t, regex = TRUE), as = "pattern") |>
    turn_compute(t + 0, as = "number") |> turn_flag(t == "\u00e9t", as = "same"))
  same_on_engines(book, "texts")
})

test_that("long tables, many rules and many variables are written such that engines can run them", {
  set.seed(2)
  data <- data.frame(x = sample(1:3000, 4000, TRUE), y = round(rnorm(4000), 3))
  book <- quietly(turnbook(data) |>
    turn_crosswalk(x, as = "w", table = data.frame(x = 1:2500, w = sqrt(1:2500))) |>
    turn_standardize(y, how = "percentile") |> turn_bin(y, as = "y50", groups = 50))
  book <- quietly(Reduce(function(b, i) {
    turn_compute(b, each * 2 - each / 3, each = tidyselect::all_of(c("x", paste0("v", i - 1))[1 +
      (i > 1)]), as = paste0("v", i))
  }, 1:60, book))
  same_on_engines(book, "long")
})

test_that("what cannot be said in SQL is refused with its reason, and listed", {
  book <- function(data, ...) quietly(turn_compute(turnbook(data), ..., as = "v"))
  cases <- list(
    fractions_left = list(book(data.frame(x = c(0.5, 3)), x %% 2), "sqlite"),
    extreme = list(book(data.frame(x = c(1e200, 3)), x + 2), "postgresql"),
    many_texts = list(book(data.frame(x = as.character(1:1200)), gsub("1|2", "", x, regex = TRUE)),
      "duckdb"),
    long_text = list(quietly(turn_compute(turnbook(data.frame(x = c("a", strrep("b", 300))),
      id = x), draw_uniform(seed = 1), as = "v")), "sqlite"),
    odd_name = list(book(data.frame("a\nb" = 1, y = 1, check.names = FALSE), y + 1), "sqlite"),
    long_name = list(book(setNames(data.frame(1, 2), c(strrep("n", 64), "y")), y + 1),
      "postgresql"),
    percentiles = list(quietly(turn_norm(turnbook(data.frame(x = 1:3)), x, how = "percentile",
      table = data.frame(mean = 2, sd = 1))), "sqlite"),
    truth_name = list(quietly(turn_compute(data.frame(a = 1), a + 1, as = "True")), "sqlite"),
    alike_names = list(book(data.frame(a = 1, A = 2), a + 1), "duckdb"),
    many_columns = list(book(as.data.frame(as.list(setNames(1:1600, paste0("c", 1:1600)))), c1 + 1),
      "postgresql")
  )
  # the others need a table, see test-sql-table.R
  expect_setequal(c(names(cases), "moments"), names(core("sql_refusals")))
  for (id in names(cases)) {
    refused(sql_of(cases[[id]][[1]], cases[[id]][[2]]), "sql-refused")
    said <- tryCatch(sql_of(cases[[id]][[1]], cases[[id]][[2]]), error = conditionMessage)
    expect_match(said, core("squeeze")(core("sql_refusals")[[id]]$what), fixed = TRUE)
  }
  told <- prove(cases$fractions_left[[1]])
  expect_true(attr(told, "proved"))
  expect_named(attr(told, "refused"), "sql")
  refused(prove(cases$fractions_left[[1]], "sql"), "sql-refused")
  refused(write_script(cases$extreme[[1]], tempfile(), engine = "sqlite"), "engine-dialect")
  expect_setequal(sql_engines()$engine, vapply(core("engine_names")(),
    function(name) core("engines")[[name]]$title, ""))
})

test_that("every word of the formula language has its SQL, and nothing else is run", {
  words <- core("all_words")()
  learned <- core("words_with")("learned")
  spelled <- c(learned, "c", "<-", "draw_uniform", "draw_normal")
  expect_setequal(names(core("sql_words")()), setdiff(words, spelled))
  for (line in c("SELECT load_extension('x')", "CREATE TABLE a AS SELECT 1; DROP TABLE b;",
    "ATTACH 'x' AS y", "SELECT writefile('a', 'b')")) {
    refused(core("refuse_foreign_sql")(line), "script-foreign")
  }
  files <- list.files(test_path("../../R"), "^sql-", full.names = TRUE)
  for (file in files[!basename(files) %in% c("sql-code.R", "sql-check.R")]) {
    expect_false(any(grepl("\"'\"|\"\\\\\"\"|\"-- ", readLines(file))), info = file)
  }
})

test_that("a script makes its table beside the data, which stay as they are", {
  path <- tempfile(fileext = ".sql")
  book <- quietly(turn_reverse(survey_book(), st_2, limits = c(1, 5)))
  write_script(book, path, dialect = "sql", engine = "sqlite")
  connection <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
  on.exit(DBI::dbDisconnect(connection))
  data <- as.data.frame(core("stored_columns")(book, "sqlite"), optional = TRUE)
  DBI::dbWriteTable(connection, "survey", data)
  DBI::dbExecute(connection, paste(readLines(path), collapse = "\n"))
  made <- DBI::dbReadTable(connection, "survey_derived", check.names = FALSE)
  expect_equal(made[names(data)], data)
  expect_setequal(names(made), c(names(data), "st_2_r"))
  expect_equal(DBI::dbReadTable(connection, "survey", check.names = FALSE), data)
})
