test_that("items are shifted and stretched with their labels and limits", {
  data <- data.frame(q = c(1, 4, 7, 99, NA))
  book <- quietly(define(turnbook(data), q, limits = c(1, 7), codes = c("Never" = 1, "Always" = 7),
    missing = c("Refused" = 99)))
  stretched <- quietly(turn_rescale(book, q, to = c(0, 100)))
  everywhere(stretched, data, "q_0", c(0, 50, 100, NA, NA))
  meaning <- core("meaning_in")(stretched, "q_0")
  expect_equal(meaning$codes, c("Never" = 0, "Always" = 100))
  expect_equal(meaning$limits, c(0, 100))
  expect_equal(why(stretched, "q_0"), c("Refused", "blank"))
  shifted <- quietly(turn_rescale(book, q, shift = -1, as = "s"))
  everywhere(shifted, data, "s", c(0, 3, 6, NA, NA))
  expect_equal(core("meaning_in")(shifted, "s")$limits, c(0, 6))
  everywhere(quietly(turn_rescale(data[1:3, , drop = FALSE], q, limits = c(1, 7), to = c(-2, 1),
    as = "n")), data[1:3, , drop = FALSE], "n", c(-2, -0.5, 1))
})

test_that("shifts that cannot be meant are refused", {
  refused(turn_rescale(age, age), "shift-or-to")
  refused(turn_rescale(age, age, to = c(0, 1)), "limits-needed")
  refused(turn_rescale(age, age, limits = c(0, 50), to = c(0, 1)), "beyond-limits")
})
