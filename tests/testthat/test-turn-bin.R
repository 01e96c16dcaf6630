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
  list(half, "x", list(groups = 2, by = "gaps"), c(1, 1, 1, 1, 1, 2, NA),
    c("under 9", "9 and over")),
  # spread: mean 49 and one cut there, for two groups
  list(data.frame(x = c(45, 48, 49, 50, 53)), "x", list(groups = 2, by = "spread"),
    c(1, 1, 2, 2, 2), c("under 49", "49 and over")),
  # two quartiles of 1,1,1,1,1,1,5,9 fall on 1, which is a band of its own; thirds of 5, 9 part
  # these
  list(data.frame(x = c(1, 1, 1, 1, 1, 1, 5, 9)), "x", list(groups = 4), c(1, 1, 1, 1, 1, 1, 2, 3),
    c("under 5", "5 to under 7.66667", "7.66667 and over")),
  list(data.frame(x = c(rep(0, 85), 1:15)), "x", list(groups = 4),
    c(rep(1, 85), rep(2:4, each = 5)),
    c("under 1", "1 to under 5.66667", "5.66667 to under 10.3333", "10.3333 and over")),
  list(data.frame(x = c(1, 2, 3)), "x", list(groups = 4), 1:3,
    c("under 2", "2 to under 2.5", "2.5 and over")),
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

test_that("bands that cannot be meant are refused", {
  refused(turn_bin(age, age), "at-or-groups")
  refused(turn_bin(age, age, at = 30, groups = 2), "at-or-groups")
  refused(turn_bin(age, age, at = c(60, 30)), "cuts-order")
  refused(turn_bin(age, age, at = "30"), "bad-cuts")
  refused(turn_bin(age, age, groups = 1), "bad-groups")
  refused(turn_bin(age, age, groups = 3, by = "luck"), "bad-choice")
  refused(turn_bin(age, age, at = 30, labels = "one"), "labels-bands")
})
