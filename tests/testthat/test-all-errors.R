# Every error that can be raised is named by some test: most here, by a call that must raise it.
quiz <- data.frame(id = 1:6, a = c(1, 2, 3, 4, 5, 1), b = c(5, 4, 3, 2, 1, 2), t = letters[1:6],
  d = as.Date("2031-03-01") + 1:6)
bytes_in <- function(bytes, ending) {
  path <- tempfile(fileext = ending)
  writeBin(as.raw(bytes), path)
  path
}
near_table <- function(rows = 40, code = function(b) b, id = "id") {
  connection <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
  DBI::dbWriteTable(connection, "far", data.frame(id = seq_len(rows), x = seq_len(rows) / 3,
    y = seq_len(rows) %% 7, w = 1 + seq_len(rows) / 9, t = paste0("text", seq_len(rows))))
  withr::local_options(ableturn.answers = 8, .local_envir = parent.frame())
  do.call(turnbook, c(list(connection, table = "far"), if (!is.null(id)) list(id = "id")))
}
long_formula <- function() {
  steps <- paste0("v", 1:11, " <- v", 0:10, " + v", 0:10, collapse = "; ")
  str2lang(paste0("{ v0 <- a; ", steps, "; mean(v11) }"))
}

wrong <- list(
  "baseline-twice" = quote(turn_change(quiz, a, unit = b, order = id, from = id > 0)),
  "occasions-or-rows" = quote(turn_change(quiz, a, occasions = c(a, b))),
  "one-occasion" = quote(turn_change(quiz, occasions = a)),
  "wide-condition" = quote(turn_change(quiz, occasions = c(a, b), from = a == 1)),
  "skip-condition" = quote(turn_change(quiz, a, unit = b, order = id, from = id == 1,
    skip_missing = TRUE)),
  "from-unclear" = quote(turn_change(quiz, a, unit = b, order = id, from = 1)),
  "reliable-only" = quote(turn_change(quiz, a, unit = b, order = id, sd = 2)),
  "reliability-needed" = quote(turn_change(quiz, a, unit = b, order = id, how = "reliable")),
  "reliability-range" = quote(turn_change(quiz, a, unit = b, order = id, how = "reliable",
    reliability = 1, better = "low")),
  "better-needed" = quote(turn_change(quiz, a, unit = b, order = id, how = "reliable",
    reliability = 0.8)),
  "sd-positive" = quote(turn_change(quiz, a, unit = b, order = id, how = "reliable",
    reliability = 0.8, better = "low", sd = 0)),
  "leave-out-how" = quote(turn_group(quiz, a, within = b, how = "sd", leave_out = TRUE)),
  "leave-out-weight" = quote(turn_group(quiz, a, within = b, weight = id, leave_out = TRUE)),
  "ends-both" = quote(turn_winsorize(quiz, a, at = c(0, 1), limits = c(1, 2))),
  "ends-within" = quote(turn_winsorize(quiz, a, limits = c(1, 2), within = b)),
  "bad-shares" = quote(turn_winsorize(quiz, a, at = c(1, 99))),
  "bad-ends" = quote(turn_winsorize(quiz, a, limits = c(2, 1))),
  "component-constant" = quote(turn_component(transform(quiz, o = 1), c(a, o), as = "f")),
  "component-few" = quote(turn_component(data.frame(a = c(1, 2, NA), b = c(1, 3, 2)), c(a, b),
    as = "f")),
  "component-tied" = quote(turn_component(data.frame(a = c(1, 1, 2, 2), b = c(1, 2, 1, 2)), c(a, b),
    as = "f")),
  "component-flat" = quote(turn_component(transform(quiz, o = a), c(a, o), as = "f",
    loadings = c(a = 1, o = -1))),
  "component-nominal" = quote(turn_component(define(turnbook(quiz), a, level = "nominal"), c(a, b),
    as = "f")),
  "positive-not-item" = quote(turn_component(quiz, c(a, b), as = "f", positive = id)),
  "loadings-form" = quote(turn_component(quiz, c(a, b), as = "f", loadings = c(1, 2))),
  "loadings-lost" = quote(turn_component(quiz, c(a, b), as = "f", loadings = c(a = 1))),
  "loadings-sign" = quote(turn_component(quiz, c(a, b), as = "f", loadings = c(a = 1, b = 2),
    positive = a)),
  "loadings-numbers" = quote(turn_component(quiz, c(a, b), as = "f",
    loadings = c(a = 1, b = NA))),
  "loadings-moments" = quote(turn_component(quiz, c(a, b), as = "f", loadings = data.frame(
    item = c("a", "b"), loading = 1:2, mean = 1:2))),
  "split-numbers" = quote(turn_split(quiz, a)),
  "split-none" = quote(turn_split(data.frame(w = c(";", "; ;")), w)),
  "split-many" = quote(turn_split(data.frame(w = paste0("a", 1:200)), w)),
  "split-by" = quote(turn_split(quiz, t, by = "")),
  "one-coder" = quote(turn_consensus(quiz, a, as = "k")),
  "coders-many" = quote(turn_consensus(as.data.frame(matrix(1, 3, 9)), V1:V9, as = "k")),
  "coders-types" = quote(turn_consensus(quiz, c(a, t), as = "k")),
  "coders-differ" = quote(turn_consensus(define(define(turnbook(quiz), a, codes = c(Yes = 1)), b,
    codes = c(No = 1)), c(a, b), as = "k")),
  "choices-chance" = quote(turn_key(quiz, c(a, b), key = c(1, 2), choices = 4)),
  "bad-choices" = quote(turn_key(quiz, c(a, b), key = c(1, 2), wrong = "chance", choices = 1)),
  "choices-unknown" = quote(turn_key(quiz, c(a, b), key = c(1, 2), wrong = "chance")),
  "norm-raw-only" = quote(turn_norm(quiz, a, table = data.frame(raw = 1, scaled = 2), how = "t")),
  "norm-numbers" = quote(turn_norm(quiz, a, table = data.frame(mean = 1, sd = 0))),
  "norm-two-numbers" = quote(turn_norm(quiz, a, table = data.frame(b = 1:2, id = 1:2, mean = 1,
    sd = 1))),
  "norm-linear" = quote(turn_norm(quiz, a, table = data.frame(mean = 1, sd = 1),
    between = "linear")),
  "norm-band-twice" = quote(turn_norm(quiz, a, table = data.frame(mean = 1:2, sd = 1))),
  "together-ticks" = quote(look(quiz, a, b, together = TRUE)),
  "together-by" = quote(look(quiz, a, by = b, together = TRUE)),
  "reliability-weighted" = quote(item_analysis(quiz, c(a, b), omega = TRUE, pairwise = TRUE)),
  "by-many" = quote(item_analysis(data.frame(a = 1:99, b = 99:1, g = 1:99), c(a, b), by = g)),
  "ordinal-many" = quote(item_analysis(data.frame(a = 1:99, b = 99:1), c(a, b), ordinal = TRUE)),
  "ordinal-few" = quote(item_analysis(transform(quiz, o = 1), c(a, o), ordinal = TRUE)),
  "bad-reference" = quote(turn_standardize(quiz, a, reference = c(3, 0))),
  "reference-alone" = quote(turn_standardize(quiz, a, reference = c(3, 1), within = b)),
  "reference-names" = quote(turn_standardize(quiz, a, reference = c(m = 3, s = 1))),
  "one-weight" = quote(turn_standardize(quiz, a, weight = c(a, b))),
  "weights-positive" = quote(turn_composite(quiz, c(a, b), as = "s", weights = c(1, 0))),
  "c-alone" = quote(turn_compute(quiz, a + c(1, 2), as = "s")),
  "c-of-variables" = quote(turn_compute(quiz, mean(c(a, b)), as = "s")),
  "na-rm" = quote(turn_compute(quiz, mean(a, na.rm = TRUE), as = "s")),
  "na-rm-row" = quote(turn_compute(quiz, row_mean(a, b, na.rm = TRUE), as = "s")),
  "missing-value" = quote(turn_flag(quiz, a > 3, as = "f", missing = 0)),
  "change-unit" = quote(turn_change(quiz, c(a, b))),
  "half" = quote(turn_compute(quiz, round(a, half = "down"), as = "s")),
  "date-not-number" = quote(turn_standardize(quiz, d)),
  "date-with-other" = quote(turn_flag(quiz, a > "2031-03-04", as = "f")),
  "date-compared" = quote(turn_flag(quiz, d > 2030, as = "f")),
  "date-form" = quote(turn_flag(quiz, d > "04.03.2031", as = "f")),
  "selection-condition" = quote(look_rows(quiz, a, b > 2)),
  "rule-date" = quote(turn_recode(quiz, d, as = "k", becomes(1, upto(2030)), the_rest(2))),
  "date-range" = quote(turn_recode(quiz, d, as = "k", becomes(1, upto("2031-03-04")), the_rest(2))),
  "statistic-of-text" = quote(turn_compute(quiz, mean(t), as = "m")),
  "statistic-of-day" = quote(turn_compute(data.frame(x = "2031-03-01"), min(x), as = "m")),
  "statistic-of-time" = quote(turn_compute(data.frame(x = "2031-03-01 10:00"), min(x), as = "m")),
  "statistic-long" = quote(turn_compute(quiz, !!long_formula(), as = "m")),
  "empty-argument" = quote(core("check_formula")(quote(row_mean(a, , b)), c("a", "b"),
    "row_mean(a, , b)")),
  "equals-sign" = quote(turn_flag(quiz, a = 3, as = "m")),
  "quantile-share" = quote(turn_compute(quiz, quantile(a, 1.5), as = "m")),
  "option-variable" = quote(turn_compute(quiz, mean(a, within = a + b), as = "m")),
  "groups-single" = quote(turn_standardize(quiz, a, within = t)),
  "id-one" = quote(turnbook(quiz, id = c(a, b))),
  "not-a-codebook" = quote(turnbook(quiz, codebook = 3)),
  "data-grouped" = quote(turnbook(structure(quiz, groups = data.frame(a = 1), class = c("by",
    "data.frame")))),
  "rules-both" = quote(turn_recode(quiz, as = "k", becomes(1, 2), becomes(3, a = 2))),
  "merge-code" = quote(turn_collapse(quiz, a, becomes("High", from(3)))),
  "rules-not-table" = quote(turn_recode(quiz, a, as = "k", rules = 3)),
  "rules-no-code" = quote(turn_recode(quiz, a, as = "k", rules = data.frame(a = 1))),
  "rules-no-rows" = quote(turn_recode(quiz, as = "k", rules = data.frame(code = 1, a = 1)[0, ])),
  "rules-row-empty" = quote(turn_recode(quiz, as = "k", rules = data.frame(code = 1, a = NA))),
  "unchanged-several" = quote(turn_recode(quiz, as = "k", becomes(1, a = 1),
    the_rest(unchanged()))),
  "unchanged-type" = quote(turn_recode(quiz, t, as = "k", becomes(1, "a"), the_rest(unchanged()))),
  "table-two" = quote(core("check_turn")(core("new_turn")("crosswalk", "k", from = "a",
    table = list(a = 1, b = 2, e = 3)))),
  "table-blank" = quote(turn_crosswalk(quiz, t, table = data.frame(t = c("a", ""), v = 1:2))),
  "table-empty" = quote(turn_crosswalk(quiz, t, table = data.frame(t = "a", v = 1)[0, ])),
  "table-no-table" = quote(turn_norm(quiz, a, table = 3)),
  "table-columns" = quote(turn_norm(quiz, a, table = data.frame(raw = 1, score = 2))),
  "norm-scaled" = quote(turn_norm(quiz, a, table = data.frame(raw = 1:2, scaled = c("x", "y")))),
  "norm-raw" = quote(turn_norm(quiz, a, table = data.frame(raw = c("{missing: any}", "1 .. 5"),
    scaled = 1:2))),
  "rename-what" = quote(write_data(turnbook(quiz), tempfile(fileext = ".csv"),
    rename = c(a = "b"))),
  "rename-form" = quote(write_data(turnbook(quiz), tempfile(fileext = ".csv"), rename = "a")),
  "rename-taken" = quote(write_data(turn_compute(turn_compute(quiz, a + 1, as = "e"), a + 2,
    as = "f"), tempfile(fileext = ".csv"), rename = c(e = "f"))),
  "reasons-taken" = quote(core("beside_each")(list(a = 1, a_why = 2), list(a = "x"))),
  "sheet-too-long" = quote(core("refuse_too_long")(list(strrep("x", 40000)), 1)),
  "spreadsheet-locked" = quote(turnbook(bytes_in(c(0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1),
    ".xlsx"))),
  "file-not-utf8" = quote(apply_turns(quiz, bytes_in(c(0x61, 0xff, 0x0a), ".yaml"))),
  "not-wide" = quote(read_data(bytes_in(charToRaw("a,b\n1,2\n"), ".csv"),
    reading = list(encoding = "UTF-16"))),
  "file-changed" = quote(core("read_steady")(path <- bytes_in(1, ".csv"), function() {
    writeLines("more", path)
  })),
  "line-endless" = quote(core("last_line_end")(charToRaw("no end"), "a.csv")),
  "in-place-form" = quote(turnbook(bytes_in(1, ".sav"), engine = "duckdb")),
  "load-form" = quote(turnbook(bytes_in(1, ".parquet"), engine = "sqlite")),
  "codebook-pair" = quote(core("read_categories")(list(list(value = list(1, 2))))),
  "package-needed" = quote(core("need_package")("no.such.package", "this")),
  "bad-about" = quote(write_package(turnbook(quiz), tempfile(fileext = ".zip"), about = "me")),
  "bad-creators" = quote(write_package(turnbook(quiz), tempfile(fileext = ".zip"),
    about = list(creators = 3))),
  "folder-full" = quote({
    folder <- withr::local_tempdir()
    writeLines("x", file.path(folder, "x"))
    zip <- tempfile(fileext = ".zip")
    write_package(quietly(turn_compute(quiz, a + 1, as = "e")), zip)
    core("unpack_package")(zip, folder)
  }),
  "formula-not-text" = quote(core("parse_formula")(list(1))),
  "desk-port" = quote(desk(turnbook(quiz), port = 80)),
  "desk-sheet" = quote(desk(turnbook(quiz), sheet = tempfile(fileext = ".yaml"))),
  "typed-block" = quote(core("typed_formula")("{ t <- a; t }")),
  "typed-number" = quote(core("typed_kinds")$number("1 2", "Groups")),
  "typed-numbers" = quote(core("typed_list_of_numbers")("a b", "Cut points")),
  "typed-pair" = quote(core("typed_list_of_numbers")("1", "Limits", 2)),
  "no-data-file" = quote(core("sheet_data_file")(temporary(c("able_turn: 1", "turns: []"),
    ".yaml"))),
  "sql-digits" = quote(write_script(turn_compute(quiz, round(a, b), as = "e"),
    tempfile(fileext = ".sql"), dialect = "sql", engine = "sqlite")),
  "prove-needs-id" = quote(prove(turn_flag(near_table(id = NULL), y > 3, as = "f"))),
  "working-by-id" = quote(show_working(turn_flag(near_table(), y > 3, as = "f"), f, rows = 2)),
  "weighted-ranks" = quote(turn_compute(near_table(), median(x, weight = w), as = "m")),
  "address-unknown" = quote(core("connect_database")("nowhere://a")),
  "cells-many" = quote({
    withr::local_options(ableturn.fetch = FALSE)
    core("refuse_many_cells")(2e6)
  })
)

test_each("a wrong call is told", wrong, function(call, id) {
  skip_if_not_installed("RSQLite")
  told <- tryCatch(quietly(eval(call, list2env(list(quiz = quiz), parent = environment()))),
    error = identity)
  expect_s3_class(told, paste0("ableturn_error_", gsub("-", "_", id)))
  # what is wrong, and what to do, without R's own words
  lines <- strsplit(conditionMessage(told), "\n", fixed = TRUE)[[1]]
  expect_gte(length(lines), 2)
  expect_no_match(conditionMessage(told), "NULL|character\\(0\\)|[{][a-z_]+[}]")
})

# What the errors above that name code say to do, done.
mended <- list(
  "bad-reference" = quote(turn_standardize(quiz, a, reference = c(mean = 50, sd = 10))),
  "reference-names" = quote(turn_standardize(quiz, a, reference = c(mean = 50, sd = 10))),
  "c-alone" = quote(turn_compute(quiz, if (a %in% c(1, 2)) a + 1 else a + 2, as = "s")),
  "c-of-variables" = quote(turn_compute(quiz, row_mean(a, b), as = "s")),
  "na-rm-row" = quote(turn_compute(quiz, row_mean(a, b, at_least = 1), as = "s")),
  "missing-value" = quote(turn_flag(quiz, !unanswered(a) & a > 3, as = "f")),
  "change-unit" = quote(turn_compute(quiz, b - a, as = "change")),
  "half" = quote(turn_compute(quiz, round(a, 1, half = "up"), as = "s")),
  "date-not-number" = quote(turn_standardize(turn_compute(quiz, d - as.Date("2031-01-01"),
    as = "days"), days)),
  "date-with-other" = quote(turn_flag(quiz, d > as.Date("2031-03-04"), as = "f")),
  "date-compared" = quote(turn_flag(quiz, d %in% c("2031-03-02", "2031-03-04") | d == "2031-03-05" |
    year(d) > 2031, as = "f")),
  "date-form" = quote(turn_flag(quiz, d > "2031-03-04", as = "f")),
  "selection-condition" = quote(look_rows(quiz, a, where = b > 2, n = Inf)),
  "rule-date" = quote(turn_recode(quiz, d, as = "k", becomes(1, "2031-03-04"), the_rest(2))),
  "date-range" = quote(turn_compute(quiz, if (d < "2031-03-04") 1 else 2, as = "k")),
  "statistic-of-text" = quote(turn_recode(quiz, t, as = "n", becomes(1, "a"), the_rest(0))),
  "statistic-of-day" = quote(turn_compute(data.frame(x = "2031-03-01"), min(as.Date(x)),
    as = "m")),
  "statistic-of-time" = quote(turn_compute(data.frame(x = "2031-03-01 10:00"), min(as.Date(x)),
    as = "m")),
  "statistic-long" = quote(turn_compute(turn_compute(quiz, a + a, as = "v"), mean(v), as = "m")),
  "quantile-share" = quote(turn_compute(quiz, quantile(a, 0.9), as = "m")),
  "option-variable" = quote(turn_compute(quiz, mean(a, within = b), as = "m")),
  "groups-single" = quote(turn_standardize(turn_flag(quiz, a > 2, as = "g"), b, within = g)),
  "not-a-codebook" = quote(turnbook(demo_file("ferry-survey.csv"),
    codebook = demo_file("ferry-survey.codebook.json"))),
  "data-grouped" = quote(turn_group(turnbook(as.data.frame(quiz)), a, within = c(t))),
  "merge-code" = quote(turn_collapse(quiz, a, becomes(9, from(3), label = "High"))),
  "rules-both" = quote(turn_recode(quiz, as = "k", becomes(1, b = 2), becomes(3, a = 2))),
  "rename-form" = quote(write_data(turn_compute(quiz, a + 1, as = "e"),
    tempfile(fileext = ".csv"), rename = c(first = "e"))),
  "load-form" = quote(turnbook({
    write.csv(quiz, path <- tempfile(fileext = ".csv"))
    path
  }, engine = "sqlite")),
  "bad-about" = quote(write_package(turn_compute(quiz, a + 1, as = "e"),
    tempfile(fileext = ".zip"), about = list(title = "Ferry panel", licence = "CC-BY-4.0"))),
  "bad-creators" = quote(write_package(turn_compute(quiz, a + 1, as = "e"),
    tempfile(fileext = ".zip"), about = list(creators = c("A. Berg", "C. Dahl")))),
  "typed-block" = quote(core("typed_formula")("log(income)")),
  "sql-digits" = quote(write_script(turn_compute(quiz, round(a, 2), as = "e"),
    tempfile(fileext = ".sql"), dialect = "sql", engine = "sqlite")),
  "prove-needs-id" = quote(prove(turn_flag(near_table(id = "id"), y > 3, as = "f"))),
  "working-by-id" = quote(show_working(turn_flag(near_table(), y > 3, as = "f"), f, id = 2)),
  "occasions-or-rows" = quote(turn_change(quiz, occasions = c(a, b))),
  "one-occasion" = quote(turn_change(quiz, occasions = c(a, b))),
  "wide-condition" = quote(turn_change(quiz, occasions = c(a, b), from = "first")),
  "skip-condition" = quote(turn_change(quiz, a, unit = t, order = id, from = "first",
    skip_missing = TRUE)),
  "reliability-needed" = quote(turn_change(quiz, a, unit = t, order = id, how = "reliable",
    reliability = 0.85, better = "low", sd = 2, note = "made up")),
  "better-needed" = quote(turn_change(quiz, a, unit = t, order = id, how = "reliable",
    reliability = 0.85, better = "low", sd = 2)),
  "ends-within" = quote(turn_winsorize(quiz, a, at = c(0.01, 0.99), within = b)),
  "bad-shares" = quote(turn_winsorize(quiz, a, at = c(0.01, 0.99))),
  "bad-ends" = quote(turn_winsorize(quiz, a, limits = c(1, 2))),
  "component-tied" = quote(turn_composite(data.frame(a = c(1, 1, 2, 2), b = c(1, 2, 1, 2)),
    c(a, b), as = "f")),
  "component-nominal" = quote(turn_dummy(define(turnbook(quiz), a, level = "nominal"), a,
    all_levels = TRUE)),
  "loadings-form" = quote(turn_component(quiz, c(a, b), as = "f", loadings = c(a = 1, b = 2))),
  "split-numbers" = quote(turn_dummy(quiz, a, all_levels = TRUE)),
  "split-none" = quote(look(data.frame(w = c(";", "; ;")), w)),
  "split-by" = quote(turn_split(quiz, t, by = ";")),
  "coders-differ" = quote(turn_consensus(define(turnbook(quiz), c(a, b), codes = c(Yes = 1)),
    c(a, b), as = "k")),
  "bad-choices" = quote(turn_key(quiz, c(a, b), key = c(1, 2), wrong = "chance", choices = 4)),
  "choices-unknown" = quote(turn_key(quiz, c(a, b), key = c(1, 2), wrong = "chance", choices = 4)),
  "norm-band-twice" = quote(turn_norm(quiz, a, within = c(b), table = data.frame(mean = 1:2, sd = 1,
    b = c(1, 5)))),
  "by-many" = quote(item_analysis(turn_bin(data.frame(a = 1:99, b = 99:1, g = 1:99), g, groups = 2,
    as = "h"), c(a, b), by = h)),
  "cells-many" = quote({
    withr::local_options(ableturn.fetch = TRUE)
    core("refuse_many_cells")(2e6)
  })
)

# Which need what is not here, or what a test leaves alone.
not_done <- c("package-needed", "sheet-too-long", "reasons-taken", "desk-sheet", "na-rm",
  "empty-argument")

test_that("what an error says to do can be done, and is what the error was about", {
  skip_if_not_installed("RSQLite")
  here <- function(call) {
    tryCatch(quietly(eval(call, list2env(list(quiz = quiz), parent = environment()))),
      error = identity)
  }
  for (id in setdiff(names(wrong), not_done)) {
    advice <- paste(strsplit(conditionMessage(here(wrong[[id]])), "\n")[[1]][-1], collapse = " ")
    offered <- regmatches(advice, gregexpr("[a-z_.]+(?=[(])|\\b[a-z_.]+(?= = )", advice,
      perl = TRUE))[[1]]
    if (!length(offered)) next
    expect_true(id %in% names(mended), info = id)
    done <- paste(deparse(mended[[id]]), collapse = " ")
    expect_true(any(vapply(offered, grepl, NA, x = done, fixed = TRUE)), info = id)
    result <- here(mended[[id]])
    expect_false(inherits(result, "error"), info = paste(id, if (inherits(result, "error"))
      conditionMessage(result)))
  }
  expect_equal(setdiff(names(mended), names(wrong)), character())
})

# What only a server that fails, a full disk or another process can raise.
elsewhere <- c("answers-many", "component-record",
  "blocks-unlike", "desk-no-port", "distribution-many",
  "duckdb-needed", "file-closed", "no-schema", "not-renamed", "numbers-extreme", "package-unlike",
  "prove-many-rows", "question-unsent", "script-cannot-read", "sheet-no-lock", "sql-several",
  "typed-rule", "unmatched-many")

test_that("every error that is raised is named by a test", {
  folder <- source_folder()
  skip_if(is.null(folder), "the sources are not here")
  read <- function(files) {
    paste(unlist(lapply(files, readLines, encoding = "UTF-8")), collapse = "\n")
  }
  sources <- read(list.files(folder, "[.]R$", full.names = TRUE))
  raised <- unique(gsub("^.*\"([a-z0-9-]+)\"$", "\\1", regmatches(sources, gregexpr(
    "\\bfail(_at)?\\(\"[a-z0-9-]+\"", sources))[[1]]))
  tests <- read(c(list.files(test_path(), "[.]R$", full.names = TRUE),
    list.files(test_path("worked-cases"), full.names = TRUE)))
  named <- vapply(raised, function(id) {
    word <- gsub("-", "_", id)
    grepl(paste0("[\" ](", id, "|", word, ")([\"\n]|$)|ableturn_error_", word, "\\b"), tests)
  }, NA)
  expect_equal(setdiff(raised[!named], elsewhere), character())
  expect_equal(setdiff(elsewhere, raised), character())
})
