# The command line: what it prints and how it ends, as a process where that may make a difference.
skip_on_cran() # long; make test runs it

apart <- function(...) {
  out <- tempfile()
  err <- tempfile()
  script <- system.file("exec", "ableturn", package = "ableturn")
  code <- system2(file.path(R.home("bin"), "Rscript"), shQuote(c(script, ...)), stdout = out,
    stderr = err)
  said_at(code, out, err)
}

said_at <- function(code, out, err) {
  list(code = code, out = readLines(out, encoding = "UTF-8", warn = FALSE),
    err = readLines(err, encoding = "UTF-8", warn = FALSE))
}

# The same in this process, which takes a tenth of the time.
run <- function(...) {
  out <- tempfile()
  err <- tempfile()
  before <- sink.number("message")
  to <- file(err, "w")
  sink(to, type = "message")
  withr::with_output_sink(out, code <- core("cli_main")(c(...)))
  sink(if (before == 2) NULL else getConnection(before), type = "message")
  close(to)
  said_at(code, out, err)
}

test_that("the whole way works from the command line", {
  folder <- tempfile()
  shown <- apart("demo", "--out", folder)
  expect_equal(shown$code, 0)
  expect_true(all(c("ferry.turns.yaml", "derive.R", "ferry-derived.csv") %in% list.files(folder)))
  expect_match(paste(shown$out, collapse = "\n"),
    "base script: 20 of 20 variables the same in all 1,200 rows")
  home <- setwd(folder)
  on.exit(setwd(home))
  out <- run("run", "ferry.turns.yaml", "--data", "ferry-wave2.csv", "--out", "wave2.csv")
  expect_equal(out$code, 0)
  expect_equal(dim(read.csv("wave2.csv")), c(900L, 70L))
  expect_match(run("run", "ferry.turns.yaml", "--data", "ferry-wave2.csv", "--out",
    "wave2.csv")$err[1], "wave2.csv exists already")
  strict <- apart("run", "ferry.turns.yaml", "--data", "ferry-wave2.csv", "--out",
    "wave2b.csv", "--strict")
  expect_equal(strict$code, 1)
  expect_match(strict$out, "Night saver", all = FALSE)
  calm <- run("run", "ferry.turns.yaml", "--data", "ferry-survey.csv", "--out",
    "wave1.csv", "--strict")
  expect_equal(c(calm$code, length(calm$out) < 60), c(1, 1))
  expect_equal(run("prove", "ferry.turns.yaml")$code, 0)
  told <- run("findings", "ferry.turns.yaml", "--strict")
  expect_equal(told$code, 1)
  expect_match(told$out, "wait_min_log. is undefined in 61 rows", all = FALSE)
  table <- run("findings", "ferry.turns.yaml", "--format", "tsv")
  expect_equal(c(table$code, nrow(utils::read.delim(text = table$out, quote = ""))), c(0, 6))
  tree <- run("lineage", "ferry.turns.yaml", "strain_z", "--format", "json")
  expect_equal(sum(jsonlite::fromJSON(tree$out)$by == "original"), 7)
  expect_match(run("lineage", "ferry.turns.yaml", "strainz")$err[1], "Did you mean `strain`?",
    fixed = TRUE)
  reported <- list.files(pattern = "[.]html$")[1]
  if (tries_all()) {
    expect_equal(run("report", "ferry.turns.yaml", "--out", "again.html")$code, 0)
    reported <- "again.html"
  }
  expect_match(readLines(reported, encoding = "UTF-8"),
    "Crossing strain, z score within island", all = FALSE)
  expect_match(run("report", "ferry.turns.yaml", "--out", reported)$err[1], "exists already")
  base <- run("script", "ferry.turns.yaml", "--dialect", "base")
  expect_true(any(grepl("clean$rider3 <- with(clean,", base$out, fixed = TRUE)))
  expect_equal(system2(file.path(R.home("bin"), "Rscript"), c("--vanilla", "derive.R")), 0)
})

test_that("looking takes names, ranges and formulas", {
  file <- demo_file("ferry-survey.csv")
  codebook <- demo_file("ferry-survey.codebook.json")
  shown <- run("look", file, "island", "st_1:st_2", "log10(wait_min)", "--codebook", codebook)
  expect_equal(shown$code, 0)
  table <- run("look", file, "island", "--codebook", codebook, "--format", "tsv")
  expect_equal(sum(utils::read.delim(text = table$out)$rows), 1200)
  expect_equal(run("look", file, "island", "--format", "xml")$code, 2)
  for (words in c("Northholm", "^st_2", "undefined 61")) expect_true(any(grepl(words, shown$out)),
    info = words)
  expect_true(any(grepl("^  gender_code", run("look", file, "age", "--by", "gender_code")$out)))
})

commands <- c("", "look", "run", "script", "prove", "findings", "lineage", "report", "demo")
test_each("help is there", sampled(setNames(commands, paste("ableturn", commands))),
  function(command, name) {
    help <- (if (command == "look") apart else run)(setdiff(c(command, "--help"), ""))
    expect_equal(help$code, 0)
    expect_match(help$out[1], trimws(name), fixed = TRUE)
  })

bad <- temporary(c("a,b", "1"))
sheet <- temporary(c("able_turn: 1", "turns:", "  - compute: y",
  "    formula: \"system('ls')\""), ".yaml")
key <- demo_file("quiz-key.csv")
wrong <- list(
  "no command" = list(character(), 2), "no such command" = list("lok", 2),
  "no data" = list("look", 2), "no such file" = list(c("look", "no.csv"), 3),
  "no table" = list(c("look", bad), 3), "no such variable" = list(c("look", key, "itm"), 2),
  "foreign code" = list(c("look", key, "system('ls')"), 2),
  "no output" = list(c("run", sheet), 2),
  "a sheet with foreign code" = list(c("run", sheet, "--data", key, "--out", tempfile()), 3),
  "a proof of a bad sheet" = list(c("prove", sheet), 3),
  "no such option" = list(c("look", "--colour", "x"), 2),
  "too many arguments" = list(c("script", sheet, "extra"), 2)
)
wrong <- sampled(wrong, every = 2)
test_each("an error is short and ends as it should", wrong, function(case, name) {
  shown <- (if (name %in% c("no such file", "no such command", "foreign code")) apart else run)(
    case[[1]])
  expect_equal(shown$code, case[[2]])
  if (length(case[[1]])) expect_lte(length(shown$err), 2)
  expect_match(shown$err[1], "^ableturn: ")
  expect_false(any(grepl("Error|Traceback|Execution halted", shown$err)))
})

test_that("what to do is said in words of the command line and the sheet, not of R", {
  file <- demo_file("ferry-survey.csv")
  sheet <- temporary(c("able_turn: 1", "define:", "  age: {missing: {\"Not given\": 999}}",
    "turns:",
    "  - recode: k", "    from: crossings", "    rules:", "      - {code: 1, when: \"1 .. 4\"}",
    "      - {code: 2, when: \"5 ..\"}", "  - composite: strain",
    "    from: [st_1, st_2, st_3, st_4, st_5, st_6]", "    how: mean"), ".yaml")
  other <- temporary(sub("age", "years", sub("crossings", "trips", readLines(sheet))), ".yaml")
  out <- tempfile(fileext = ".csv")
  shown <- list(
    run("look", file, "crossings"), run("look", file, "log10(wait_min)"),
    run("look", file, "nothing"), run("run", sheet, "--data", file, "--out", out, "--strict"),
    run("run", sheet, "--data", file, "--out", out),
    run("run", sheet, "--data", file, "--out", out),
    run("run", other, "--data", file, "--out", tempfile()), run("findings", sheet, "--data", file),
    run("run", sheet, "--data", file, "--out", tempfile(), "--rename", "age")
  )
  expect_equal(vapply(shown, `[[`, 0, "code"), c(0, 0, 2, 1, 0, 2, 3, 0, 2))
  said <- unlist(lapply(shown, function(s) c(s$out, s$err)))
  expect_false(any(grepl("book|= c\\(|TRUE|turn_[a-z]+\\(", said)),
    info = paste(said, collapse = "\n"))
  for (words in c("under define: crossings: {missing: {\"...\": 98, \"...\": 99}}",
    "add --overwrite", "--skip",
    "reversed: [st_2, st_5]", "one with rest: true", "ableturn look FILE lists all variables")) {
    expect_match(said, words, fixed = TRUE, all = FALSE)
  }
  skipped <- tempfile(fileext = ".csv")
  expect_equal(run("run", other, "--data", file, "--out", skipped, "--skip")$code, 0)
  expect_equal(setdiff(names(read.csv(skipped)), names(read.csv(file))), "strain")
  named <- run("run", other, "--data", file, "--out", tempfile(), "--rename",
    "years=age,trips=crossings")
  expect_equal(named$code, 0)
})

test_that("a package is made and taken apart on the command line", {
  skip_if_not_installed("zip")
  at <- withr::local_tempdir()
  sheet <- file.path(at, "f.turns.yaml")
  file.copy(demo_file("ferry-survey.csv"), at)
  quietly(turnbook(demo_file("ferry-survey.csv"), id = person) |> turn_reverse(st_2,
    limits = c(1, 5)) |> save_turns(sheet))
  zipped <- file.path(at, "f.zip")
  packed <- run("pack", sheet, "--data", file.path(at, "ferry-survey.csv"), "--out",
    zipped, "--about", "title: Ferry, creators: [A, B]")
  expect_equal(packed$code, 0)
  expect_equal(run("unpack", zipped, "--check")$code, 0)
  expect_false(dir.exists(file.path(at, "f")))
  expect_equal(run("unpack", zipped)$code, 0)
  expect_equal(run("unpack", zipped)$code, 2)
  expect_equal(run("unpack", sheet)$code, 3)
  expect_equal(run("pack", sheet, "--out", file.path(at, "g.zip"), "--about", "x")$code, 2)
  expect_equal(run("prove", file.path(at, "f", "turns.yaml"))$code, 0)
})

test_that("a reader who has had enough, as head, is no error", {
  skip_if(Sys.which("bash") == "")
  script <- system.file("exec", "ableturn", package = "ableturn")
  code <- paste(file.path(R.home("bin"), "Rscript"), shQuote(script), "look",
    shQuote(demo_file("ferry-survey.csv")), "| head -1 > /dev/null; echo ${PIPESTATUS[0]}")
  err <- tempfile()
  expect_equal(system2("bash", c("-c", shQuote(code)), stdout = TRUE, stderr = err), "141")
  expect_equal(readLines(err), character())
})
