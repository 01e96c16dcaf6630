# What the work came from is never written over, whoever asks for it; what is new replaces nothing.

room <- withr::local_tempdir(.local_envir = teardown_env())
at <- function(...) file.path(room, ...)

fresh <- function() {
  unlink(list.files(room, full.names = TRUE, all.files = TRUE, no.. = TRUE), recursive = TRUE)
  writeLines(c("id,x,y,g", "1,1,2,a", "2,2,2,b", "3,3,1,a"), at("src.csv"))
  writeLines(c("variable,label", "x,An answer"), at("codes.csv"))
  writeLines(c("g,value", "a,1", "b,2"), at("table.csv"))
  writeLines(c("response: {limits: [1, 5]}", "scales: {s: {items: [x, y], how: mean}}"),
    at("test.instrument.yaml"))
  quietly(turnbook(at("src.csv"), codebook = at("codes.csv"), id = id,
    sheet = at("live.turns.yaml")) |> turn_crosswalk(g, table = at("table.csv"), as = "v") |>
    turn_instrument(at("test.instrument.yaml")))
}

writers <- list(
  data = function(book, path) write_data(book, path, overwrite = TRUE),
  sheet = function(book, path) save_turns(book, path, overwrite = TRUE),
  script = function(book, path) write_script(book, path, overwrite = TRUE),
  sql = function(book, path) write_script(book, path, "sql", overwrite = TRUE),
  codebook = function(book, path) write_codebook(book, path, overwrite = TRUE),
  report = function(book, path) report(book, path, overwrite = TRUE),
  package = function(book, path) write_package(book, path, overwrite = TRUE)
)

test_each("no source is written over by the", writers, function(write, name) {
  promise("source_never")
  if (name %in% c("report", "package")) skip_if_not_installed("svglite")
  book <- fresh()
  sources <- c("src.csv", "codes.csv", "table.csv", "test.instrument.yaml",
    if (name != "sheet") "live.turns.yaml")
  file.symlink(at("src.csv"), at("link.csv"))
  before <- tools::md5sum(at(sources))
  withr::local_dir(room)
  for (path in c(sources, at(sources), at("../", basename(room), sources), "link.csv")) {
    expect_error(quietly(write(book, path)), class = "ableturn_error")
  }
  expect_identical(tools::md5sum(at(sources)), before)
})

test_that("a source is known after undoing, by another sheet, and on data renamed", {
  promise("source_never")
  book <- fresh()
  refused(write_data(undo(book), at("table.csv"), overwrite = TRUE), "file-is-source")
  save_turns(book, at("a.turns.yaml"))
  again <- quietly(apply_turns(at("src.csv"), at("a.turns.yaml"), rename = c(id = "id")))
  refused(write_data(again, at("src.csv"), overwrite = TRUE), "file-is-source")
  # the sheet itself may be brought up to date
  expect_silent(save_turns(again, at("a.turns.yaml"), overwrite = TRUE))
  # another book knows nothing of it
  other <- quietly(turnbook(data.frame(x = 1)))
  quietly(write_data(other, at("table.csv"), overwrite = TRUE))
  out <- at("derived.csv")
  quietly(write_data(again, out))
  expect_equal(nrow(quietly(turnbook(out))), 3)
  expect_silent(quietly(write_data(again, out, overwrite = TRUE)))
})

test_that("what promises another kind of file is refused", {
  book <- fresh()
  refused(save_turns(book, at("new.csv")), "file-ending")
  refused(write_script(book, at("new.csv")), "file-ending")
  told <- refused(write_script(book, at("derive.R"), "sql", "postgresql"), "file-ending")
  expect_match(conditionMessage(told), ".sql", fixed = TRUE)
  refused(write_script(book, at("derive.sql"), "base"), "file-ending")
})

test_that("a file that is made while we write is not replaced", {
  promise("no_overwrite")
  path <- at("n.csv")
  unlink(path)
  write <- function(overwrite) {
    core("write_atomically")(path, overwrite, function(put) {
      put("ours")
      writeLines("theirs", path)
    })
  }
  refused(write(FALSE), "file-exists")
  expect_equal(readLines(path), "theirs")
  write(TRUE)
  expect_equal(readLines(path, warn = FALSE), "ours")
  expect_identical(list.files(room, "^[.]ableturn", all.files = TRUE), character())
})

test_that("six processes that meet at once: one writes the sheet, also after kill -9", {
  promise("one_writer")
  skip_on_os("windows")
  sheet <- at("race.yaml")
  code <- c("library(ableturn); options(ableturn.quiet = TRUE)",
    "repeat if (file.exists('go')) break", sprintf(
    "b <- try(ableturn::turnbook(data.frame(x = 1), sheet = '%s'), silent = TRUE)", sheet),
  "cat(inherits(b, 'turnbook'), '\n', file = commandArgs(TRUE))", "Sys.sleep(30)")
  withr::local_dir(room)
  for (round in 1:2) {
    unlink("go")
    started <- lapply(1:6, function(i) {
      processx::process$new(file.path(R.home("bin"), "Rscript"), c("-e", paste(code,
        collapse = "; "), paste0("said-", round, i)), env = c("current",
        R_LIBS = paste(.libPaths(), collapse = ":")))
    })
    Sys.sleep(1)
    file.create("go")
    said <- character()
    for (wait in 1:300) {
      said <- unlist(lapply(list.files(".", paste0("^said-", round)), readLines, warn = FALSE))
      if (length(said) == 6) break
      Sys.sleep(0.1)
    }
    expect_equal(sort(trimws(said)), c(rep("FALSE", 5), "TRUE"))
    for (one in started) one$kill() # by a signal that nothing can be done at
  }
})
