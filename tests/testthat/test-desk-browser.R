# The desk in a real browser: the whole of a first session, and what happens to what was kept. Set
# up and run by `make test-desk`, like the other files on the browser.

the_same_calls <- function(sheet) {
  quietly({
    book <- turnbook(demo_file("ferry-survey.csv"), id = "person", sheet = sheet,
      codebook = demo_file("ferry-survey.codebook.json"))
    book <- define(book, crossings, missing = c("Don't know" = 98, "Refused" = 99))
    book <- turn_recode(book, crossings, as = "rider3", becomes(0, 0, label = "None"),
      becomes(1, from(1, upto = 4), label = "Some"), becomes(2, from(5), label = "Many"))
    book <- turn_recode(book, as = "gender_age", becomes(1, gender_code = c(1, 2), age = under(40)),
      becomes(5, gender_code = c(1, 2), age = from(40)))
    book <- turn_reverse(book, c(st_2, st_5), limits = c(1, 5))
    book <- turn_composite(book, c(st_1, st_3, st_4, st_6, st_2_r, st_5_r), as = "strain",
      at_least = 4)
    book <- amend(book, strain, at_least = 5)
    redo(undo(book))
  })
}

test_that("a first session leaves the sheet that the same calls leave, and proves it", {
  skip_without_browser()
  on <- open_desk("desk(sheet = \"live.turns.yaml\", open = FALSE)")
  say <- on$say
  a_session(say)
  calls <- withr::local_tempfile(fileext = ".turns.yaml")
  book <- the_same_calls(calls)
  live <- function() readLines(file.path(on$room, "live.turns.yaml"))
  expect_identical(live(), readLines(calls))
  # a finding is accepted where it is told
  open <- findings(book, accepted = FALSE)
  open <- open[open$variable == "rider3", ]
  expect_gt(nrow(open), 0)
  say("click", at = ".card[data-place='2'] > details > summary")
  at <- ".card[data-place='2'] "
  say("click", at = paste0(at, ".findings summary"))
  say("click", at = paste0(at, ".accept-it"))
  expect_match(say("text", at = paste0(at, ".accept .field-error")), "Give the reason")
  say("type", at = paste0(at, ".reason"), text = "as the ferry company counts")
  say("click", at = paste0(at, ".accept-it"))
  expect_match(say("text", at = paste0(at, ".accepted")), "as the ferry company counts")
  quietly(amend(book, rider3, accept = setNames("as the ferry company counts", open$id[1])))
  expect_identical(live(), readLines(calls))
  # leaving: nothing is written over a file without being asked
  for (time in 1:2) {
    say("click", at = "[data-way=sheet]")
    say("type", at = "#f-path", text = "saved.turns.yaml")
    say("click", at = "#leave-form button.main")
    said <- say("text", at = "#leave-form")
    expect_match(said, c("Wrote .*saved.turns.yaml", "exists already and was left")[time])
    if (time == 2) {
      say("check", at = "#f-overwrite")
      say("click", at = "#leave-form button.main")
      expect_match(say("text", at = "#left"), "Wrote .*saved.turns.yaml")
    }
    say("key", key = "Escape")
  }
  expect_identical(readLines(file.path(on$room, "saved.turns.yaml")), live())
  say("click", at = "[data-way=prove]")
  say("click", at = "#leave-form button.main")
  until_left(say)
  expect_match(say("text", at = "#left"), "same", ignore.case = TRUE)
  say("key", key = "Escape")
  for (tab in c("calls", "script", "codebook", "findings", "lineage")) {
    say("click", at = paste0("#tab-", tab))
    expect_gt(nchar(say("ask", code = "document.getElementById('pane-tab').innerHTML")), 200)
  }
  heard <- say("heard")
  expect_length(heard$errors, 0)
  expect_true(all(grepl("^http://127[.]0[.]0[.]1:|^data:|^ws://127", heard$requests)))
  say("click", at = "[data-way=close]")
  say("click", at = "#leave-form button.main")
  on$process$wait(10000)
  expect_setequal(readRDS(file.path(on$room, "names.rds")), names(book))
})

test_that("what was kept is there after a kill, and nobody else writes the sheet meanwhile", {
  skip_without_browser()
  on <- open_desk("desk(sheet = \"live.turns.yaml\", open = FALSE)")
  choose(on$say, "wait_min")
  answer_with(on$say, "bin")
  on$say("type", at = "#f-at", text = "10 30")
  keep(on$say)
  code <- "tryCatch(desk(sheet = \"live.turns.yaml\", open = FALSE), error = conditionMessage)"
  file.copy(file.path(on$room, "live.turns.yaml"), file.path(on$room, "before"))
  second <- processx::run(file.path(R.home("bin"), "Rscript"), c("-e", paste0("library(ableturn);",
    "cat(", code, ")")), wd = on$room, error_on_status = FALSE, timeout = 30)
  expect_match(second$stdout, "is written by another process|another", ignore.case = TRUE)
  answer_with(on$say, "standardize")
  on$say("click", at = "#form button.main")
  on$process$kill()
  kept <- readLines(file.path(on$room, "live.turns.yaml"))
  expect_true(any(grepl("wait_min_z|verb: standardize|standardize", kept)))
  again <- new_desk_process("desk(sheet = \"live.turns.yaml\", open = FALSE)", on$room)
  on$say("open", url = again$address, name = "again", fresh = TRUE)
  on$say("until", code = "document.querySelectorAll('.card').length === 2")
  choose(on$say, "income")
  answer_with(on$say, "standardize")
  keep(on$say)
  now <- readLines(file.path(on$room, "live.turns.yaml"))
  expect_equal(utils::head(now, 3), utils::head(kept, 3))
  expect_length(list.files(on$room, "aside"), 0)
  expect_true(any(grepl("income", now)))
})
