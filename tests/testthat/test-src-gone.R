# Missing rows, their reasons, differences and bands, against plain R.
set.seed(21)
n <- 60001
gappy <- list(
  real = replace(round(rnorm(n), 1), sample(n, 6000), NA), whole = sample(c(1:9, NA), n, TRUE),
  text = sample(c("a", "b", NA), n, TRUE), odd = replace(rnorm(n), c(1, 7, n), c(NaN, NA, NaN)),
  full = as.double(seq_len(n)), none = rep(NA_real_, n)
)

test_that("missing rows are found, and their kinds", {
  for (name in names(gappy)) {
    x <- gappy[[name]]
    gone <- which(is.na(x))
    expect_identical(core("gone_rows")(x), gone, info = name)
    why <- sample(3L, length(gone), TRUE)
    rows <- sort(sample(n, 5000))
    right <- why[match(rows, gone)]
    right[is.na(right)] <- 0L
    expect_identical(core("kinds_of_rows")(x, why, rows), right, info = name)
  }
  for (rows in list(c(2L, 1L), 0L, n + 1L)) {
    expect_error(core("kinds_of_rows")(gappy$real, 1L, rows), "do not fit")
  }
  expect_error(core("kinds_of_rows")(gappy$none, 1L, 2L), "do not fit")
})

# A source as the kernel reads it, and the kind of each row, 0 where it is valid.
plain_source <- function(x, kinds) {
  why <- sample(kinds, sum(is.na(x)), TRUE)
  list(source = list(x, why), kinds = kinds, kind = replace(integer(n), which(is.na(x)), why))
}

indexed_source <- function(kinds) {
  place <- sample(4L + kinds, n, TRUE)
  kind <- c(integer(4), seq_len(kinds))
  list(source = list(as.raw(place - 1), kind), kinds = kinds, kind = kind[place])
}

test_that("results are missing for the reasons of their sources", {
  sources <- list(plain_source(gappy$real, 1L), plain_source(gappy$whole, 3L),
    plain_source(gappy$text, 2L), indexed_source(2L), plain_source(gappy$none, 2L))
  x <- replace(gappy$full, sample(n, 9000), NA)
  for (chosen in list(1:4, 2, 4, 5, c(3, 5), integer())) {
    used <- sources[chosen]
    told <- core("explain_gone")(x, lapply(used, `[[`, "source"), vapply(used, `[[`, 1L, "kinds"))
    kind <- vapply(used, function(s) s$kind[is.na(x)], integer(9000))
    kind <- matrix(kind, 9000)
    right <- if (length(used) == 1) 1L + kind[, 1] else 1L + (rowSums(kind > 0) > 0)
    expect_equal(told$why, right)
    expect_equal(told$rows, lapply(seq_along(used), function(j) {
      as.double(tabulate(kind[, j], used[[j]]$kinds))
    }))
  }
  expect_error(core("explain_gone")(x, list(list(gappy$real, 9L)), 1L), "do not fit")
  expect_error(core("explain_gone")(x, list(list(1, 1L)), 1L), "do not fit")
  expect_error(core("explain_gone")(x, list(), 1L), "do not fit")
})

test_that("columns of numbers are compared row by row", {
  a <- c(1, 2, NA, 4, 1e6, Inf, -Inf, NaN, 0, Inf)
  b <- c(1, 2 + 1e-10, 3, NA, 1e6 + 1e-7, Inf, Inf, NA, -0, 1)
  told <- core("differing_numbers")(a, b, FALSE)
  expect_identical(told$rows, c(2L, 3L, 4L, 7L, 10L))
  expect_identical(core("differing_numbers")(a, b, TRUE)$rows, c(2L, 3L, 4L, 5L, 7L, 10L))
  expect_identical(core("differing_numbers")(1:3, c(1, NA, 4), TRUE),
    list(rows = 2:3, largest = 1))
  expect_identical(core("differing_numbers")(c(TRUE, NA), c(1L, NA), TRUE)$rows, integer())
  expect_error(core("differing_numbers")(1:3, 1:2, TRUE), "do not fit")
})

test_that("bands have the rows and ends that cut() gives them", {
  for (name in c("real", "whole", "odd", "full", "none")) for (cuts in list(numeric(), 0,
    c(-1, 0, 0.5, 3), seq(-2, 9, length.out = 40))) for (ends in c(TRUE, FALSE)) {
    x <- gappy[[name]]
    x <- x[is.finite(x)]
    band <- cut(x, c(-Inf, cuts, Inf), labels = FALSE, right = ends)
    told <- core("band_ends")(gappy[[name]], cuts, ends)
    bands <- factor(band, seq_len(length(cuts) + 1))
    expect_equal(told$rows, as.vector(table(bands)))
    expect_equal(told$low, vapply(split(x, bands), function(v) min(v, Inf), 0, USE.NAMES = FALSE))
    expect_equal(told$high, vapply(split(x, bands), function(v) max(v, -Inf), 0, USE.NAMES = FALSE))
  }
  expect_error(core("band_ends")(1:3, c(2, 1), TRUE), "do not fit")
})

test_that("moments of cells are those of their rows", {
  set.seed(22)
  values <- c(-2.5, 0, 1e6, 0.1, NA)
  for (rows in list(c(3, 900, 0, 41, 5), c(0, 0, 0, 1, 9), integer(5))) {
    told <- core("moments_of_cells")(values, as.integer(rows))
    expect_equal(told, core("moments")(rep(values, rows)), tolerance = 1e-15)
  }
  # to the last digit, whatever the order of many rows
  values <- (0:20 - 12.7391) / 3.0113
  for (seed in 1:40) {
    rows <- withr::with_seed(seed, sample(3000, 21))
    x <- withr::with_seed(seed, sample(rep(values, rows)))
    expect_identical(core("moments")(x), core("moments_of_cells")(values, rows))
  }
})
