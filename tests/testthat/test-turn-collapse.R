test_that("categories are merged as stated, or because they are rare", {
  data <- data.frame(
    t = c(rep("Single", 5), rep("Return", 3), "Annual", "Crew", NA),
    k = c(1, 1, 1, 1, 2, 2, 2, 3, 4, 9, NA)
  )
  codes <- c("North" = 1, "South" = 2, "East" = 3, "West" = 4)
  book <- quietly(define(turnbook(data), k, codes = codes, missing = c("Refused" = 9)))
  stated <- quietly(turn_collapse(book, t, as = "y", becomes("Season", "Annual", "Crew")))
  everywhere(stated, data, "y", c(rep("Single", 5), rep("Return", 3), "Season", "Season", NA))
  rare <- quietly(turn_collapse(book, t, as = "y", rarer_than = 0.2))
  everywhere(rare, data, "y", c(rep("Single", 5), rep("Return", 3), "Other", "Other", NA))
  everywhere(quietly(turn_collapse(book, t, as = "y", most_frequent = 1, other = "Rest")), data,
    "y", c(rep("Single", 5), rep("Rest", 5), NA))
  none <- quietly(turn_collapse(book, t, as = "y", rarer_than = 0.01))
  everywhere(none, data, "y", data$t)
  coded <- quietly(turn_collapse(book, k, as = "y", becomes("Outer", "East", "West")))
  everywhere(coded, data, "y", c(1, 1, 1, 1, 2, 2, 2, 3, 3, NA, NA))
  expect_equal(core("meaning_in")(coded, "y")$codes, c("North" = 1, "South" = 2, "Outer" = 3))
  expect_equal(why(coded, "y"), c("Refused", "blank"))
  both <- quietly(turn_collapse(book, k, as = "y", becomes("Outer", "East", "West"),
    rarer_than = 0.2))
  everywhere(both, data, "y", c(1, 1, 1, 1, 2, 2, 2, 3, 3, NA, NA))
  expect_equal(core("meaning_in")(both, "y")$codes, c("North" = 1, "South" = 2, "Outer" = 3))
  expect_match(conditionMessage(refused(turn_collapse(book, k, lable = "x"), "named-dots")),
    "turn_collapse")
  rest <- quietly(turn_collapse(book, t, as = "y", becomes("Season", "Annual"), the_rest("Else")))
  everywhere(rest, data, "y", c(rep("Else", 8), "Season", "Else", NA))
  expect_equal(quietly(turn_collapse(book, t, as = "y", becomes("Season", "Annual", "Crew"),
    the_rest(unchanged())))$y, stated$y)
  near <- quietly(turn_collapse(book, k, as = "y", becomes("Outer", "East"), the_rest("Near"),
    rarer_than = 0.2))
  everywhere(near, data, "y", c(6, 6, 6, 6, 6, 6, 6, 3, 5, NA, NA))
  expect_equal(core("meaning_in")(near, "y")$codes, c("Outer" = 3, "Other" = 5, "Near" = 6))
  ranged <- quietly(turn_collapse(book, k, as = "y", becomes(8, from(3), label = "Far")))
  everywhere(ranged, data, "y", c(1, 1, 1, 1, 2, 2, 2, 8, 8, NA, NA))
  few <- quietly(turn_collapse(book, k, rarer_than = 0.2))
  everywhere(few, data, "k_c", c(1, 1, 1, 1, 2, 2, 2, 5, 5, NA, NA))
  expect_equal(core("meaning_in")(few, "k_c")$codes, c("North" = 1, "South" = 2, "Other" = 5))
})

test_that("merges that cannot be meant are refused", {
  refused(turn_collapse(age, age), "collapse-nothing")
  refused(turn_collapse(age, age, rarer_than = 5), "bad-share")
  refused(turn_collapse(age, age, becomes("Old", from(40))), "merge-code")
  refused(turn_collapse(age, age, becomes(1, 40), the_rest(2), the_rest(3)), "rest-twice")
  refused(turn_collapse(age, age, rarer_than = 0.05, most_frequent = 2), "collapse-two")
})
