# What stands with a column (facts, reasons, counts) is always what its values say, after
# every way of making, changing and undoing it; and what is learned is what plain R finds.
skip_on_cran() # long; make test runs it

expect_true_columns <- function(book, info) {
  for (name in names(core("part_of_book")(book, "columns"))) {
    column <- known_variable(book, name)
    told <- paste(info, name)
    gone <- sum(is.na(column$x))
    expect_length(column$why, gone)
    expect_true(all(column$why %in% seq_along(column$kinds)), info = told)
    fresh <- core("facts_of_column")(column$x)
    expect_equal(column$facts$valid, length(column$x) - gone, info = told)
    if (is.character(column$x)) next
    expect_equal(column$facts, fresh, info = told)
    counts <- column$counts
    if (!is.null(counts$rows)) expect_lte(sum(counts$rows, counts$none), length(column$x))
    if (!is.null(counts$with)) expect_equal(sum(counts$with), length(column$x), info = told)
  }
}

test_that("what is found of an original on the way to something else is kept as well", {
  book <- turnbook(data.frame(x = rep(c(1:4, NA), 50), y = runif(250)))
  core("facts_of")(known_variable(book, "x"))
  expect_true(all(c("facts", "x", "why", "cells") %in% names(core("variable_in")(book, "x"))))
  index <- core("index_of")(known_variable(book, "x"))
  turn_flag(book, x > 2, as = "f")
  expect_identical(core("same_objects")(core("index_of")(known_variable(book, "x")), index),
    c(TRUE, TRUE, TRUE))
})

test_that("columns of the demo are true after each step and its undoing", {
  book <- demo_work()
  expect_true_columns(book, "demo")
  steps <- expression(
    define(book, wait_min, missing = c(None = 0)), define(book, hours, asked_if = age < 75),
    amend(book, strain, at_least = 3), turn_flag(book, age > 40, as = "long_wait", replace = TRUE),
    turn_dummy(book, island), turn_dummy(book, island, missing = "level", coding = "effect"),
    turn_collapse(book, ticket, as = "few", rarer_than = 0.1),
    turn_bin(book, income, groups = 5, edge = "ends"),
    turn_standardize(book, c(strain, income), how = "percentile", within = island),
    turn_standardize(book, hours, how = "t", weight = weight),
    turn_group(book, income, within = household_id, as = "g"),
    turn_interact(book, strain, age), turn_rescale(book, tr_1, to = c(0, 100)),
    turn_crosswalk(book, occupation, table = demo_file("status-score.csv")),
    turn_compute(book, if (is.na(income)) 0 else income / household, as = "each"),
    turn_compute(book, toupper(ticket), as = "loud"), turn_recode(book, ticket,
      becomes("x", "Single"), the_rest(unchanged()), as = "some", loose = TRUE)
  )
  for (step in as.list(steps)) {
    made <- quietly(eval(step))
    expect_true_columns(made, deparse1(step))
    back <- quietly(undo(made))
    expect_equal(as.data.frame(back), as.data.frame(book), info = deparse1(step))
    expect_true_columns(back, paste("undone:", deparse1(step)))
  }
})

test_that("columns of awkward data are true, or refused", {
  tries <- expression(
    turn_recode(book, x, as = "r", becomes(1, upto(2)), the_rest(2)),
    turn_recode(book, g, as = "r", becomes(1, "a")),
    turn_bin(book, x, groups = 3), turn_dummy(book, g), turn_standardize(book, x),
    turn_compute(book, x / y, as = "r"),
    turn_composite(book, c(x, y), as = "r", at_least = 1), turn_flag(book, x > y, as = "r"),
    turn_reverse(book, x, limits = c(-10, 200)), turn_group(book, x, within = g, as = "r"),
    turn_standardize(book, x, how = "percentile"), turn_compute(book, x - min(x), as = "r")
  )
  made <- 0
  for (kind in names(sampled(frames))) for (try in as.list(tries)) {
    for (times in c(1, 40)) {
      book <- turnbook(frames[[kind]][rep(seq_len(nrow(frames[[kind]])), times), ])
      out <- tryCatch(quietly(eval(try)), ableturn_error = identity)
      if (inherits(out, "ableturn_error")) next
      made <- made + 1
      expect_true_columns(out, paste(kind, times, deparse1(try)))
    }
  }
  expect_gt(made, 100 * length(sampled(frames)) / length(frames))
})

# Statistics learned by turns on two threads' worth of rows.
learned_survey <- function() {
  set.seed(41)
  rows <- 60000
  data.frame(x = c(NA, 500, rnorm(rows - 2, 50, 12)), few = sample(c(1:7, NA), rows, TRUE),
    g = sample(c("n", "s", "w", NA), rows, TRUE), w = sample(c(0, 0.5, 1, 2, NA), rows, TRUE))
}

test_that("what turns learn of many rows is what plain R finds", {
  data <- learned_survey()
  book <- turnbook(data)
  learned <- function(turn) lapply(known_variable(quietly(turn), "r")$learned, `[[`, "is")
  v <- data$x[!is.na(data$x)]
  z <- learned(turn_standardize(book, x, as = "r"))
  expect_equal(unlist(z), c(mean(v), sd(v)))
  robust <- learned(turn_standardize(book, x, how = "robust", as = "r"))
  expect_equal(unlist(robust), c(median(v), mad(v)))
  ends <- learned(turn_standardize(book, few, how = "minmax", as = "r"))
  expect_equal(unlist(ends), c(1, 7))
  cuts <- learned(turn_bin(book, x, groups = 7, as = "r"))[[1]]
  expect_equal(cuts, quantile(v, 1:6 / 7, names = FALSE))
  by <- learned(turn_standardize(book, x, within = g, as = "r"))
  expect_equal(by[[1]], as.vector(tapply(data$x, data$g, mean, na.rm = TRUE)))
  expect_equal(by[[2]], as.vector(tapply(data$x, data$g, sd, na.rm = TRUE)))
  use <- !is.na(data$x) & !is.na(data$w) & data$w > 0
  weighted <- learned(turn_standardize(book, x, weight = w, how = "centred", as = "r"))[[1]]
  expect_equal(weighted, weighted.mean(data$x[use], data$w[use]))
  rank <- quietly(turn_standardize(book, few, how = "percentile", as = "r"))$r
  share <- vapply(1:7, function(k) {
    mean(data$few < k, na.rm = TRUE) +
      mean(data$few == k, na.rm = TRUE) / 2
  }, 0)
  expect_equal(rank, 100 * share[data$few])
  middles <- quietly(turn_group(book, x, within = c(g, few), how = "median", as = "r"))$r
  right <- ave(data$x, data$g, data$few, FUN = function(v) median(v, na.rm = TRUE))
  right[is.na(data$g) | is.na(data$few)] <- NA
  expect_equal(middles, right)
})

test_that("recorded statistics are used again as they are, and learned anew when asked", {
  data <- learned_survey()
  path <- tempfile(fileext = ".yaml")
  made <- quietly(turnbook(data) |> turn_standardize(x, as = "z") |>
    turn_bin(x, groups = 4, as = "b"))
  save_turns(made, path)
  half <- data[data$x > 50 & !is.na(data$x), ]
  again <- quietly(apply_turns(half, path))
  expect_equal(again$z, made$z[which(data$x > 50)])
  expect_equal(again$b, made$b[which(data$x > 50)])
  anew <- quietly(apply_turns(half, path, learned = "refit"))
  expect_equal(c(mean(anew$z), sd(anew$z)), c(0, 1))
  expect_equal(as.vector(table(anew$b)), rep(nrow(half) / 4, 4), tolerance = 0.001)
})

test_that("attaching the package and asking for help load no package that they do not need", {
  rscript <- file.path(R.home("bin"), "Rscript")
  ask <- paste("library(ableturn); invisible(capture.output(ableturn:::cli_main('--help')));",
    "cat(loadedNamespaces())")
  loaded <- system2(rscript, c("-e", shQuote(ask)), stdout = TRUE, stderr = FALSE)
  found <- strsplit(tail(loaded, 1), " ")[[1]]
  expect_true("ableturn" %in% found)
  expect_equal(intersect(found, c("rlang", "cli", "vctrs", "tidyselect", "optparse",
    "yaml", "ggplot2")), character())
})

test_that("of long data no copy of an original is kept after a step or a look", {
  n <- 100001
  data <- data.frame(a = rep_len(c(1:5, 9L), n), b = rep_len(c(1.5, NA, 3), n),
    t = rep_len(c("x", "", "y"), n))
  book <- quietly(define(turnbook(data), a, missing = c(Refused = 9)))
  ready <- function(book) {
    Filter(function(name) {
      x <- core("cache_of")(book)[[name]]$x
      !is.null(x) && !core("is_not_written")(x)
    }, names(data))
  }
  steps <- list(function(b) turn_recode(b, a, as = "r", becomes(1, 1), the_rest(2)),
    function(b) turn_recode(b, t, as = "r", becomes(1, "x"), the_rest(2)),
    function(b) turn_compute(b, a + b, as = "r"), function(b) cross(b, a, t))
  for (step in steps) {
    quietly(step(book))
    expect_equal(ready(book), character())
  }
  look(book)
  expect_equal(ready(book), character())
})
