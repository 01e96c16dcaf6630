ranges <- list(
  "30 .." = from(30), ".. 29" = upto(29), "> 29" = over(29), "< 30" = under(30),
  "30 .. 59" = from(30, upto = 59), "30 .. < 60" = from(30, under = 60),
  "> 29 .. 59" = over(29, upto = 59), "> 29 .. < 60" = over(29, under = 60),
  "-5 .. -1.5" = from(-5, upto = -1.5), "0.1 .. 1e-07" = NULL
)
holds <- list(
  "30 .." = c(30, 60, 1e9), ".. 29" = c(29, -1), "> 29" = c(29.5, 60), "< 30" = c(29.9, 0),
  "30 .. 59" = c(30, 59), "30 .. < 60" = c(30, 59.9), "> 29 .. 59" = c(29.1, 59),
  "> 29 .. < 60" = c(30, 59)
)
leaves <- list(
  "30 .." = c(29.9, NA), ".. 29" = c(29.1, NA), "> 29" = 29, "< 30" = 30, "30 .. 59" = c(29, 60),
  "30 .. < 60" = 60, "> 29 .. 59" = c(29, 60), "> 29 .. < 60" = c(29, 60)
)

test_that("ranges are written, read and held to their ends", {
  for (text in names(Filter(Negate(is.null), ranges))) {
    expect_identical(core("write_range")(ranges[[text]]), text)
    expect_identical(core("read_range")(text), ranges[[text]], info = text)
  }
  for (text in names(holds)) {
    inside <- core("match_rows")(holds[[text]], list(ranges[[text]]))
    outside <- core("match_rows")(leaves[[text]], list(ranges[[text]]))
    expect_true(all(inside), info = text)
    expect_false(any(outside), info = text)
  }
  for (text in c("Daily", "5", "..", "1 2", "> ", "5 ... 6", "a .. b", "2031-01-02")) {
    expect_null(core("read_range")(text))
  }
})

cells <- list(
  list("3", 3L), list("[1, 2, 5]", c(1L, 2L, 5L)), list("Daily", "Daily"),
  list("\"1 .. 4\"", "1 .. 4"), list("[\"a, b\", c]", c("a, b", "c")), list("2.5", 2.5)
)

test_that("cells of a rule table are numbers, lists, texts, ranges or missing kinds", {
  for (case in cells) {
    read <- core("read_cell")(case[[1]])
    expect_length(read, 1)
    expect_identical(read[[1]]$values, case[[2]], info = case[[1]])
  }
  expect_equal(core("read_cell")("{missing: Refused}")[[1]]$kind, "Refused")
  expect_equal(core("read_cell")("{missing: any}")[[1]]$kind, "any")
  expect_length(core("read_cell")("[1, 5 .., x]"), 3)
})

test_that("numbers are written in the shortest form that reads back the same", {
  show <- core("show_number")
  set.seed(2)
  numbers <- c(0, 1, -1, 0.1, 1 / 3, 2 / 3, 1e5, 123456789, 1e15, 1e-7, pi * 10^(-20:20),
    rnorm(500), 0.1 + 0.2)
  expect_identical(as.numeric(show(numbers)), numbers)
  expect_equal(show(c(0.1, 1e5, 100000L, NA, 2.50)), c("0.1", "100000", "100000", NA, "2.5"))
  expect_equal(core("as_number")(c("1", " 2.5 ", "-3e2", ".5", "0x1A", "Inf", "1,5", "", NA, "1L")),
    c(1, 2.5, -300, 0.5, rep(NA, 6)))
})

test_that("texts are compared in one form, loosely without case, spaces and accents", {
  loosen <- core("loosen")
  expect_equal(loosen(c(" Caf\u00c9 ", "CAFE", "cafe\u0301", "\u00a0caf\u00e9")), rep("cafe", 4))
  expect_equal(core("normal_text")("e\u0301"), "\u00e9")
  expect_equal(core("sort_points")(c("b", "\u00e9", "A", "a")), c("A", "a", "b", "\u00e9"))
  expect_equal(core("sort_values")(c("10", "9", "b", "a")), c("9", "10", "a", "b"))
  expect_equal(core("quote_name")(c("a", "my var", "if", "a`b", "_x")),
    c("a", "`my var`", "`if`", "`a\\`b`", "`_x`"))
})

test_that("a range can be a missing kind, and kinds are counted apart", {
  data <- data.frame(x = c(1, 950, 999, 98, NA, 5))
  book <- quietly(define(data, x, missing = list("Not asked here" = from(900), "Refused" = 98)))
  expect_equal(book$x, c(1, NA, NA, NA, NA, 5))
  expect_equal(why(book, "x"), c("Not asked here", "Not asked here", "Refused", "blank"))
  flagged <- quietly(turn_flag(book, unanswered(x, "Not asked here"), as = "f"))
  expect_equal(flagged$f, c(0, 1, 1, 0, 0, 0))
  expect_equal(run_base_script(flagged, data)$f, flagged$f)
  both <- quietly(define(data, x, missing = list("Gone" = list(98, from(900)))))
  expect_equal(why(both, "x"), c("Gone", "Gone", "Gone", "blank"))
})
