# Numbers on other people's data, each against a computation of its own.
value <- function(book, name) as.vector(book[[name]])
made <- function(code) quietly(code)

# Reads the label of a band and holds it against values.
is_true_of <- function(label, x) {
  number <- as.numeric(regmatches(label, gregexpr("-?[0-9.]+(e[-+]?[0-9]+)?", label))[[1]])
  if (label == "all") return(TRUE)
  if (startsWith(label, "under ")) return(all(x < number))
  if (grepl(" and under$", label)) return(all(x <= number))
  if (grepl(" and over$", label)) return(all(x >= number))
  if (startsWith(label, "over ")) {
    return(all(x > number[1] & (length(number) < 2 | x <= number[length(number)])))
  }
  if (grepl(" to under ", label)) return(all(x >= number[1] & x < number[2]))
  all(x >= number[1] & x <= number[length(number)])
}

test_that("ties are equal values, however large or close they are", {
  base <- list(1.7e9 + c(.1, .4, .7, 2.5, 4), c(1, 1 + 1e-12, 2, 2), c(-5, 0, 1e-12, 1e-11, 3),
    c(1e-300, 2e-300, 1))
  for (x in base) {
    book <- made(turn_standardize(data.frame(x = x), x, how = "percentile"))
    expect_equal(value(book, "x_percentile"), 100 * (rank(x) - 0.5) / length(x))
    expect_proved(book)
    bands <- made(turn_bin(data.frame(x = x), x, groups = length(unique(x))))
    expect_equal(value(bands, "x_b"), match(x, sort(unique(x))))
  }
  book <- made(turn_standardize(data.frame(x = c(1:4, Inf)), x, how = "percentile") |>
    turn_standardize(x, how = "sten", as = "s") |> turn_standardize(x, how = "stanine", as = "n"))
  for (name in c("x_percentile", "s", "n")) {
    expect_equal(which(is.na(value(book, name))), 5L, info = name)
  }
  expect_proved(book)
})

test_that("whole numbers do not overflow, and missing stays missing under powers", {
  data <- data.frame(x = c(50000L, NA, 3L), y = c(60000L, 2L, -7L), p = c(NA, 2, 0))
  data$top <- c(.Machine$integer.max, 1L, 2L)
  book <- made(turnbook(data) |> turn_compute(x * y, as = "a") |>
    turn_compute(top + top - x, as = "b") |>
    turn_compute(p^0, as = "c") |> turn_compute(1^p, as = "d") |> turn_compute(x^p, as = "e"))
  expect_equal(value(book, "a"), c(3e9, NA, -21))
  expect_equal(value(book, "b"), c(2 * 2147483647 - 50000, NA, 1))
  expect_equal(value(book, "c"), c(NA, 1, 1))
  expect_equal(value(book, "d"), c(NA, 1, 1))
  expect_equal(value(book, "e"), c(NA, NA, 1))
  expect_proved(book)
  long <- data[rep(1:3, 10000), ]
  expect_equal(value(made(turn_compute(long, (p + 0)^(p * 0), as = "f")), "f")[1:3], c(NA, 1, 1))
})

test_that("bands of equal count all hold rows, and labels are true of every row", {
  set.seed(4)
  for (i in sampled(1:60)) {
    x <- round(rnorm(sample(5:200, 1), 10^sample(-3:7, 1), 10^sample(-4:3, 1)), sample(0:6, 1))
    way <- sample(c("count", "width", "gaps"), 1)
    edge <- sample(c("begins", "ends"), 1)
    if (length(unique(x)) < 2) next
    groups <- min(sample(2:9, 1), length(unique(x)))
    book <- made(turn_bin(data.frame(x = x), x, groups = groups, by = way, edge = edge, as = "b"))
    labels <- core("meaning_in")(book, "b")$codes
    if (way == "count") expect_setequal(value(book, "b"), seq_along(labels))
    for (code in unique(value(book, "b"))) expect_true(is_true_of(names(labels)[code],
      x[value(book, "b") == code]), info = paste(names(labels)[code], way, edge))
  }
  expect_equal(sort(unique(value(made(turn_bin(swiss, Education, groups = 10, as = "b")), "b"))),
    1:9)
  million <- made(turn_bin(data.frame(x = c(999999.9, 1000000, 1000000.4)), x,
    at = 1000000.2, as = "b"))
  expect_equal(names(core("meaning_in")(million, "b")$codes),
    c("under 1000000.2", "1000000.2 and over"))
  named <- made(turn_bin(data.frame(x = 1:4), x, at = 3, labels = c("low", "high"), as = "b"))
  expect_equal(core("meaning_in")(named, "b")$label, "x, in bands")
  spread <- data.frame(x = c(rep(0, 40), 100))
  expect_equal(max(value(made(turn_bin(spread, x, groups = 6, by = "spread", as = "b")), "b")), 6)
})

test_that("natural breaks have the least sum of squares, far from zero as well", {
  squares <- function(x, g) sum(tapply(x, g, function(v) sum((v - mean(v))^2)))
  set.seed(2)
  for (i in sampled(1:25)) {
    x <- c(-1e9 * (i %% 2), round(rnorm(11), 2), if (i %% 3) 1e6)
    values <- sort(unique(x))
    least <- min(utils::combn(length(values) - 1, 3, function(at) {
      squares(x,
        findInterval(x, values[at + 1]))
    }))
    ours <- squares(x, value(made(turn_bin(data.frame(x = x), x, groups = 4, by = "gaps",
      as = "b")), "b"))
    expect_lte(ours, least * (1 + 1e-9) + 1e-9)
  }
})

test_that("no spread is a matter of proportion, and a group of one row is missing", {
  expect_equal(value(made(turn_standardize(data.frame(x = 1e-14 * 1:5), x)), "x_z"),
    as.vector(scale(1:5)))
  refused(turn_standardize(data.frame(x = 1e9 + rep(c(0, 1e-7), 5)), x), "no-spread")
  few <- data.frame(x = c(1, 3, 8), g = c("a", "a", "b"))
  book <- made(turn_standardize(few, x, within = g, how = "centred", as = "c"))
  expect_equal(value(book, "c"), c(-1, 1, NA))
  expect_proved(book)
})

test_that("weights, tables, draws and statistics mean what their names say", {
  data <- data.frame(a = 1:3, b = c(2, 4, 9), g = c("u", NA, "v"), h = "all")
  expect_equal(value(made(turn_composite(data, c(a, b), weights = c(b = 3, a = 1), how = "sum",
    as = "s")), "s"), data$a + 3 * data$b)
  refused(turn_composite(data, c(a, b), weights = c(b = 3, q = 1), as = "s"), "weights-whose")
  refused(turn_composite(data, c(a, b), weights = c(b = 3), as = "s"), "weights-lost")
  refused(turn_crosswalk(data, a, table = data.frame(k = c("01", "1", "2"), v = 5:7), as = "v"),
    "table-twice")
  expect_equal(value(made(turn_group(data, g, within = h, how = "valid")), "g_valid"), c(2, 2, 2))
  block <- made(turn_compute(data, as = "d", {
    t <- b * 2
    b - mean(t)
  }))
  expect_equal(value(block, "d"), data$b - mean(2 * data$b))
  expect_proved(block)
  book <- turnbook(data.frame(id = 1:4000), id = id)
  book <- made(turn_compute(book, draw_uniform(seed = 7), as = "u") |>
    turn_compute(draw_normal(seed = 7), as = "n"))
  expect_lt(abs(stats::cor(value(book, "u"), abs(value(book, "n")))), 0.05)
  expect_lt(abs(stats::cor(value(book, "u"), value(book, "n"))), 0.05)
  told <- receipts(turn_composite(data, c(a, b), how = "sum", prorate = TRUE, as = "s"))
  expect_match(paste(told, collapse = " "), "prorate = TRUE changes nothing")
})

test_that("names of dummies and letters of texts do not mislead", {
  levels <- c("<12 yrs", "12 yrs", ">16 yrs", "16 yrs", "40-79", "-3", "120+")
  names <- names(made(turn_dummy(data.frame(g = levels), g, all_levels = TRUE, as = "{level}")))[-1]
  expect_setequal(names, c("under_12_yrs", "12_yrs", "over_16_yrs", "16_yrs", "40_79",
    "minus_3", "120_plus"))
  book <- made(turnbook(data.frame(t = c("e\u0301a", "\u00e9b", "x"))) |>
    turn_compute(nchar(t), as = "n") |>
    turn_flag(startsWith(t, "\u00e9"), as = "s") |> turn_compute(substr(t, 1, 1), as = "f"))
  expect_equal(value(book, "n"), c(2, 2, 1))
  expect_equal(value(book, "s"), c(1, 1, 0))
  expect_equal(value(book, "f"), c("\u00e9", "\u00e9", "x"))
  expect_identical(book$t, c("e\u0301a", "\u00e9b", "x"))
  expect_proved(book)
  path <- tempfile(fileext = ".csv")
  writeLines(c("code,dose", "t1,10t", "t2,t", "1t,3"), path)
  read <- read_data(path)
  expect_equal(read$code, c("t1", "t2", "1t"))
  expect_equal(read$dose, c("10t", "t", "3"))
})

test_that("a weight that is a text counts as its number, and without a word for what is none", {
  rows <- data.frame(id = 1:8, x = 1:8, g = rep(c("a", "b"), 4), told = c(1, 2, NA, 1, 1, 2, 1, 3))
  rows$text <- ifelse(is.na(rows$told), "x", rows$told)
  made <- lapply(c("told", "text"), function(w) {
    expect_no_warning(book <- quietly(turn_standardize(turnbook(rows, id = id), x,
      how = "percentile", within = g, weight = tidyselect::all_of(w))))
    book$x_percentile
  })
  expect_equal(made[[2]], made[[1]])
  expect_equal(made[[1]][c(1, 5, 7)], 100 * c(0.5, 1.5, 2.5) / 3)
})
