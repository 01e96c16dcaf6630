test_that("answers are marked by a key, and counted", {
  data <- data.frame(a = c(2, 1, NA), b = c("x", "y", NA), c = c(4, 4, NA))
  marked <- quietly(turn_key(data, a:c, key = list(2, "x", 4)))
  everywhere(marked, data, "a_k", c(1, 0, NA))
  everywhere(marked, data, "b_k", c(1, 0, NA))
  strict <- quietly(turn_key(data, c(a, c), key = c(c = 4, a = 2), wrong = -1,
    unanswered = "wrong"))
  everywhere(strict, data, "a_k", c(1, -1, -1))
  everywhere(strict, data, "c_k", c(1, 1, -1))
  filed <- quietly(turn_key(open_demo(), qz_1:qz_5, key = demo_file("quiz-key.csv")))
  expect_equal(filed$qz_4_k, as.integer(filed$qz_4 == 3))
  counted <- quietly(turn_tally(data, c(a, c), of = c(2, 4), as = "n"))
  everywhere(counted, data, "n", c(2, 1, NA))
  everywhere(quietly(turn_tally(data, c(a, c), of = from(3), as = "n")), data, "n", c(1, 1, NA))
  demo <- quietly(turn_tally(open_demo(), use_work:use_shop, of = "Ticked", as = "n"))
  expect_equal(demo$n,
    rowSums(as.data.frame(demo)[c("use_work", "use_school", "use_care", "use_shop")]))
})

test_that("keys that cannot be meant are refused", {
  refused(turn_key(age, c(age, w), key = 1), "key-count")
  refused(turn_key(age, c(age, w), key = c(age = 1)), "key-items")
  refused(turn_key(age, age, key = data.frame(q = 1)), "key-columns")
})
