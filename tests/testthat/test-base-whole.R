# Files are written whole or not at all, whatever becomes of the disk, the process or another
# writer.
room <- tempfile("disk-")
dir.create(room)
at <- function(name) file.path(room, name)
survey <- data.frame(x = 1:300, t = rep(c("a", "b", "c"), 100))
work <- quietly(turn_compute(survey, x + 1, as = "y"))
mode <- function(path) format(file.mode(path))

# Runs lines of R in a process of its own, where a shell may first set limits; gives what it said.
apart <- function(lines, before = "", wait = TRUE) {
  script <- tempfile(fileext = ".R")
  writeLines(c("library(ableturn)", "options(ableturn.quiet = TRUE)",
    "tell <- function(code) cat(tryCatch({ code; 'done' }, error = function(e) class(e)[1]), '\n')",
    lines), script)
  command <- paste0(before, "exec ", shQuote(file.path(R.home("bin"), "Rscript")), " --vanilla ",
    shQuote(script))
  processx::run("sh", c("-c", command), error_on_status = FALSE,
    env = c("current", R_LIBS = paste(.libPaths(), collapse = ":")))
}

test_that("on a full disk every writer says so, and what was there stays", {
  promise("whole_or_not")
  skip_on_os("windows")
  # no file beyond 4 blocks, which a write then meets as it meets a full disk
  limit <- "trap '' XFSZ; ulimit -f 4; "
  old <- "what was there before"
  for (name in c("d.csv", "c.json", "t.yaml", "s.R", "r.md")) writeLines(old, at(name))
  said <- apart(c(
    sprintf("setwd(%s)", deparse(room)), "d <- data.frame(x = 1:3000, t = strrep('long text ', 9))",
    "names(d)[2] <- strrep('n', 3000)",
    "b <- turn_compute(turnbook(d), x + 1, as = 'y', note = strrep('note ', 3000))",
    "tell(write_data(b, 'd.csv', overwrite = TRUE))",
    "tell(write_codebook(b, 'c.json', overwrite = TRUE))",
    "tell(save_turns(b, 't.yaml', overwrite = TRUE))",
    "tell(write_script(b, 's.R', overwrite = TRUE))", "tell(report(b, 'r.md', overwrite = TRUE))",
    "b <- turnbook(data.frame(x = 1), sheet = 'live.yaml')",
    "b <- turn_compute(b, x + 1, as = 'a')",
    "tell(turn_compute(b, x + 2, as = 'b', note = strrep('note ', 3000)))"
  ), limit)
  expect_equal(strsplit(trimws(said$stdout), "\\s+")[[1]], rep("ableturn_error_file_unwritable", 6))
  for (name in c("d.csv", "c.json", "t.yaml", "s.R", "r.md")) {
    expect_equal(readLines(at(name)), old, info = name)
  }
  expect_match(paste(readLines(at("live.yaml")), collapse = " "), "compute: a .*x \\+ 1")
  expect_equal(list.files(room, "^[.]ableturn-", all.files = TRUE), character())
})

test_that("a file keeps its mode, a link its target, and nothing odd is written to", {
  skip_on_os("windows")
  save_turns(work, at("m.yaml"))
  expect_equal(mode(at("m.yaml")),
    format(as.octmode(bitwAnd(strtoi("666", 8), bitwNot(as.integer(Sys.umask(NA)))))))
  Sys.chmod(at("m.yaml"), "600")
  save_turns(work, at("m.yaml"), overwrite = TRUE)
  expect_equal(mode(at("m.yaml")), "600")
  dir.create(at("elsewhere"))
  file.symlink(at("elsewhere/real.csv"), at("link.csv"))
  write_data(work, at("link.csv"))
  write_data(work, at("link.csv"), overwrite = TRUE)
  expect_equal(Sys.readlink(at("link.csv")), at("elsewhere/real.csv"))
  expect_equal(nrow(read_data(at("elsewhere/real.csv"))), 300)
  system2("mkfifo", at("pipe"))
  for (odd in c("/dev/null", at("pipe"))) {
    refused(write_data(work, odd, overwrite = TRUE), "file-odd")
  }
  refused(write_data(work, at("elsewhere"), overwrite = TRUE), "file-folder")
})

test_that("what a killed process left is cleared by the next write, that of a living one is not", {
  skip_on_os("windows")
  start <- core("half_start")(at("k.csv"))
  host <- sub("[0-9]+$", "", core("process_name")())
  left <- at(paste0(start, host, c("999999999-1", paste0(Sys.getpid(), "-7"))))
  for (file in left) writeLines("half", file)
  write_data(work, at("k.csv"))
  expect_equal(file.exists(left), c(FALSE, TRUE))
})

test_that("two processes never write one live sheet, and the lock of a dead one is taken over", {
  promise("one_writer")
  skip_on_os("windows")
  sheet <- at("two.yaml")
  book <- quietly(turn_compute(turnbook(survey, sheet = sheet), x + 1, as = "a"))
  other <- apart(c(sprintf("f <- %s", deparse(sheet)), "unlink(f)",
    "tell(turnbook(data.frame(x = 1), sheet = f))"))
  expect_match(other$stdout, "ableturn_error_sheet_locked")
  again <- at("dead.yaml")
  apart(c(sprintf("b <- turnbook(data.frame(x = 1), sheet = %s)", deparse(again)),
    "b <- turn_compute(b, x, as = 'k')", "tools::pskill(Sys.getpid(), 9)"))
  expect_true(file.exists(at(".dead.yaml.holder")))
  unlink(again)
  expect_s3_class(turnbook(survey, sheet = again), "turnbook")
  apart(sprintf("b <- turnbook(data.frame(x = 1), sheet = %s)", deparse(at("gone.yaml"))))
  expect_false(file.exists(at(".gone.yaml.holder")))
})

test_that("a book that branched off, or a sheet that somebody changed, loses nothing", {
  sheet <- at("branch.turns.yaml")
  book <- quietly(turn_compute(turnbook(survey, sheet = sheet), x + 1, as = "a"))
  tried <- quietly(turn_compute(book, a * 2, as = "tried"))
  told <- receipts(book <- turn_compute(book, a * 3, as = "kept"))
  told <- gsub("\\s+", " ", paste(told, collapse = " "))
  expect_match(told, "They are kept in branch.aside-1.turns.yaml")
  expect_true("tried" %in% names(quietly(apply_turns(survey, at("branch.aside-1.turns.yaml")))))
  expect_equal(names(quietly(apply_turns(survey, sheet))), c("x", "t", "a", "kept"))
  book <- quietly(undo(book))
  book <- quietly(turn_compute(book, a * 4, as = "next"))
  expect_equal(names(quietly(apply_turns(survey, sheet))), c("x", "t", "a", "next"))
  cat("# a remark by hand\n", file = sheet, append = TRUE)
  quietly(turn_compute(book, a * 5, as = "last"))
  expect_match(tail(readLines(at("branch.aside-2.turns.yaml")), 1), "by hand")
  expect_false(file.exists(at("branch.aside-3.turns.yaml")))
})

test_that("a live sheet holds at every step what saving at that step would write", {
  sheet <- at("live2.yaml")
  book <- turnbook(demo_file("ferry-survey.csv"),
    codebook = demo_file("ferry-survey.codebook.json"), id = person, sheet = sheet)
  steps <- list(
    function(b) define(b, crossings, missing = c("Refused" = 99)),
    function(b) turn_reverse(b, c(st_2, st_5)),
    function(b) turn_composite(b, c(st_1, st_2_r, st_3), as = "s"),
    function(b) define(b, s, label = "S"),
    function(b) amend(b, s, at_least = 2), function(b) must_hold(b, children <= household), undo
  )
  for (step in steps) {
    book <- quietly(step(book))
    save_turns(book, at("same.yaml"), overwrite = TRUE)
    expect_identical(readLines(sheet), readLines(at("same.yaml")))
  }
})

test_that("a sheet that would not come back the same is not written", {
  save_turns(work, at("u.yaml"))
  before <- readLines(at("u.yaml"))
  broken <- core("sheet_parts")(work)
  broken$steps[[1]]$lines <- sub("x + 1", "x + 1 # more", broken$steps[[1]]$lines, fixed = TRUE)
  refused(core("check_parts")(broken), "sheet-unlike")
  expect_equal(readLines(at("u.yaml")), before)
})
