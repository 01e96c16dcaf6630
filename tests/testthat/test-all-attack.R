# Text of strangers stays text, whoever writes it: scripts, sheets, codebooks, tables, the terminal,
# reports.
skip_on_cran() # long; make test runs it

room <- tempfile("attack-")
dir.create(room)
home <- setwd(room)
columns_differ <- function(book, given) {
  Filter(function(n) length(core("rows_that_differ")(known_variable(book, n)$x, given[[n]])),
    core("derived_names")(book))
}
books <- lapply(hostile, function(text) tryCatch(hostile_book(text), error = identity))

test_that("every place takes every text", {
  wrong <- vapply(books, inherits, NA, what = "error")
  expect_equal(hostile[wrong], character())
})

tries <- Map(function(text, book) list(text = text, book = book), hostile, books)
tries <- sampled(setNames(tries, paste("text", seq_along(hostile))), every = 10)

test_each("scripts are made of nothing but their own calls, run, and agree", tries, function(t, n) {
  promise("no_text_runs")
  data <- as.data.frame(core("part_of_book")(t$book, "data"), optional = TRUE)
  for (dialect in c("base", "ableturn")) {
    lines <- core("script_lines")(t$book, dialect)
    expect_false(steers(lines, ""))
    core("refuse_foreign_code")(lines, core("dialects")[[dialect]]$words())
    own <- new.env(parent = globalenv())
    assign(core("info_of")(t$book)$name, data, own)
    quietly(suppressWarnings(eval(parse(text = lines, encoding = "UTF-8"), own)))
    expect_equal(columns_differ(t$book, get(core("info_of")(t$book)$name, own)), character())
  }
  expect_false(file.exists("PWNED"))
})

test_each("sheet, codebook and table give back what was written", tries, function(t, n) {
  book <- t$book
  save_turns(book, "a.turns.yaml", overwrite = TRUE)
  again <- quietly(apply_turns(hostile_data(t$text), "a.turns.yaml"))
  expect_equal(as.data.frame(again), as.data.frame(book))
  expect_identical(core("sheet_lines")(again)[-(2:4)], core("sheet_lines")(book)[-(2:4)])
  write_codebook(book, "a.json", overwrite = TRUE)
  meaning <- read_codebook("a.json")
  expect_identical(meaning[[names(book)[1]]]$label, t$text)
  expect_identical(names(meaning[[names(book)[1]]]$codes), c(t$text, paste0(t$text, "2")))
  quietly(write_data(book, "a.csv", overwrite = TRUE))
  read <- fields_of("a.csv")
  expect_identical(names(read), names(book))
  expect_identical(read$g, core("part_of_book")(book, "data")$g)
})

test_each("nothing steers the terminal, errors included", tries, function(t, n) {
  local_reproducible_output(width = 90)
  book <- t$book
  one <- names(book)[1]
  derived <- core("derived_names")(book)
  lines <- c(
    shown_by(print(book)), shown_by(print(look(book))),
    shown_by(print(cross(book, g, tidyselect::all_of(derived[2])))),
    shown_by(print(codebook(book))), shown_by(print(turns(book))),
    shown_by(print(findings(book))), shown_by(print(lineage(book))),
    shown_by(print(show_working(book, tidyselect::all_of(derived[6]), 1))),
    shown_by(print(checks(book))), shown_by(print(becomes(1, one, label = one))),
    receipts(hostile_work(book, one)),
    shown_by(print(structure(core("meanings_of")(book), class = "codebook_file"))),
    tryCatch(look(book, tidyselect::all_of(paste0(one, "?"))), error = conditionMessage),
    tryCatch(turnbook(paste0(one, ".csv")), error = conditionMessage)
  )
  expect_false(steers(unlist(strsplit(lines, "\n")), ""))
})

test_that("a report in Markdown holds no markup of others, and no other holds their signs raw", {
  skip_on_cran()
  skip_if_not_installed("svglite")
  for (book in sampled(books[c(1, 11, 13, 15, 25:32, 48)], every = 4)) {
    lines <- core("report_markdown")(book, names(book)[1])
    expect_false(steers(lines, ""))
    expect_false(any(grepl("<[a-z/!]", lines[!startsWith(lines, "    ")])))
    expect_false(any(grepl("(^|[^\\\\])\\]\\(|^# heading$|^#+ #",
      lines[!startsWith(lines, "    ")])))
  }
  page <- core("report_html")(books[[which(grepl("script", hostile))[1]]], "<b>")
  expect_false(any(grepl("<script>alert|<b>", page)))
  cp <- books[[which(startsWith(hostile, "cp "))]]
  drawn <- core("figure_html")(figure_before_after(cp,
    tidyselect::all_of(paste0(names(cp)[1], " t"))), "f1", "words")
  text <- gsub("&amp;", "&",
    gsub("&#39;|&apos;", "'", gsub("&lt;", "<", gsub("&gt;", ">", as.character(drawn)))))
  expect_match(text, "cp 'cp (cp #cp url(#cp)", fixed = TRUE)
  expect_match(as.character(drawn), "<clipPath id='f1cp", fixed = TRUE)
})

test_that("texts that a spreadsheet would run are told, and marked when that is asked for", {
  book <- turnbook(data.frame(t = c("=1+1", "-2", "+49 1", "plain", "@x", "-x", NA), n = -3:3))
  told <- receipts(write_data(book, "f.csv"))
  expect_match(paste(told, collapse = " "), "take\\s+texts\\s+for\\s+formulas: t 4")
  expect_equal(readLines("f.csv")[2:3], c("=1+1,-3", "-2,-2"))
  expect_equal(receipts(write_data(book, "f.csv", formulas = "mark", overwrite = TRUE)),
    character())
  expect_equal(read.csv("f.csv")$t[1:6], c("'=1+1", "-2", "'+49 1", "plain", "'@x", "'-x"))
  hidden <- c(" =1+1", "\u00a0=1", "\ufeff=1", "\u200b@x", "\uff1d1+1", "\uff0b1", " -5", "a=1")
  expect_equal(core("runs_in_spreadsheet")(hidden), rep(c(TRUE, FALSE), c(6, 2)))
  named <- turnbook(data.frame("=1+1" = 1, check.names = FALSE))
  told <- receipts(write_data(named, "named.csv"))
  expect_match(paste(told, collapse = " "), "formulas:\\s+column\\s+names 1")
  write_data(named, "named.csv", formulas = "mark", overwrite = TRUE)
  expect_equal(readLines("named.csv"), c("'=1+1", "1"))
})

test_that("the second wall: a script with any other call is refused before it runs", {
  foreign <- c("system(\"x\")", "base::system(\"x\")", "get(\"system\")(\"x\")",
    "get(paste0(\"sys\", \"tem\"))", "do.call(c, list(1))",
    "eval(parse(text = \"1\"))", "library(utils)", "ave(1:3, FUN = system)",
    "vapply(1:3, system, \"\")",
    "apply(x, 1, file.remove)",
    "Reduce(system, 1:3)", "f <- function(x) system(x)", "clean$x(1)", "(function(x) unlink(x))(1)",
    "`system`(\"x\")",
    "source(\"x\")",
    "x <- readLines(\"/etc/passwd\")", "tryCatch(1, error = print)", "Sys.setenv(A = 1)", "~ x",
    "if (TRUE) quit()",
    "\"a\"[[system(1)]]")
  for (line in foreign) {
    refused(core("refuse_foreign_code")(c("x <- 1", line), "base"), "script-foreign")
  }
  refused(core("refuse_foreign_code")("turnbook(write_data(x))", "ableturn"), "script-foreign")
  refused(core("refuse_foreign_code")("x <- (", "base"), "script-broken")
})

test_that("a proof runs without the secrets of the session, elsewhere, and not for ever", {
  Sys.setenv(ABLE_SECRET = "x")
  environment <- core("child_environment")(room)
  Sys.unsetenv("ABLE_SECRET")
  expect_false("ABLE_SECRET" %in% names(environment))
  expect_false(any(grepl("TOKEN|KEY|SECRET|PASS", names(environment))))
  book <- quietly(turn_compute(data.frame(x = 1:3), x + 1, as = "y"))
  run <- function(lines, seconds = 60) {
    folder <- tempfile()
    dir.create(folder)
    data <- core("data_for_scripts")(book, folder)
    core("run_in_r")(book, lines, folder, data, seconds)$problem()
  }
  expect_match(run("stop(paste(getwd() == normalizePath(Sys.getenv('HOME')), Sys.getenv('USER')))"),
    "TRUE +Calls")
  expect_match(run("repeat 1", 1), "still running after 1 second")
  expect_equal(nrow(prove(book)), length(core("run_dialects")()))
})

test_that("a name is a path, never an address or a device", {
  promise("nothing_fetched")
  dir.create("http:")
  dir.create("http:/127.0.0.1:9")
  writeLines(c("a", "1"), "http:/127.0.0.1:9/t.csv")
  expect_equal(read_data("http://127.0.0.1:9/t.csv")$a, 1)
  for (name in c("clipboard", "stdin", "two\nlines.csv", "t.csv.gz", "a b'c\".csv")) {
    writeLines(c("a,b", "1,2"), file.path(room, name))
    expect_equal(read_data(name)$b, 2, info = name)
  }
  writeLines("\"http://127.0.0.1:9/x.json\"", "c.json")
  refused(read_codebook("c.json"), "codebook")
  dir.create("in")
  writeLines(c("raw,scaled", "0,1"), "norms.csv")
  instrument <- "scales: {s: {items: [x, y], norm: \"../norms.csv\"}}"
  writeLines(instrument, "in/i.yaml")
  refused(turn_instrument(data.frame(x = 0, y = 0), "in/i.yaml"), "file-outside")
  file.symlink(file.path(room, "norms.csv"), "in/n.csv")
  writeLines(sub("../norms.csv", "n.csv", instrument, fixed = TRUE), "in/i.yaml")
  refused(turn_instrument(data.frame(x = 0, y = 0), "in/i.yaml"), "file-outside")
  writeLines(c("able_turn: 1", "data: {file: \"../t.csv.gz\"}", "turns: []"), "in/s.yaml")
  refused(core("sheet_data_file")("in/s.yaml"), "data-outside")
  refused(read_data("/dev/null"), "file-odd")
})

test_that("only one file writes names, texts and remarks into scripts", {
  folder <- c("../../R", "../../00_pkg_src/ableturn/R", "../../../R")
  folder <- file.path(home, folder)[file.exists(file.path(home, folder, "script-text.R"))]
  skip_if(!length(folder), "the sources are not here")
  files <- setdiff(list.files(folder[1], "^script-.*R$", full.names = TRUE),
    file.path(folder[1], "script-text.R"))
  for (file in files) {
    tokens <- getParseData(parse(file, keep.source = TRUE))
    expect_false(any(tokens$text %in% c("quote_text", "quote_name", "encodeString", "dQuote",
      "sQuote", "shQuote", "deparse") &
      basename(file) != "script-check.R"), info = file)
    texts <- tokens$text[tokens$token == "STR_CONST"]
    expect_false(any(grepl("#|\\\\\"|`", gsub("^['\"]|['\"]$", "", texts))), info = file)
  }
})
setwd(home)
