# What each turn's receipt tells, as data: a view only gives it words.
data <- data.frame(x = c(0, 1, 4, 5, 12, 98, 99, NA, 2.5, 5),
  g = c("a", "b", NA, "a", "b", "c", "a", "b", "c", "c"))
book <- quietly(define(turnbook(data), x, missing = c("Don't know" = 98, "Refused" = 99)))

test_that("the receipt of a recode counts every row once", {
  receipt <- receipt_of(turn_recode(book, x, as = "y", becomes(1, upto(1)),
    becomes(2, from(4, upto = 5), label = "Mid")))
  part <- receipt$parts[[1]]
  expect_equal(receipt$rows, 10)
  expect_equal(part$rules$rows, c(2, 3))
  expect_equal(part$rules$caught, c("up to 1", "4 to 5"))
  expect_equal(c(part$valid_before, part$valid), c(7, 5))
  expect_equal(part$missing, c("unmatched" = 2, "Don't know" = 1, "Refused" = 1, "blank" = 1))
  expect_equal(part$valid + sum(part$missing), 10)
  expect_equal(part$unmatched, data.frame(value = c("2.5", "12"), rows = c(1L, 1L)))
  expect_equal(part$boundary,
    data.frame(value = c(1, 4, 5), rows = c(1L, 1L, 2L), code = c("1", "2", "2")))
})

test_that("the receipt of rules over several variables shows what none caught", {
  part <- receipt_of(turn_recode(book, as = "y", becomes(1, g = "a", x = from(0)),
    becomes(2, g = "b")))$parts[[1]]
  expect_equal(part$rules$caught, c("g: \"a\"; x: 0 and more", "g: \"b\""))
  expect_equal(part$rules$rows, c(2, 3))
  expect_equal(part$unmatched$rows, c(1L, 1L, 1L))
  expect_setequal(part$unmatched$value, c("g = c, x = 2.5", "g = c, x = 5", "g = c, x = missing"))
  expect_equal(part$missing[["a source is missing"]], 2)
})

test_that("the receipt of a flag tells the boundary and what was learned", {
  part <- receipt_of(turn_flag(book, x > median(x), as = "f"))$parts[[1]]
  expect_equal(part$rules[c("code", "rows")], data.frame(code = c("1", "0"), rows = c(3L, 4L)))
  expect_equal(part$boundary, data.frame(value = 4, rows = 1L, code = "0"))
  expect_equal(part$learned, list(list(of = "median(x)", is = 4, rows = 7L)))
})

test_that("the receipt of a composite tells what each smaller threshold would score", {
  set.seed(4)
  items <- as.data.frame(matrix(sample(c(1:5, NA), 400, TRUE), 100, 4))
  part <- receipt_of(turn_composite(items, V1:V4, as = "s", at_least = 3))$parts[[1]]
  valid <- rowSums(!is.na(items))
  expect_equal(part$items$rows,
    c("4" = sum(valid == 4), "3" = sum(valid == 3), "2" = sum(valid == 2), "1" = sum(valid == 1),
      "0" = sum(valid == 0)))
  expect_equal(part$valid, sum(valid >= 3))
  expect_equal(part$items$complete, sum(valid == 4))
  constant <- receipt_of(turn_composite(data.frame(a = 1:4, b = 2), a:b, as = "s"))$parts[[1]]
  expect_null(constant$items$alpha)
})

test_that("definitions, undoing and replays leave receipts too", {
  receipt <- receipt_of(define(turnbook(data), x, missing = c("Refused" = 99)))
  expect_equal(receipt$parts, list(x = c("Refused" = 1L)))
  made <- quietly(turn_compute(book, x + 1, as = "y"))
  expect_equal(receipt_of(undo(made))$turn$step$makes, "y")
  expect_equal(receipt_of(define(made, x, missing = c("Gone" = 12)))$turn$users, "y")
})

test_that("one missing row, or none but missing ones, has one reason", {
  for (x in list(c(NA, 1:9), c(NA, NA), NA_real_)) {
    book <- quietly(turn_recode(data.frame(x = x), x, as = "y", becomes(1, upto(4)),
      becomes(2, over(4))))
    made <- known_variable(book, "y")
    expect_length(made$why, sum(is.na(made$x)))
    expect_equal(sum(cross(book, y)$rows), length(x))
  }
})

test_that("the sources that lack an answer are named, in receipts and beside the data", {
  data <- data.frame(a = c(1, NA, 99, 4, 5), b = c(1, 2, NA, NA, 2.5), c = c(1, 2, 3, 98, 3))
  book <- quietly(define(turnbook(data), c(a, c), missing = c("Refused" = 99, "Away" = 98)))
  expect_match(receipts(turn_compute(book, a + b + c, as = "y")),
    "Without an answer: a (Refused 1, blank 1), b (blank 2), c (Away 1)", fixed = TRUE, all = FALSE)
  made <- quietly(turn_compute(book, a + b + c, as = "y"))
  told <- c(NA, "a: blank", "a: Refused; b: blank", "b: blank; c: Away", NA)
  expect_equal(as.data.frame(made, missing = "reasons")$y_why, told)
  many <- data[rep(1:5, 400), ]
  big <- quietly(define(turnbook(many), c(a, c), missing = c("Refused" = 99, "Away" = 98)))
  expect_match(receipts(turn_compute(big, a + b + c, as = "y")),
    "a (Refused 400, blank 400), b (blank 800), c (Away 400)", fixed = TRUE, all = FALSE)
  panel <- data.frame(p = rep(1:3, each = 2), w = rep(1:2, 3), x = c(1, 2, NA, 4, 5, NA))
  expect_equal(as.data.frame(quietly(turn_change(panel, x, unit = p, order = w)),
    missing = "reasons")$x_change_why,
  c("no earlier occasion", NA, "x: blank", "no baseline",
    "no earlier occasion", "x: blank"))
  expect_output(print(show_working(made, y, rows = 3)), "y = . + . + 3 = . (a: Refused; b: blank)",
    fixed = TRUE)
})

test_that("what was learned stands after its group, of several variables too", {
  data <- data.frame(x = c(1, 3, 10, 20, 5, 7, 9, 11), g = rep(c("a", "b"), each = 4),
    h = c(1, 1, 2, 2, 2, 2, 1, 1))
  told <- gsub("\\s+", " ", paste(receipts(turn_group(data, x, within = c(g, h))), collapse = " "))
  means <- stats::aggregate(x ~ g + h, data, mean)
  for (i in seq_len(nrow(means))) {
    expect_match(told, paste0(means$x[i], " in ", means$g[i], ", ", means$h[i]), fixed = TRUE)
  }
})
