# Rows, old beside new: in memory and on tables the same, by one query.

tickets <- c("Single", "Return", "Ten-trip card", "Monthly", "Annual")

rows_book <- function(from = open_demo()) {
  quietly({
    from <- define(from, ticket, codes = setNames(tickets, tickets))
    book <- define(from, crossings, missing = c("Don't know" = 98, "Refused" = 99))
    book <- turn_recode(book, crossings, as = "rider3", becomes(0, 0, label = "None"),
      becomes(1, from(1, upto = 4), label = "Some"), becomes(2, from(5), label = "Many"))
    book <- turn_compute(book, income / household, as = "share")
    turn_flag(book, income > median(income), as = "rich")
  })
}

rows_asked <- list(
  first = quote(look_rows(b, rider3, n = 7)),
  last = quote(look_rows(b, rider3, share, from = 1195)),
  beyond = quote(look_rows(b, rider3, from = 1201)),
  missing = quote(look_rows(b, rider3, where = is.na(rider3), n = 60)),
  group = quote(look_rows(b, income, rich, where = income > mean(income, within = island), n = 9)),
  sorted = quote(look_rows(b, income, share, sort_by = c(-income, age), n = 12, from = 3)),
  texts = quote(look_rows(b, ticket, sort_by = ticket, n = 15, from = 200)),
  texts_down = quote(look_rows(b, ticket, sort_by = -ticket, n = 900)),
  shares = quote(look_rows(b, share, sort_by = "-share", n = 5)),
  by_flag = quote(look_rows(b, rich, sort_by = c(rich, -wait_min), from = 500, n = 11)),
  none = quote(look_rows(b, rider3, where = crossings > 1000)),
  drawn = quote(look_rows(b, rider3, n = 6, seed = 3)),
  drawn_sorted = quote(look_rows(b, rider3, where = rider3 == 2, sort_by = -crossings, n = 4,
    seed = 9)),
  all = quote(look_rows(b, n = 3))
)

# What R itself says of the same rows.
by_hand <- function(book, where = NULL, by = NULL) {
  frame <- as.data.frame(book)
  if (!is.null(where)) frame <- frame[which(eval(where, frame)), ]
  if (is.null(by)) frame else frame[do.call(order, c(unname(eval(by, frame)), na.last = TRUE)), ]
}

test_that("the rows are those that R picks and sorts, with their reasons", {
  b <- rows_book()
  id <- function(name) eval(rows_asked[[name]])$person
  expect_equal(id("first"), by_hand(b)$person[1:7])
  expect_equal(id("last"), by_hand(b)$person[1195:1200])
  expect_length(id("beyond"), 0)
  expect_equal(id("sorted"), by_hand(b, NULL, quote(list(-income, age)))$person[3:14])
  expect_equal(id("shares"), by_hand(b, NULL, quote(list(-share)))$person[1:5])
  kinds <- factor(b$ticket, c(tickets, "Crew pass", "Islander free pass"))
  expect_equal(id("texts"), b$person[order(kinds)][200:214])
  expect_equal(id("texts_down"), b$person[order(-as.integer(kinds))][1:900])
  f <- factor(c("mid", "low", "high", NA, "low"), c("low", "mid", "high"))
  expect_equal(look_rows(data.frame(f), sort_by = f)$row, c(2, 5, 1, 3, 4))
  gone <- eval(rows_asked$missing)
  expect_equal(gone$person, by_hand(b, quote(is.na(rider3)))$person)
  expect_equal(names(gone), c("row", "person", "crossings", "rider3"))
  came <- utils::read.csv(demo_file("ferry-survey.csv"))
  code <- came$crossings[match(gone$person, came$person)]
  expect_equal(attr(gone, "reasons")$rider3, ifelse(code == 98, "Don't know", "Refused"))
  expect_equal(attr(gone, "rows"), sum(is.na(b$rider3)))
  drawn <- eval(rows_asked$drawn)
  expect_equal(drawn$person, sort(drawn$person))
  expect_equal(drawn, eval(rows_asked$drawn))
  expect_false(identical(drawn$person, look_rows(b, rider3, n = 6, seed = 4)$person))
  expect_equal(names(eval(rows_asked$all)), c("row", "person", "crossings", "rider3", "income",
    "household", "share", "rich"))
})

test_that("a printed row tells labels, reasons and its working", {
  b <- rows_book()
  told <- capture.output(print(look_rows(b, rider3, where = crossings > 4 | is.na(rider3), n = 6,
    working = TRUE)))
  expect_match(told, "rider3 (new)", fixed = TRUE, all = FALSE)
  expect_match(told, "2 Many", all = FALSE)
  expect_match(told, "1 to 6 of .* rows of 1,200", all = FALSE)
  expect_match(told, "rider3 = crossings [0-9]+: 5 and more, becomes 2", all = FALSE)
  expect_match(capture.output(print(eval(rows_asked$none))), "No row is like that", all = FALSE)
})

test_that("rows of a table are those in memory, with their working by identifier", {
  here <- rows_book()
  connection <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
  withr::defer(DBI::dbDisconnect(connection))
  DBI::dbWriteTable(connection, "ferry", as.data.frame(turnbook(demo_file("ferry-survey.csv")),
    missing = "codes"))
  there <- rows_book(quietly(turnbook(connection, table = "ferry", id = "person",
    codebook = demo_file("ferry-survey.codebook.json"))))
  for (name in names(rows_asked)) {
    b <- here
    mine <- eval(rows_asked[[name]])
    b <- there
    far <- eval(rows_asked[[name]])
    expect_equal(as.data.frame(far), as.data.frame(mine)[names(far)], ignore_attr = TRUE,
      info = name)
    expect_equal(attr(far, "reasons"), attr(mine, "reasons"), info = name)
    expect_equal(attr(far, "rows"), attr(mine, "rows"), info = name)
  }
  worked <- look_rows(there, rider3, where = rider3 == 2, n = 2, working = TRUE)
  expect_equal(attr(worked, "working")$value, c("2", "2"))
  without <- quietly(turnbook(connection, table = "ferry"))
  refused(look_rows(without, income, seed = 1), "rows-drawn")
  refused(look_rows(without, income, sort_by = log(income)), "sort-by")
  refused(look_rows(without, income, sort_by = nobody), "unknown-variable")
  refused(look_rows(without, income, rows = 3), "unused-argument")
  expect_equal(nrow(look_rows(without, income, n = 4)), 4)
})

test_that("the command line shows the same rows", {
  sheet <- withr::local_tempfile(fileext = ".turns.yaml")
  quietly(save_turns(rows_book(), sheet))
  run <- function(...) {
    capture.output(status <- core("cli_main")(c("look", demo_file("ferry-survey.csv"), "--codebook",
      demo_file("ferry-survey.codebook.json"), "--sheet", sheet, ...)))
  }
  expect_equal(run("rider3", "--rows", "4"), capture.output(print(look_rows(rows_book(), rider3,
    n = 4))))
  expect_equal(run("income", "rider3", "--where", "rider3 == 2", "--sort-by=-income,age", "--rows",
    "3", "--working"), capture.output(print(look_rows(rows_book(), income, rider3,
    where = rider3 == 2, sort_by = c(-income, age), n = 3, working = TRUE))))
  expect_match(run("rider3", "--rows", "2", "--format", "tsv")[1], "crossings\trider3")
  told <- capture.output(run("rider3", "--rows", "many"), type = "message")
  expect_match(told, "`--rows` must be a whole number from 1 on, not \"many\"", all = FALSE)
})
