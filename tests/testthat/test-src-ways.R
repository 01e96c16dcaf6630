# Fast ways of working something out give what the plain way gives.
skip_on_cran() # long; make test runs it

mixed_survey <- function(n) {
  set.seed(21)
  data.frame(
    a = sample(c(1:5, 9, NA), n, TRUE),
    t = sample(c("ferry", "Ferry", "bus ", "", NA, "7"), n, TRUE),
    d = as.Date("2031-01-01") + sample(c(0:20, NA), n, TRUE),
    h = sample(c(-0.5, 0, 0.5, 1, NA), n, TRUE),
    w = ifelse(runif(n) < 0.1, NA, round(rnorm(n), 9)), l = runif(n) < 0.4,
    k = sample(c(10:14, 98L), n, TRUE)
  )
}

open_mixed <- function(data) {
  quietly(define(turnbook(data), a, missing = c(Refused = 9)) |>
    define(k, missing = c("Not sure" = from(90))))
}

mixed_turns <- expression(
  turn_recode(b, a, as = "x", becomes(1, upto(2)), becomes(2, from(4))),
  turn_recode(b, w, as = "x", becomes(1, under(-0.5)), becomes(2, over(0.5)),
    becomes(3, 0, from(-0.1, upto = 0.1))),
  turn_recode(b, k, as = "x", becomes(9, unanswered("Not sure")),
    becomes(NA, 12, label = "Set aside"), the_rest(unchanged())),
  turn_recode(b, t, as = "x", becomes("sea", "ferry"), the_rest(unchanged()), loose = TRUE),
  turn_recode(b, as = "x", becomes(1, a = 1, h = from(0)), becomes(2, a = from(2, upto = 3)),
    becomes(NA, k = unanswered(), label = "No k"), the_rest(0)),
  turn_compute(b, log(a - 2), as = "x"), turn_compute(b, a * h - k, as = "x"),
  turn_compute(b, if (is.na(a)) 0 else a / 2, as = "x"), turn_compute(b, d + 30, as = "x"),
  turn_compute(b, as.Date("2031-02-01") - d, as = "x"),
  turn_compute(b, first_valid(t, 0) + 1, as = "x"),
  turn_flag(b, l & w > 0, as = "x"), turn_flag(b, !(w >= 0.25), as = "x"),
  turn_reverse(b, a, limits = c(1, 5), as = "x"), turn_composite(b, c(a, h, w), as = "x",
    at_least = 2)
)

make_mixed <- function(turn, data) {
  quietly(known_variable(eval(turn, list(b = open_mixed(data))), "x"))
}

test_that("worked out once for each answer or row by row, columns, reasons and counts are the same",
  {
    data <- mixed_survey(600)
    for (turn in sampled(as.list(mixed_turns), every = 4)) {
      made <- make_mixed(turn, data)
      told <- deparse1(turn)
      chunks <- lapply(split(data, rep(1:100, each = 6)), function(rows) make_mixed(turn, rows))
      alone <- lapply(chunks, function(column) core("show_value")(column$x))
      expect_equal(core("show_value")(made$x), unlist(alone, use.names = FALSE), info = told)
      expect_equal(core("reasons")(made), unlist(lapply(chunks, core("reasons")),
        use.names = FALSE), info = told)
      fresh <- core("facts_of_column")(made$x)
      expect_equal(made$facts$valid, fresh$valid, info = told)
      if (is.numeric(made$x)) expect_equal(made$facts, fresh, info = told)
    }
})

test_that("arithmetic in blocks is that of R, to the last digit", {
  set.seed(22)
  n <- 20001
  data <- list(x = round(rnorm(n), 1), y = sample(c(-2:3, NA), n, TRUE),
    t = sample(c(TRUE, FALSE, NA), n, TRUE), z = c(NA, Inf, -Inf, NaN, 0, runif(n - 5) * 10))
  place <- function(rows) list(value = function(name) data[[name]][rows], rows = length(rows))
  formulas <- c("x + y * z - 1", "x / y", "(x - 0.5) ^ 2", "z ^ y", "sqrt(x)", "exp(z * 100)",
    "-x / -2", "y > 1", "log(y) + log10(z) - log2(x) + log1p(y / 2)", "abs(x) > 1 & y == 2 | z < 3",
    "!(x != y)", "y + 1",
    "!t & x >= 0 | is.na(y) & z <= 5", "floor(x) + ceiling(z)", "t | y > 0", "is.na(z)",
    "y + y", "-y")
  for (text in formulas) {
    node <- core("parse_formula")(text)
    whole <- core("evaluate_column")(node, place(seq_len(n)))$x
    parts <- lapply(1:3, function(i) {
      core("evaluate_column")(node,
        place(seq_len(6667) + (i - 1) * 6667))$x
    })
    expect_identical(whole, unlist(parts), info = text)
    exact <- text %in% c("y + y", "-y")
    expect_equal(is.null(core("in_blocks")(node, place(seq_len(n)), core("evaluate"))),
      exact, info = text)
  }
})

number_kinds <- list(
  "codes" = function(n) sample(c(1:7, NA), n, TRUE),
  "ties" = function(n) sample(c(0.5, 2, 1e6, NA), n, TRUE),
  "far apart" = function(n) c(rnorm(n - 2), 1e300, -1e300),
  "endless" = function(n) c(NA, Inf, -Inf, rnorm(n - 3)),
  "many" = function(n) rnorm(n, 1e6), "constant" = function(n) rep(3, n),
  "truth" = function(n) runif(n) < 0.3
)

test_that("statistics in one pass are those of R", {
  set.seed(23)
  p <- c(0, 0.1, 1 / 3, 0.5, 0.975, 1)
  for (kind in names(number_kinds)) for (n in c(5, 1000, 60000)) {
    x <- number_kinds[[kind]](n)
    v <- as.double(x[is.finite(x)])
    told <- core("moments")(x)
    right <- c(length(v), sum(v), mean(v), sd(v), min(v), max(v))
    fit <- if (kind == "far apart") c(1, 5, 6) else 1:6
    expect_equal(unname(told)[fit], right[fit], info = paste(kind, n))
    expect_identical(core("plain_quantiles")(x, p), quantile(v, p, names = FALSE),
      info = paste(kind, n))
    seen <- core("sorted_counts")(x)
    expect_equal(seen, list(values = sort(unique(v)), rows = tabulate(match(v, sort(unique(v))))))
    place <- findInterval(c(x, 2), seen$values, left.open = TRUE)
    upto <- cumsum(as.double(seen$rows))
    finite <- is.finite(c(x, 2))
    expect_equal(core("held_around")(as.double(c(x, 2)), seen$values, upto, 0)$below[finite],
      c(0, upto)[place + 1][finite])
    cell <- sample(c(1:4, 6L, NA), n, TRUE)
    for (how in c("mean", "sd", "min", "max", "median", "sum")) {
      if (kind == "far apart" && how == "sd") next
      grouped <- core("group_statistics")(as.double(x), cell, 6L, how)
      by <- tapply(x[is.finite(x)], factor(cell[is.finite(x)], 1:6), how)
      expect_equal(grouped$value, as.vector(by + 0), info = paste(kind, n, how))
    }
  }
})

test_that("scores of answers are those of plain R, whatever the answers and the way", {
  set.seed(24)
  kinds <- list("small" = c(1:5, NA), "real" = c(1, 2, 3, NA), "halves" = c(0.5, 1, NA),
    "large" = c(1, 300, 4e5, NA))
  for (kind in names(kinds)) for (n in c(1, 255, 257, 60000)) {
    items <- replicate(4, sample(kinds[[kind]], n, TRUE), simplify = FALSE)
    turned <- cbind(items[[1]], 6 - items[[2]], items[[3]], items[[4]])
    valid <- rowSums(!is.na(turned))
    for (how in c("mean", "sum", "prorated", "min", "max", "sd", "median")) {
      told <- core("row_scores")(items, c(0, 6, 0, 0), c(1, -1, 1, 1), how, 2L, rep(1, 4))
      some <- seq_len(min(n, 300))
      plain <- switch(how, prorated = function(v) mean(v) * 4, function(v) match.fun(how)(v))
      scored <- function(v) if (sum(!is.na(v)) < 2) NA else plain(v[!is.na(v)])
      right <- apply(turned[some, , drop = FALSE], 1, scored)
      expect_equal(told$x[some], as.double(right), info = paste(kind, n, how))
      expect_equal(told$with, tabulate(valid + 1, 5), info = paste(kind, n, how))
      expect_equal(told$lost, rep(1L, sum(valid < 2)), info = paste(kind, n, how))
    }
  }
})

test_that("a table is read as another reader reads it", {
  skip_if_not_installed("readr")
  texts <- c("a,b\n1,2\n3,4", "a,b\n1,\n,4\n", "a;b\n\"x;y\";2\n\" \";3\n",
    "a,b\n\"x \"\"y\"\" z\",2\n", "a,b\n\"\"\"\",\"\"\n\"x\",\"\"\"y\"\n",
    "a,b\n\"x\ny\",2\n", "a,b\n1,2\n\n3,4\n", "a,b\n12\",2\n3,4\n",
    "a,b\r\n1,2\r\n", "a,b\n 1,2 \n", "a,b\n\"1\",NA\n\"NA\",#x\n",
    "a,b\nx\"y,2\n", "a,b\n\u00f8,\u00e9\n", "\ufeffa,b\n\u00f8,1\n",
    "a\tb\n1\t2\n", "a,b\n,\n1,2\n", "a,\"b,c\"\n1,2\n", "a,b\n\"x\r\ny\",1\n")
  paths <- c(vapply(texts, function(text) {
    path <- tempfile(fileext = ".csv")
    writeBin(charToRaw(enc2utf8(text)), path)
    path
  }, ""), demo_file("ferry-survey.csv"), demo_file("ferry-wave2.csv"))
  for (path in paths) {
    expect_identical(fields_of(path), fields_by_readr(path), info = basename(path))
  }
})
