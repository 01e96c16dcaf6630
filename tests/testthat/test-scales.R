# Bands, shifts, keys and counts: worked cases by hand, each in memory, as base R and by sheet.
everywhere <- function(book, data, name, expected, info = name) {
  expect_equal(as.vector(book[[name]]), expected, info = info)
  expect_equal(as.vector(run_base_script(book, data)[[name]]), expected, info = paste("script:", info))
  sheet <- tempfile()
  save_turns(book, sheet)
  again <- quietly(apply_turns(data, sheet))
  expect_equal(as.data.frame(again), as.data.frame(book), info = paste("sheet:", info))
  second <- tempfile()
  save_turns(again, second)
  expect_identical(readLines(second), readLines(sheet))
}

age <- data.frame(age = c(18, 29, 30, 45, 59, 60, 93, NA), w = c(1, 1, 1, 1, 1, 1, 1, 1))
half <- data.frame(x = c(0.5, 1, 1.5, 2, 2.5, 9, NA))

bands <- list(
  list(age, "age", list(at = c(30, 60)), c(1, 1, 2, 2, 2, 3, 3, NA),
    c("under 30", "30 to 59", "60 and over")),
  list(age, "age", list(at = c(30, 60), edge = "ends"), c(1, 1, 1, 2, 2, 2, 3, NA),
    c("30 and under", "31 to 60", "61 and over")),
  list(age, "age", list(at = c(30, 31)), c(1, 1, 2, 3, 3, 3, 3, NA),
    c("under 30", "30", "31 and over")),
  list(age, "age", list(at = 40, labels = c("Younger", "Older")), c(1, 1, 1, 2, 2, 2, 2, NA),
    c("Younger", "Older")),
  list(half, "x", list(at = c(1, 2)), c(1, 2, 2, 3, 3, 3, NA),
    c("under 1", "1 to under 2", "2 and over")),
  list(half, "x", list(at = c(1, 2), edge = "ends"), c(1, 1, 2, 2, 3, 3, NA),
    c("1 and under", "over 1 to 2", "over 2")),
  # width: (9 - 0.5) / 2 = 4.25, so one cut at 4.75
  list(half, "x", list(groups = 2, by = "width"), c(1, 1, 1, 1, 1, 2, NA),
    c("under 4.75", "4.75 and over")),
  # count: the median of six values is 1.75
  list(half, "x", list(groups = 2), c(1, 1, 1, 2, 2, 2, NA), c("under 1.75", "1.75 and over")),
  # gaps: {0.5 .. 2.5} and {9} have the least sum of squares
  list(half, "x", list(groups = 2, by = "gaps"), c(1, 1, 1, 1, 1, 2, NA), c("under 9", "9 and over")),
  # spread: mean 49 and one cut there, for two groups
  list(data.frame(x = c(45, 48, 49, 50, 53)), "x", list(groups = 2, by = "spread"), c(1, 1, 2, 2, 2),
    c("under 49", "49 and over")),
  # two quartiles of 1,1,1,1,1,1,5,9 fall on 1, which is a band of its own; thirds of 5, 9 part these
  list(data.frame(x = c(1, 1, 1, 1, 1, 1, 5, 9)), "x", list(groups = 4), c(1, 1, 1, 1, 1, 1, 2, 3),
    c("under 5", "5 to under 7.66667", "7.66667 and over")),
  list(data.frame(x = c(rep(0, 85), 1:15)), "x", list(groups = 4), c(rep(1, 85), rep(2:4, each = 5)),
    c("under 1", "1 to under 5.66667", "5.66667 to under 10.3333", "10.3333 and over")),
  list(data.frame(x = c(1, 2, 3)), "x", list(groups = 4), 1:3, c("under 2", "2 to under 2.5", "2.5 and over")),
  # one value only: one band
  list(data.frame(x = c(3, 3, NA)), "x", list(groups = 3), c(1, 1, NA), "all")
)

test_that("bands begin or end at their cut points, however these are found", {
  for (case in bands) {
    book <- quietly(do.call(turn_bin, c(list(case[[1]], case[[2]], as = "y"), case[[3]])))
    everywhere(book, case[[1]], "y", case[[4]], paste(names(case[[3]]), case[[3]], collapse = ", "))
    expect_equal(names(core("meaning_in")(book, "y")$codes), case[[5]])
  }
})

test_that("equal counts by weight cut the weighted distribution, averaged at exact hits", {
  data <- data.frame(x = c(1, 2, 3, 4, 5), w = c(4, 1, 1, 1, 1), one = 2)
  book <- quietly(turn_bin(data, x, groups = 2, weight = w, as = "y"))
  everywhere(book, data, "y", c(1, 2, 2, 2, 2)) # half of 8 is reached at 1: the cut is 1.5
  equal <- quietly(turn_bin(data[1:4, ], x, groups = 2, weight = one, as = "y"))
  expect_equal(equal$y, c(1, 1, 2, 2))
})

test_that("natural breaks are the exact least sum of squares", {
  runs <- core("least_squares_runs")
  within <- function(v, w, starts) {
    groups <- findInterval(seq_along(v), starts)
    sum(vapply(split(seq_along(v), groups),
      function(i) sum(w[i] * (v[i] - weighted.mean(v[i], w[i]))^2), 0))
  }
  set.seed(8)
  for (round in 1:30) {
    v <- sort(unique(round(rnorm(9), 2)))
    w <- sample(1:5, length(v), TRUE)
    tries <- utils::combn(2:length(v), 2, simplify = FALSE)
    best <- min(vapply(tries, function(s) within(v, w, s), 0))
    expect_equal(within(v, w, runs(v, w, 3)), best)
  }
})

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

test_that("answers are marked by a key, and counted", {
  data <- data.frame(a = c(2, 1, NA), b = c("x", "y", NA), c = c(4, 4, NA))
  marked <- quietly(turn_key(data, a:c, key = list(2, "x", 4)))
  everywhere(marked, data, "a_k", c(1, 0, NA))
  everywhere(marked, data, "b_k", c(1, 0, NA))
  strict <- quietly(turn_key(data, c(a, c), key = c(c = 4, a = 2), wrong = -1, unanswered = "wrong"))
  everywhere(strict, data, "a_k", c(1, -1, -1))
  everywhere(strict, data, "c_k", c(1, 1, -1))
  filed <- quietly(turn_key(open_demo(), qz_1:qz_5, key = demo_file("quiz-key.csv")))
  expect_equal(filed$qz_4_k, as.integer(filed$qz_4 == 3))
  counted <- quietly(turn_tally(data, c(a, c), of = c(2, 4), as = "n"))
  everywhere(counted, data, "n", c(2, 1, NA))
  everywhere(quietly(turn_tally(data, c(a, c), of = from(3), as = "n")), data, "n", c(1, 1, NA))
  demo <- quietly(turn_tally(open_demo(), use_work:use_shop, of = "Ticked", as = "n"))
  expect_equal(demo$n, rowSums(as.data.frame(demo)[c("use_work", "use_school", "use_care", "use_shop")]))
})

test_that("categories are merged as stated, or because they are rare", {
  data <- data.frame(
    t = c(rep("Single", 5), rep("Return", 3), "Annual", "Crew", NA), k = c(1, 1, 1, 1, 2, 2, 2, 3, 4, 9, NA)
  )
  codes <- c("North" = 1, "South" = 2, "East" = 3, "West" = 4)
  book <- quietly(define(turnbook(data), k, codes = codes, missing = c("Refused" = 9)))
  stated <- quietly(turn_collapse(book, t, as = "y", becomes("Season", "Annual", "Crew")))
  everywhere(stated, data, "y", c(rep("Single", 5), rep("Return", 3), "Season", "Season", NA))
  rare <- quietly(turn_collapse(book, t, as = "y", rarer_than = 0.2))
  everywhere(rare, data, "y", c(rep("Single", 5), rep("Return", 3), "Other", "Other", NA))
  everywhere(quietly(turn_collapse(book, t, as = "y", most_frequent = 1, other = "Rest")), data, "y",
    c(rep("Single", 5), rep("Rest", 5), NA))
  none <- quietly(turn_collapse(book, t, as = "y", rarer_than = 0.01))
  everywhere(none, data, "y", data$t)
  coded <- quietly(turn_collapse(book, k, as = "y", becomes("Outer", "East", "West")))
  everywhere(coded, data, "y", c(1, 1, 1, 1, 2, 2, 2, 3, 3, NA, NA))
  expect_equal(core("meaning_in")(coded, "y")$codes, c("North" = 1, "South" = 2, "Outer" = 3))
  expect_equal(why(coded, "y"), c("Refused", "blank"))
  both <- quietly(turn_collapse(book, k, as = "y", becomes("Outer", "East", "West"), rarer_than = 0.2))
  everywhere(both, data, "y", c(1, 1, 1, 1, 2, 2, 2, 3, 3, NA, NA))
  expect_equal(core("meaning_in")(both, "y")$codes, c("North" = 1, "South" = 2, "Outer" = 3))
  expect_match(conditionMessage(refused(turn_collapse(book, k, lable = "x"), "named-dots")), "turn_collapse")
  few <- quietly(turn_collapse(book, k, rarer_than = 0.2))
  everywhere(few, data, "k_c", c(1, 1, 1, 1, 2, 2, 2, 5, 5, NA, NA))
  expect_equal(core("meaning_in")(few, "k_c")$codes, c("North" = 1, "South" = 2, "Other" = 5))
})

test_that("every new turn is proved on the demo survey, in both dialects", {
  book <- quietly(open_demo() |> define(age, missing = c("Not given" = 999)) |>
    turn_bin(age, as = "age3", at = c(30, 60)) |>
      turn_bin(income, groups = 4, weight = weight, edge = "ends") |>
    turn_bin(wait_min, groups = 3, by = "gaps") |>
      turn_bin(c(age, hours), groups = 4, by = "spread", as = "{name}_s") |>
    turn_rescale(md_1:md_9, shift = -1) |> turn_rescale(tr_1:tr_4, to = c(0, 100), as = "{name}_100") |>
    turn_key(qz_1:qz_5, key = demo_file("quiz-key.csv"), unanswered = "wrong") |>
    turn_tally(st_1:st_6, of = from(4), as = "high") |>
      turn_collapse(ticket, as = "ticket4", rarer_than = 0.05) |>
    turn_collapse(island, becomes("Outer islands", "Sallow", "Merrin", "Tarn Skerry")))
  proof <- prove(book)
  expect_true(attr(proof, "proved"), info = paste(capture.output(print(proof)), collapse = "\n"))
})

test_that("what cannot be meant is refused", {
  refused(turn_bin(age, age), "at-or-groups")
  refused(turn_bin(age, age, at = 30, groups = 2), "at-or-groups")
  refused(turn_bin(age, age, at = c(60, 30)), "cuts-order")
  refused(turn_bin(age, age, at = "30"), "bad-cuts")
  refused(turn_bin(age, age, groups = 1), "bad-groups")
  refused(turn_bin(age, age, groups = 3, by = "luck"), "bad-choice")
  refused(turn_bin(age, age, at = 30, labels = "one"), "labels-bands")
  refused(turn_rescale(age, age), "shift-or-to")
  refused(turn_rescale(age, age, to = c(0, 1)), "limits-needed")
  refused(turn_rescale(age, age, limits = c(0, 50), to = c(0, 1)), "beyond-limits")
  refused(turn_key(age, c(age, w), key = 1), "key-count")
  refused(turn_key(age, c(age, w), key = c(age = 1)), "key-items")
  refused(turn_key(age, age, key = data.frame(q = 1)), "key-columns")
  refused(turn_collapse(age, age), "collapse-nothing")
  refused(turn_collapse(age, age, rarer_than = 5), "bad-share")
  refused(turn_collapse(age, age, rarer_than = 0.05, most_frequent = 2), "collapse-two")
})
