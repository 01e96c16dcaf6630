# For whom a question was asked: a kind of missing answers of its own, everywhere.
survey <- data.frame(job = c(1, 1, 2, 2, 9, NA), hours = c(20, NA, NA, 5, 30, 99),
  t = c("a", "", "", "b", "c", "d"))
asked <- function() {
  quietly(turnbook(survey) |> define(job, codes = c("Yes" = 1, "No" = 2),
    missing = c("Refused" = 9)) |>
    define(hours, missing = c("Refused" = 99), asked_if = job == "Yes"))
}

test_that("who was not asked is told apart in look, receipts, rules, scripts and sheets", {
  book <- asked()
  expect_equal(book$hours, c(20, NA, NA, NA, 30, NA))
  expect_equal(why(book, "hours"), c("blank", "not asked", "not asked", "Refused"))
  expect_match(receipts(define(book, t, asked_if = job == 1)),
    "Answered though not asked, now missing: t \\(1\\)", all = FALSE)
  made <- quietly(turn_recode(book, hours, as = "k", becomes(0, unanswered("not asked")),
    becomes(1, from(1)), becomes(8, unanswered())) |> turn_compute(hours / 5, as = "days") |>
    turn_recode(days, as = "again", becomes(3, unanswered("not asked")),
      becomes(4, unanswered("Refused")), the_rest(1)))
  expect_equal(made$k, c(1, 8, 0, 0, 1, 8))
  expect_equal(made$again, c(1, NA, 3, 3, 1, 4))
  expect_equal(why(made, "days"), c("blank", "not asked", "not asked", "Refused"))
  expect_equal(run_base_script(made, survey), as.data.frame(made, missing = "codes"),
    ignore_attr = TRUE)
  path <- tempfile()
  save_turns(made, path)
  expect_equal(as.data.frame(quietly(apply_turns(survey, path))), as.data.frame(made))
  expect_proved(made)
  expect_equal(codebook(made)$asked[2], "job == 1")
})

test_that("the condition is part of the record and of what depends on it", {
  book <- quietly(turn_compute(asked(), hours * 2, as = "twice"))
  changed <- quietly(define(book, job, missing = c("Other" = 1)))
  expect_equal(changed$twice, c(40, NA, NA, NA, 60, NA))
  expect_equal(why(changed, "hours"), c("blank", "not asked", "not asked", "Refused"))
  expect_equal(as.data.frame(quietly(undo(changed))), as.data.frame(book))
  expect_equal(quietly(undo(undo(book)))$hours, c(20, NA, NA, 5, 30, 99))
  refused(define(book, hours, asked_if = hours > 1), "cycle")
  refused(define(book, job, asked_if = hours > 1), "cycle")
  refused(define(book, twice, asked_if = job == 1), "asked-derived")
  refused(define(book, t, asked_if = twice > 1), "unknown-name")
  refused(define(book, t, asked_if = job + 1), "flag-no-condition")
  refused(define(book, t, asked_if = job > mean(job)), "asked-statistic")
  folder <- tempfile()
  write_codebook(book, folder)
  expect_equal(turnbook(survey, codebook = folder)$hours, book$hours)
})
