# Weights: of groups, and stated once for a whole book. The oracle is base R.
set.seed(3)
data <- data.frame(id = 1:400, g = rep(1:150, length.out = 400), x = c(NA, 2:400),
  w = round(stats::runif(400), 2), k = rep(c("a", "b"), 200))
data$w[7] <- NA
by <- function(f, g) {
  stats::ave(seq_len(400), g, FUN = function(i) {
    i <- i[!is.na(data$x[i] + data$w[i])]
    f(data$x[i], data$w[i])
  })
}

test_that("a mean and a sum of groups with weights, of many groups and of few, in every way", {
  for (book in list(data, turnbook(data, id = id))) {
    made <- quietly(turn_group(book, x, within = g, weight = w, as = "m") |>
      turn_group(x, within = g, weight = w, how = "sum", as = "s") |>
      turn_group(x, within = k, weight = w, as = "mk"))
    expect_equal(made$m, by(stats::weighted.mean, data$g))
    expect_equal(made$s, by(function(x, w) sum(x * w), data$g))
    expect_equal(made$mk, by(stats::weighted.mean, data$k))
    expect_proved(made)
  }
  sheet <- tempfile(fileext = ".yaml")
  save_turns(made, sheet)
  expect_equal(quietly(apply_turns(data, sheet))$m, made$m)
  refused(turn_group(data, x, within = g, how = "median", weight = w), "group-weight")
  refused(turn_group(data, x, within = g, weight = c(w, x)), "one-variable")
  refused(turn_group(transform(data, w = -w), x, within = g, weight = w), "weight-negative")
})

test_that("a weight that is stated once is taken where a call takes one", {
  book <- quietly(define(data, w, role = "weight"))
  said <- paste(receipts(made <- turn_standardize(book, x, as = "z")), collapse = " ")
  expect_match(said, "mean(x, weight = w)", fixed = TRUE)
  expect_equal(mean(quietly(turn_standardize(book, x, weight = NULL, as = "z"))$z, na.rm = TRUE), 0)
  expect_equal(stats::weighted.mean(made$z[-7], data$w[-7], na.rm = TRUE), 0)
  expect_equal(quietly(turn_group(book, x, within = g, as = "m"))$m,
    by(stats::weighted.mean, data$g))
  expect_equal(attr(look(book, x), "weight"), "w")
  expect_null(attr(look(book, x, weight = NULL), "weight"))
  expect_null(attr(look(book, w), "weight"))
  expect_output(print(item_analysis(book, c(x, g))), "weighted by w", fixed = TRUE)
  expect_equal(quietly(turn_bin(book, x, groups = 2, as = "b"))$b,
    quietly(turn_bin(data, x, groups = 2, weight = w, as = "b"))$b)
  # what was made before keeps what it has, also when it is changed or made again
  plain <- quietly(turn_standardize(data, x, as = "z") |> define(w, role = "weight") |>
    amend(z, label = "Plain"))
  expect_equal(mean(plain$z, na.rm = TRUE), 0)
  expect_proved(plain)
  files <- c(tempfile(fileext = ".json"), tempfile(fileext = ".csv"))
  for (file in files) {
    write_codebook(book, file)
    again <- quietly(turn_standardize(turnbook(data, codebook = file), x, as = "z"))
    expect_equal(again$z, made$z)
  }
  sheet <- tempfile(fileext = ".yaml")
  save_turns(made, sheet)
  expect_match(readLines(sheet), "role: weight", all = FALSE)
  expect_identical(quietly(apply_turns(data, sheet))$z, made$z)
  refused(define(book, x, role = "weight"), "weight-stated")
  refused(define(data, c(x, w), role = "weight"), "one-weight")
  refused(define(data, k, role = "weight"), "text-not-numbers")
  refused(define(data, w, role = "outcome"), "bad-choice")
  back <- quietly(define(book, w, role = "none") |> turn_standardize(x, as = "z"))
  expect_equal(mean(back$z, na.rm = TRUE), 0)
})
