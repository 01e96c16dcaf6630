# Data that are given in R are checked by what they are made of; a file of R's own is not opened.

# Whether some code left the mark that foreign code would leave.
expect_nothing_run <- function(code) {
  withr::local_dir(withr::local_tempdir())
  force(code)
  testthat::expect_false(file.exists("PWNED"))
}

pretender <- function() {
  e <- new.env(parent = emptyenv())
  f <- function() {
    base::file.create("PWNED")
    c(1, 2, 3)
  }
  makeActiveBinding("a", f, e)
  delayedAssign("b", f(), assign.env = e)
  structure(e, class = c("environment", "data.frame"), row.names = 1:3)
}

test_that("no way opens a file of R's own", {
  promise("data_run_nothing")
  path <- tempfile(fileext = ".rds")
  expect_nothing_run({
    saveRDS(pretender(), path)
    refused(turnbook(path), "file-rds")
    refused(read_data(path), "file-rds")
    book <- quietly(turnbook(data.frame(code = 1:2, x = 2:1)))
    refused(turn_crosswalk(book, code, table = path, as = "y"), "file-rds")
    refused(turn_norm(book, x, table = path, as = "y"), "file-rds")
    refused(turn_key(book, x, key = path, as = "k"), "file-rds")
    refused(turn_recode(book, x, as = "y", rules = path), "file-rds")
    refused(turnbook(data.frame(x = 1), codebook = path), "file-rds")
    refused(core("read_sent")("codes.rds", readBin(path, "raw", 1e5)), "file-rds")
    descriptor <- "{\"resources\": [{\"name\": \"r\", \"path\": \"env.rds\"}]}"
    refused(turnbook(forge_zip(list(forged_member("datapackage.json", descriptor),
      forged_member("env.rds", readBin(path, "raw", 1e5))))), "file-rds")
    # by another name it is no text
    file.copy(path, other <- tempfile(fileext = ".csv"))
    refused(turnbook(other), "file-binary")
    sheet <- temporary(c("able_turn: 1", "turns:", "  - compute: y", "    formula: \"a + 1\""),
      ".yaml")
    refused(apply_turns(path, sheet), "file-rds")
  })
  expect_match(conditionMessage(refused(turnbook(path), "file-rds")),
    "turnbook(readRDS(\"", fixed = TRUE)
})

test_that("writing one stays", {
  book <- quietly(turn_compute(data.frame(x = 1:3), x * 2, as = "y"))
  write_data(book, path <- tempfile(fileext = ".rds"))
  expect_equal(turnbook(readRDS(path))$y, c(2, 4, 6))
  refused(write_data(book, path), "file-exists")
})

column <- function(x) structure(list(x), names = "x", class = "data.frame", row.names = 1:3)
pretend <- function(x, class, ...) column(structure(x, class = class, ...))
broken <- list(
  "an environment" = list(function() pretender(), "not-data"),
  "columns of unequal length" = list(function() {
    structure(list(a = 1:10, b = 1:3), class = "data.frame", row.names = 1:10)
  }, "column-broken"),
  "codes without a level" = list(function() {
    pretend(c(1L, 2L, 9L), "factor", levels = c("a", "b"))
  }, "column-broken"),
  "a factor without levels" = list(function() pretend(c(1L, 1L, 1L), "factor"), "column-broken"),
  "levels of numbers" = list(function() pretend(c(1L, 1L, 1L), "factor", levels = 1:2),
    "column-broken"),
  "equal levels" = list(function() pretend(c(1L, 1L, 2L), "factor", levels = c("a", "a")),
    "column-broken"),
  "dates of texts" = list(function() pretend(c("a", "b", "c"), "Date"), "column-broken"),
  "times of texts" = list(function() pretend(c("a", "b", "c"), c("POSIXct", "POSIXt")),
    "column-broken"),
  "a zone that is a number" = list(function() {
    pretend(c(1, 2, 3), c("POSIXct", "POSIXt"), tzone = 5)
  }, "column-broken"),
  "a span in no unit" = list(function() pretend(c(1, 2, 3), "difftime", units = "moons"),
    "column-broken"),
  "labels that are a list" = list(function() pretend(c(1, 2, 3), "other", labels = list(a = 1)),
    "column-broken"),
  "labels that are code" = list(function() {
    pretend(c(1, 2, 3), "other", labels = quote(file.create("PWNED")))
  }, "column-broken"),
  "labels without names" = list(function() {
    pretend(c(1, 2, 3), "other", labels = 1:2)
  }, "column-broken"),
  "a range that is a text" = list(function() pretend(c(1, 2, 3), "other", na_range = c("a", "b")),
    "column-broken"),
  "bytes that are no letters" = list(function() {
    x <- c("a", "\xff", "c")
    Encoding(x) <- "bytes"
    column(x)
  }, "bad-letters"),
  "a name that is no letters" = list(function() setNames(column(1:3), "a\xff"), "bad-letters"),
  "a name of bytes" = list(function() {
    name <- "\xff"
    Encoding(name) <- "bytes"
    setNames(column(1:3), name)
  }, "bad-letters")
)
test_each("refused in words is a data frame of", broken, function(case, name) {
  expect_nothing_run(refused(turnbook(case[[1]]()), case[[2]]))
})

test_that("a broken text of JSON is told, whatever signs stand in it", {
  promise("data_run_nothing")
  for (text in c("{\"a\": %n%s%s%n}", "%s%s%s%s%n", "[{\"a\": 1}, %n]")) {
    for (ending in c(".json", ".jsonl")) {
      refused(turnbook(temporary(text, ending)), "file-unreadable")
    }
    refused(turnbook(data.frame(x = 1), codebook = temporary(text, ".json")), "codebook")
    package <- forge_zip(list(forged_member("datapackage.json", text)))
    refused(turnbook(package), "package-broken")
    expect_equal(core("event_in")(text), list())
  }
  expect_equal(read_data(temporary("[{\"a\": \"%n%s\"}]", ".json"))$a, "%n%s")
  expect_equal(read_data(temporary("{\"a\": \"%n%s\"}", ".jsonl"))$a, "%n%s")
})
