# Nothing done on the desk is lost: R is killed or interrupted, the browser is quit, a form is left
# half filled in, a file name is that of the data.

a_survey <- function(room) {
  writeLines(c("age,sex,q1", paste(20:59, rep(1:2, 20), rep(1:5, 8), sep = ",")),
    file.path(room, "items.csv"))
}

# A desk on these data without a sheet, in which a step was made.
desk_with_step <- function(room, name = "main", env = parent.frame(), say = new_browser(env),
                           code = "desk('items.csv', open = FALSE)") {
  a_survey(room)
  served <- new_desk_process(code, room, env)
  say("open", url = served$address, name = name, fresh = TRUE)
  say("until", code = "document.querySelectorAll('[role=option]').length > 0")
  list(say = say, room = room, process = served$process)
}

make_step <- function(say, name = "age") {
  choose(say, name)
  answer_with(say, "standardize")
  keep(say)
}

kept_aside <- function(room) {
  list.files(file.path(room, "aside"), "yaml$", recursive = TRUE, full.names = TRUE)
}
cards <- function(n) sprintf("document.querySelectorAll('.card').length === %d", n)

test_that("R is killed: the page stays and tells the truth, and the steps are offered again", {
  promise("work_not_lost")
  skip_without_browser()
  on <- desk_with_step(withr::local_tempdir())
  say <- on$say
  expect_match(say("text", at = "#pane-kept"), "Nothing is to be kept yet")
  make_step(say)
  expect_match(say("text", at = "#pane-kept"), "Kept aside: 1 step")
  file <- kept_aside(on$room)
  expect_length(file, 1)
  expect_equal(format(file.mode(dirname(file))), "700")
  on$process$signal(9)
  say("until", code = "document.getElementById('trouble').textContent !== ''")
  lost <- say("text", at = "#trouble")
  expect_match(lost, "\\(1 step\\) is kept aside in .*yaml. Open the same data again")
  say("click", at = "#trouble .copy-calls")
  expect_match(say("ask", code = "document.querySelector('textarea.calls').value"),
    "turn_standardize")
  say("click", at = "#trouble button")
  say("until", code = "document.querySelector('.still') !== null")
  expect_match(say("text", at = ".still"), "no answer yet")
  expect_true(say("ask", code = cards(1)))
  # opened anew: they are offered, and gone on with
  again <- desk_with_step(on$room, "again", say = say)
  expect_match(say("text", at = "#pane-rescue"), "Kept aside of these data: 1 step")
  say("click", at = "[data-what=go_on]")
  say("until", code = cards(1))
  make_step(say, "q1")
  expect_equal(kept_aside(on$room), file)
  expect_true(any(grepl("q1_z", readLines(file))))
  # a close that was meant takes it away
  say("click", at = "[data-way=close]")
  expect_match(say("text", at = "#leave-form"), "\\(2 steps\\) is in no sheet of yours")
  say("click", at = "#leave-form button.main")
  again$process$wait(10000)
  expect_length(kept_aside(on$room), 0)
  expect_true(all(c("age_z", "q1_z") %in% readRDS(file.path(on$room, "names.rds"))))
})

test_that("Ctrl-C keeps the steps and says where; they can be left, or thrown away when sure", {
  promise("work_not_lost")
  skip_without_browser()
  on <- desk_with_step(withr::local_tempdir())
  make_step(on$say)
  on$process$interrupt()
  on$process$wait(10000)
  said <- readLines(file.path(on$room, "said.txt"))
  expect_match(said, "kept aside \\(1 step\\)", all = FALSE)
  expect_match(said, kept_aside(on$room), fixed = TRUE, all = FALSE)
  expect_true("age_z" %in% readRDS(file.path(on$room, "names.rds")))
  again <- desk_with_step(on$room, "again", say = on$say)
  on$say("click", at = "[data-what=leave]")
  make_step(on$say, "sex")
  expect_length(kept_aside(on$room), 2)
  again$process$kill()
  third <- desk_with_step(on$room, "third", say = on$say)
  for (what in c("ask", "keep", "ask", "throw")) {
    on$say("click", at = paste0("[data-what=", what, "]"))
  }
  expect_length(kept_aside(on$room), 1)
  expect_true(third$process$is_alive())
})

test_that("a browser that was quit comes in again by a new address, and the old cookie ends", {
  promise(c("work_not_lost", "own_page_only"))
  skip_without_browser()
  on <- desk_with_step(withr::local_tempdir(),
    code = "{options(ableturn.desk_patience = 1); desk('items.csv', open = FALSE)}")
  say <- on$say
  make_step(say)
  bare <- say("ask", code = "location.href")
  say("close")
  for (try in 1:100) {
    address <- grep("come in again", readLines(file.path(on$room, "said.txt")), value = TRUE)
    if (length(address)) break
    Sys.sleep(0.1)
  }
  url <- sub(".*(http://\\S+).*", "\\1", address[1])
  expect_equal(say("open", url = bare, name = "none", fresh = TRUE), 403)
  say("open", url = url, name = "new", fresh = TRUE)
  say("until", code = cards(1))
  expect_equal(say("open", url = url, name = "twice", fresh = TRUE), 403)
})

test_that("a half-filled form survives a click elsewhere and Escape, until it is kept or left", {
  promise("work_not_lost")
  skip_without_browser()
  on <- desk_with_step(withr::local_tempdir())
  say <- on$say
  open_bands <- function() {
    choose(say, "age")
    answer_with(say, "bin")
  }
  typed <- function() say("ask", code = "document.getElementById('f-at').value")
  open_bands()
  say("type", at = "#f-at", text = "30 45")
  say("type", at = "#f-labels", text = "young\nmiddle\nold")
  choose(say, "sex")
  open_bands()
  expect_equal(typed(), "30 45")
  expect_match(say("ask", code = "document.getElementById('f-labels').value"), "middle")
  expect_match(say("text", at = ".restored"), "As you left it")
  say("key", key = "Escape")
  open_bands()
  expect_equal(typed(), "30 45")
  say("click", at = ".restored button")
  expect_equal(typed(), "")
  say("type", at = "#f-at", text = "40")
  say("click", at = "#form [data-do=leave]")
  open_bands()
  expect_equal(typed(), "")
  expect_length(say("heard")$errors, 0)
})

test_that("the data are never written over from the page, by whatever way", {
  promise("source_never")
  skip_without_browser()
  on <- desk_with_step(withr::local_tempdir())
  say <- on$say
  make_step(say)
  before <- readLines(file.path(on$room, "items.csv"))
  for (way in c("sheet", "data", "script", "codebook")) {
    say("click", at = paste0("[data-way=", way, "]"))
    say("type", at = "#f-path", text = "items.csv")
    say("check", at = "#f-overwrite")
    say("click", at = "#leave-form button.main")
    until_left(say)
    expect_match(say("text", at = "[data-field=path] .field-error"),
      "another format|never written over")
    say("key", key = "Escape")
  }
  expect_identical(readLines(file.path(on$room, "items.csv")), before)
  say("click", at = "[data-way=sheet]")
  say("type", at = "#f-path", text = "mine.turns.yaml")
  say("click", at = "#leave-form button.main")
  until_left(say)
  say("key", key = "Escape")
  expect_match(say("text", at = "#pane-kept"), "Saved in mine.turns.yaml")
})

test_that("the key stands in no command line, and nobody frames or keeps the page", {
  promise(c("key_unseen", "own_page_only"))
  skip_without_browser()
  room <- withr::local_tempdir()
  # a browser of ours, which tells how it was called
  at <- file.path(room, "browser")
  writeLines(c("#!/bin/sh", "ps axww -o args > ps.txt", "echo \"$1\" > called.txt",
    "cat \"$1\" > page.txt", "ls -ld \"$1\" \"$(dirname \"$1\")\" > modes.txt"), at)
  Sys.chmod(at, "755")
  code <- sprintf("{options(browser = '%s'); desk(open = TRUE)}", at)
  served <- new_desk_process(code, room)
  for (try in 1:50) if (file.exists(file.path(room, "modes.txt"))) break else Sys.sleep(0.1)
  key <- sub(".*key=", "", served$address)
  expect_false(any(grepl(key, c(readLines(file.path(room, "ps.txt")),
    readLines(file.path(room, "called.txt"))), fixed = TRUE)))
  expect_match(paste(readLines(file.path(room, "page.txt"), warn = FALSE), collapse = ""), key)
  expect_match(readLines(file.path(room, "modes.txt")), "^(-rw-------|drwx------)")
  answer <- processx::run("curl", c("-si", served$address))$stdout
  for (line in c("HTTP/1.1 200", "frame-ancestors 'none'", "X-Frame-Options: DENY", "nosniff",
    "no-store", "no-referrer", "SameSite=Strict")) {
    expect_match(answer, line, ignore.case = TRUE)
  }
  expect_match(processx::run("curl", c("-si", served$address))$stdout, "403")
})

test_that("what a page says is a text, never an address or the name of a file", {
  promise("nothing_fetched")
  said <- withr::local_tempfile(lines = "{\"do\": \"undo\"}")
  event_in <- core("event_in")
  for (text in list("http://127.0.0.1:9/evil.json", said, "", strrep("[", 1e5), 5, NA,
    c("a", "b"), NULL, "\"hello\"", strrep("x", 2e7))) {
    expect_equal(event_in(text), list())
  }
  expect_equal(event_in("{\"do\": \"hello\", \"n\": 1}"), list(do = "hello", n = 1L))
})

test_that("of large data the sheet aside has the fingerprint once there is time for it", {
  withr::local_envvar(R_USER_DATA_DIR = withr::local_tempdir())
  data <- as.data.frame(setNames(rep(list(rep(1:4, 25500)), 50), paste0("v", 1:50)))
  room <- new.env()
  room$screen <- core("new_screen")(core("with_rescue")(core("as_book")(turnbook(data))))
  room$heard <- core("seconds_now")()
  for (event in list(list(do = "choose", names = list("v1")), list(do = "ask", verb =
    "standardize"), list(do = "keep"))) {
    room$screen <- core("answer_safely")(room$screen, event)$screen
  }
  sheet <- core("info_of")(room$screen$state$book)$sheet
  print_in <- function() grep("sha256", readLines(sheet), value = TRUE)
  expect_length(print_in(), 0)
  core("fill_idle_time")(room)
  while (!later::loop_empty()) later::run_now(1)
  expect_match(print_in(), core("fingerprint")(as.list(data)), fixed = TRUE)
  core("leave_rescue")(room$screen$state$book, TRUE)
})
