test_that("reversing is low + high - x, with labels and direction turned round", {
  book <- quietly(turnbook(data.frame(q = c(1, 2, 5, 9, NA))) |>
    define(q, codes = c("Never" = 1, "Always" = 5), missing = c("Refused" = 9),
      high = "more often", limits = c(1, 5)) |>
    turn_reverse(q))
  expect_equal(book$q_r, c(5, 4, 1, NA, NA))
  expect_equal(why(book, "q_r"), c("Refused", "blank"))
  meaning <- core("meaning_in")(book, "q_r")
  expect_equal(meaning$codes, c("Always" = 1, "Never" = 5))
  expect_equal(meaning$low, "more often")
  expect_null(meaning$high)
  twice <- quietly(turn_reverse(book, q_r, as = "q_rr"))
  expect_equal(core("meaning_in")(twice, "q_rr")$high, "more often")
  expect_equal(twice$q_rr, book$q)
})

test_that("reversing needs limits that hold every value", {
  data <- data.frame(q = c(1, 7, 7))
  refused(turn_reverse(data, q), "limits-needed")
  expect_match(conditionMessage(refused(turn_reverse(data, q, limits = c(1, 5)),
    "beyond-limits")), "7 \\(2 rows\\)")
  refused(turn_reverse(data, q, limits = c(5, 1)), "limits-order")
  refused(turn_reverse(data, q, limits = 5), "bad-limits")
})
