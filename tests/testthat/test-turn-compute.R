test_that("formulas compute over many variables, and flags keep missing missing", {
  data <- data.frame(x = c(1, 10, 0, NA), y = c(4, -1, 9, 2), `my var` = 1:4, check.names = FALSE)
  book <- quietly(data |> turn_compute(log10(each), each = c(x, y), as = "{name}_log") |>
    turn_flag(x > mean(x), as = "big") |> turn_compute(sqrt(`my var`) + x, as = "s", label = "Sum"))
  expect_equal(book$x_log, c(0, 1, NA, NA))
  expect_equal(why(book, "x_log"), c("undefined", "blank"))
  expect_equal(why(book, "y_log"), "undefined")
  expect_identical(book$big, c(0L, 1L, 0L, NA))
  cut <- 4
  expect_identical(quietly(turn_flag(data, y >= !!cut, as = "f"))$f, c(1L, 0L, 1L, 0L))
  squared <- quietly(turn_compute(data, as = "h", {
    half <- x / 2
    half^2
  }))
  expect_equal(squared$h, (data$x / 2)^2)
  refused(turn_compute(data, x + 1), "as-needed")
  refused(turn_compute(data, x + 1, each = y, as = "z"), "each-without-x")
  refused(turn_compute(data, "x + 1", as = "z"), "formula-quoted")
  constant <- quietly(turn_compute(data, 1 + 2, as = "z") |> turn_compute("abroad", as = "w"))
  expect_equal(unique(constant$z), 3)
  expect_equal(unique(constant$w), "abroad")
  expect_proved(constant)
  refused(turn_flag(data, x, as = "z"), "flag-no-condition")
  refused(turn_compute(data, log10(each), each = c(x, y), as = "z"), "as-count")
})

test_that("a text in a comparison is a day beside a date, a text beside a text, in steps as well", {
  data <- data.frame(d = as.Date("2031-03-01") + 0:3, t = letters[1:4], x = 1:4)
  made <- function(code) quietly(turn_compute(data, !!code, as = "f"))$f
  second <- c(0, 1, 0, 0)
  for (code in list(quote(d == "2031-03-02"), quote("2031-03-02" == d), quote(t == "b"),
    quote(d %in% c("2031-03-02", "2040-01-01")), quote(!(d != "2031-03-02")),
    quote({
      s <- d - 1
      if (s == "2031-03-01") 1 else 0
    }),
    quote({
      s <- paste0(t, "1")
      if (s == "b1") 1 else 0
    }),
    quote({
      s <- x
      if (s == "2") 1 else 0
    }))) {
    expect_equal(made(code), second, info = deparse(code)[1])
  }
  for (code in list(quote(d == "b"), quote(d == x), quote(d %in% c(1, 2)),
    quote({
      s <- d
      if (s == t) 1 else 0
    }))) {
    refused(made(code), "date-compared")
  }
  refused(made(quote({
    s <- x
    if (s == "b") 1 else 0
  })), "no-such-label")
})
