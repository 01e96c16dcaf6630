data <- data.frame(
  a = c(1, 0, -4, NA), b = c(2, 0, 8, 1), n = c(1L, 2L, 3L, 4L), d = c(1.4, 2.5, -0.5, NA),
  t = c("Red boat", "blue", NA, "12"), island = c(1, 2, 2, 1)
)
labelled <- quietly(turnbook(data) |> define(island, codes = c("Northholm" = 1, "Eastray" = 2)))

value <- function(text) {
  turn <- core("new_turn")("compute", "out", formula = text)
  quietly(core("make_turn")(labelled, turn))$out
}

worth <- list(
  "a + b * 2" = c(5, 0, 12, NA), "b / a" = c(2, NA, -2, NA), "b %% 3" = c(2, 0, 2,
    1), "b %/% 3" = c(0, 0, 2, 0),
  "sqrt(a)" = c(1, 0, NA, NA), "log(a)" = c(0, NA, NA, NA), "log1p(a)" = c(log(2), 0, NA,
    NA), "exp(a) > 1" = c(1, 0, 0, NA),
  "a^0.5" = c(1, 0, NA, NA), "a^-1" = c(1, NA, -0.25, NA), "-a^2" = c(-1, 0, -16, NA),
  "round(d)" = c(1, 2, 0, NA), "trunc(d)" = c(1, 2, 0, NA), "floor(d)" = c(1, 2, -1,
    NA), "ceiling(d)" = c(2, 3, 0, NA),
  "sign(a) + abs(a)" = c(2, 0, 3, NA),
  "a > 0 | b > 0" = c(1, 0, 1, 1), "a > 0 & b > 5" = c(0, 0, 0, 0), "!(a > 0)" = c(0, 1, 1, NA),
  "a %in% c(1, NA)" = c(1, 0, 0, NA), "is.na(a)" = c(0, 0, 0, 1), "unanswered(t)" = c(0, 0, 1, 0),
  "if (a > 0) b else if (a < 0) -b else 100" = c(2, 100, -8, NA), "if (a > 0) 1" = c(1, NA, NA, NA),
  "row_mean(a, b)" = c(1.5, 0, 2, NA), "row_sum(a, b, at_least = 1)" = c(3, 0, 4,
    1), "row_valid(a, b, d)" = c(3, 3, 3, 1),
  "row_sd(a, b)" = c(sqrt(0.5), 0, sqrt(72), NA), "row_median(a, b, n, at_least = 2)" = c(1, 0, 3,
    2.5),
  "first_valid(a, b)" = c(1, 0, -4, 1),
  "toupper(t)" = c("RED BOAT", "BLUE", NA, "12"), "nchar(t)" = c(8, 4, NA,
    2), "substr(t, 1, 3)" = c("Red", "blu", NA, "12"),
  "grepl(\"b\", t)" = c(1, 1, NA, 0), "grepl(\"^b\", t, regex = TRUE)" = c(0, 1, NA, 0),
  "sub(\" boat\", \"\", t)" = c("Red", "blue", NA, "12"), "startsWith(t, \"b\")" = c(0, 1, NA, 0),
  "paste0(t, \"!\")" = c("Red boat!", "blue!", NA, "12!"), "t + 1" = c(NA, NA, NA,
    13), "t == \"blue\"" = c(0, 1, NA, 0),
  "a - mean(a)" = c(2, 1, -3, NA), "b > median(b)" = c(1, 0, 1,
    0), "n / sum(n)" = (1:4) / 10, "d - max(d)" = c(-1.1, 0, -3, NA),
  "b - quantile(b, 0.75)" = data$b - 3.5, "n / sd(n)" = 1:4 / sd(1:4), "d - min(d)" = c(1.9, 3, 0,
    NA),
  "island == \"Northholm\"" = c(1, 0, 0, 1), "island %in% c(\"Eastray\", \"1\")" = c(1, 1, 1, 1),
  "{ half <- b / 2; half * half }" = c(1, 0, 16, 0.25), "trimws(tolower(t))" = c("red boat",
    "blue", NA, "12")
)

test_that("each word of the language means what its help says", {
  for (text in names(worth)) expect_equal(value(text), worth[[text]], info = text)
  heads <- unique(unlist(lapply(names(worth), function(text) all.names(parse(text = text)))))
  untried <- setdiff(formula_language()$word,
    c(heads, "*", "log10", "log2", "row_min", "row_max", "gsub", "endsWith", "!=", "<=", ">=",
      # in the worked cases of dates, change and statistics, and in test-formula-draw.R
      "mad", "as.Date", "years_between", "months_between",
      "hours_between", "hour", "year", "month", "day", "weekday", "previous",
      "draw_uniform", "draw_normal"))
  expect_equal(untried, character())
})

outside <- list(
  "not-in-language" = c(
    "system(\"ls\")", "base::system(\"ls\")", "get(\"a\")", "eval(a)", "(function(x) x)(a)",
    "a$b", "a[1]", "readLines(\"x\")",
    "a && b", "ifelse(a > 1, 1, 0)", "a ~ b", "for (i in a) b", "quote(a)", "a = 3", "a := 3",
    "Sys.time()", "spelled(t, \"x\")",
    "choose(a > 1, 2)", "`system`(\"ls\")", "do.call(\"system\", a)", "a |> print()",
    "\\(x) x", "row_mean(system(\"ls\"))"
  ),
  "unknown-name" = c("lable + a", "a + T", "pi * a", "each + 1"),
  "compare-na" = c("a == NA", "NA != a"),
  "chained-comparison" = c("1 < a < 3", "(a < b) < 3"),
  "argument-count" = c("mean(a, b)", "sqrt(a, b)", "log()", "quantile(a)"),
  "unknown-option" = c("mean(a, trim = 0.1)", "row_mean(a, b, least = 1)"),
  "option-constant" = "row_mean(a, b, at_least = n)",
  "assignment-outside" = "(q <- a)",
  "temporary-taken" = "{ a <- 3; a }",
  "bad-temporary" = "{ a[1] <- 3; a }",
  "block-end" = "{ k <- a }",
  "formula-broken" = c("a b", "a $ )"), "formula-unfinished" = c("a +", "sqrt(a"),
  "formula-worded" = "a and b", "formula-comma" = "a, b",
  "formula-count" = c("a; b", ""),
  "text-as-number" = c("a + \"x\"", "sqrt(\"x\")"),
  "if-constant" = "if (3 > 1) a else b",
  "no-such-label" = "island == \"Northolm\"",
  "nothing-to-learn" = "a - mean(if (a > 99) a)"
)

test_each("nothing outside the language is let in", outside, function(texts, id) {
  for (text in texts) refused(value(text), id)
})

test_that("an error points at what is not in the language", {
  error <- refused(value("a / sytem(b)"), "not-in-language")
  expect_match(conditionMessage(error), "  a / sytem(b)\n      ^~~~~~~~", fixed = TRUE)
  expect_match(conditionMessage(refused(value("sqrtt(a)"), "not-in-language")),
    "Did you mean `sqrt`?", fixed = TRUE)
})

test_that("reading or writing a formula never runs it", {
  mark <- tempfile()
  text <- sprintf("file.create(\"%s\")", mark)
  refused(value(text), "not-in-language")
  refused(turn_compute(data, !!quote(file.create("never.txt")), as = "x"), "not-in-language")
  expect_false(file.exists(mark) || file.exists("never.txt"))
})

test_that("numbers in texts are written in full, in memory and in the base script alike", {
  data <- data.frame(x = c(100000, 0.1 + 0.2, 1e15 + 1, 1e-5, 1e22, 2^53, -0.5, NA),
    k = c(TRUE, FALSE, NA, TRUE))
  written <- c("100000", "0.3", "1000000000000001", "1e-05", "1e+22",
    "9007199254740992", "-0.5", NA)
  book <- quietly(turnbook(data) |> turn_compute(paste0(x, k), as = "p") |>
    turn_compute(nchar(x), as = "n") |>
    turn_compute(trimws(x * 1), as = "t") |> turn_compute(paste0(100000, k), as = "c"))
  expect_equal(book$t, written)
  expect_equal(book$n, nchar(written, keepNA = TRUE))
  expect_equal(book$p, ifelse(is.na(written) | is.na(data$k), NA, paste0(written, data$k)))
  expect_equal(book$c[1:2], c("100000TRUE", "100000FALSE"))
  expect_equal(run_base_script(book, data)[names(as.data.frame(book))], as.data.frame(book))
})

test_that("functions over items take a selection, which is written out", {
  items <- data.frame(q1 = c(1, 2, NA), q2 = 3:5, q3 = c(2, 2, 2), other = 1:3)
  some <- c("q1", "q3")
  book <- quietly(turnbook(items) |> turn_compute(row_mean(q1:q3), as = "m") |>
    turn_compute(row_sum(starts_with("q"), at_least = 2) / 2, as = "s") |>
    turn_flag(row_max(all_of(some), other) > 2, as = "f") |> must_hold(row_min(q1:q3) > 0) |>
    amend(m, row_mean(q1:q2)))
  expect_equal(book$m, c(2, 3, NA))
  expect_equal(book$s, c(3, 4, 3.5))
  expect_equal(book$f, c(0, 0, NA))
  expect_equal(core("steps_of")(book)[[2]]$turn$formula, "row_sum(q1, q2, q3, at_least = 2) / 2")
  expect_equal(checks(book)$condition, "row_min(q1, q2, q3) > 0")
  # signs before a name are values, not a selection of all others
  signed <- quietly(turn_compute(items, row_sum(-q2, q3), as = "d") |>
    turn_compute(row_sum(!other, q3), as = "n"))
  expect_equal(signed$d, c(-1, -2, -3))
  expect_equal(signed$n, c(2, 2, 2))
  refused(turn_compute(items, row_mean(1:2), as = "m"), "not-in-language")
  refused(turn_compute(items, row_mean(q1:q9), as = "m"), "unknown-variable")
  refused(turn_compute(items, q1:q3, as = "m"), "not-in-language")
})
