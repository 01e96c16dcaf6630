test_that("looking counts values and reasons, and sums numbers up", {
  data <- data.frame(x = c(1, 2, 2, 9, NA), g = c("a", "a", "b", "b", "b"), w = c(2, 1, 1, 1, 0),
    z = c(1.5, 2.5, 4, 10, NA))
  book <- quietly(define(turnbook(data), x, missing = c("Refused" = 9),
    codes = c("No" = 1, "Yes" = 2, "Both" = 3)))
  seen <- look(book, x)
  expect_equal(seen$value, c("1", "2", "3", "blank", "Refused"))
  expect_equal(seen$rows, c(1, 2, 0, 1, 1))
  expect_equal(seen$percent, 100 * c(1, 2, 0, 1, 1) / 5)
  expect_equal(seen$valid_percent[1:3], 100 * c(1, 2, 0) / 3)
  weighted <- look(book, x, weight = w)
  expect_equal(weighted$weighted, c(2, 2, 0, 0, 1))
  stats <- look(book, z, by = g)
  expect_equal(stats$amount[stats$value == "mean"], c(2, 7))
  expect_equal(stats$rows[stats$part == "missing"], 1)
  sums <- look(book, z + 0.1, weight = w)
  z <- data$z[1:4] + 0.1
  w <- data$w[1:4]
  m <- sum(w * z) / 5
  expect_equal(sums$amount[sums$value %in% c("mean", "sd")],
    c(m, sqrt(sum(w * (z - m)^2) / (5 * 3 / 4))))
  refused(look(book, x, weight = z - 5), "selection")
  refused(look(quietly(turn_compute(book, z - 5, as = "neg")), x, weight = neg), "weight-negative")
  expect_equal(unique(look(book)$variable), c("x", "g", "w", "z"))
})

test_that("a formula is tried without being recorded", {
  book <- open_demo()
  expect_output(print(look(book, wait_min > median(wait_min))),
    "turn_compute(book, wait_min > median(wait_min), as = ", fixed = TRUE)
  expect_equal(nrow(turns(book)), 0)
  refused(look(book, sqqrt(age)), "not-in-language")
  expect_equal(look(data.frame(z = c(0 * -1, 1)), z)$value[1], "0")
  # what rounding leaves over of a mean is not shown, a small mean is
  data <- data.frame(z = c(-2, -1, 1, 2 + 2e-15), small = c(1e-20, 2e-20, 3e-20, 1e-9))
  shown <- capture.output(print(look(data, z, small)))
  expect_match(shown, "^ +4 +0 +1", all = FALSE)
  expect_match(shown, "2.5e-10", all = FALSE, fixed = TRUE)
})

test_that("crossing puts every row somewhere", {
  book <- demo_work()
  table <- cross(book, crossings, rider3)
  expect_equal(sum(table$rows), 1200)
  expect_equal(cross(book, rider3), table)
  expect_true(all(table$row_missing == table$column_missing))
  truth <- table(as.data.frame(book)$island, as.data.frame(book)$rider3)
  both <- cross(book, island, rider3)
  valid <- both[!both$row_missing & !both$column_missing, ]
  expect_equal(truth[cbind(valid$row, valid$column)], valid$rows)
  refused(cross(book, strain), "cross-one")
})

test_that("what is printed reads well and fits the page", {
  book <- demo_work()
  expect_snapshot({
    look(open_demo(), crossings, island)
    look(book, income, strain, by = rider3)
    cross(book, rider3)
    turns(book)
    codebook(book)[c(13, 19, 51, 52), ]
  })
  shown <- capture.output({
    print(book)
    print(look(book))
    print(cross(book, age, ticket))
    print(codebook(book))
  })
  expect_lte(max(nchar(shown, "width")), 80)
})

test_that("receipts say what became of every row", {
  book <- open_demo()
  expect_snapshot(cat(receipts({
    b <- define(book, crossings, missing = c("Don't know" = 98, "Refused" = 99))
    b <- turn_recode(b, crossings,
      as = "r", label = "Rider", becomes(0, 0, label = "No"),
      becomes(1, from(1, under = 15), label = "Yes")
    )
    b <- turn_reverse(b, c(st_2, st_5))
    b <- turn_composite(b, c(st_1, st_2, st_3), as = "s", how = "sum", at_least = 2)
    b <- turn_flag(b, wait_min > median(wait_min), as = "long_wait")
    b <- turn_recode(b, gender, as = "g", loose = TRUE, becomes(1, "m", "man", "male"))
    b <- undo(b)
  }), sep = "\n"))
  expect_message(turn_compute(book, age + 1, as = "older"), class = "ableturn_receipt")
  expect_no_message(quietly(turn_compute(book, age + 1, as = "older")))
})

test_that("a receipt for many variables is one table, cut where it is long", {
  data <- as.data.frame(matrix(c(1:3, NA), 4, 40))
  lines <- receipts(turn_reverse(data, V1:V40, limits = c(1, 4)))
  expect_equal(lines[1],
    "40 variables by reverse                                                   4 rows")
  expect_equal(sum(grepl("^  V[0-9]+_r ", lines)), 20)
  expect_true(any(grepl("and 20 more variables", lines)))
  expect_true(any(grepl("Missing answers: blank 40", lines)))
})

test_that("a replay tells what it made and what no rule caught", {
  sheet <- temporary(c(
    "able_turn: 1", "turns:", "  - recode: y", "    from: x", "    rules:",
    "      - {code: 1, when: 1}"
  ), ".yaml")
  lines <- receipts(apply_turns(data.frame(x = c(1, 2, 2)), sheet))
  expect_match(lines[1], "^Replayed .* 3 rows, learned values as recorded$")
  expect_true(any(grepl("No rule caught: 2 (2)", lines, fixed = TRUE)))
})

test_that("text that is no number is shown, not dropped unseen", {
  book <- turnbook(data.frame(a = c("1", "ten", "2"), b = c("3", "ten", NA), c = 1:3))
  lines <- receipts(turn_composite(book, a:c, as = "s", at_least = 1))
  expect_true(any(grepl("Text that is no number, so missing: ten (2)", lines, fixed = TRUE)))
  lines <- receipts(turn_compute(book, nchar(a), as = "n"))
  expect_false(any(grepl("no number", lines)))
})

test_that("asking for a kind of missing answer that cannot be is refused", {
  book <- open_demo()
  refused(turn_flag(book, unanswered(income, "Refussed"), as = "f"), "unknown-kind")
  refused(turn_flag(book, unanswered(income + 1, "Refused"), as = "f"), "unanswered-of")
  refused(turn_flag(book, unanswered(income, age), as = "f"), "unanswered-of")
  made <- quietly(turn_recode(book, income, as = "rich", becomes(1, from(3000)), the_rest(0)))
  expect_equal(sum(quietly(turn_flag(made, unanswered(rich, "Refused"), as = "f"))$f), 84)
  expect_equal(sum(quietly(turn_flag(made, unanswered(rich, "too few items"), as = "f"))$f), 0)
})

test_that("what is printed keeps to the page at any width, with wide letters and long labels too", {
  book <- quietly(demo_work() |> turn_bin(wait_min, as = "wait3", at = c(10, 30)) |>
    turn_dummy(island) |>
    define(st_1, label = paste(rep("\u03b5\u03c1\u03ce\u03c4\u03b7\u03c3\u03b7", 14),
      collapse = " "),
    codes = c("\u5168\u7136\u9055\u3044\u307e\u3059" = 1, "\u3044\u3044\u3048" = 2,
      "\u4e2d\u9593" = 3,
      "\u306f\u3044" = 4, "\u5168\u304f\u305d\u306e\u901a\u308a\u3067\u3059" = 5)))
  for (width in c(60, 80, 100, 130, 160)) {
    local_reproducible_output(width = width, unicode = TRUE)
    shown <- capture.output({
      for (x in list(book, look(book), look(book, income, island, by = rider3), cross(book, rider3),
        cross(book, st_1, ticket), turns(book), codebook(book), findings(book), lineage(book),
        item_analysis(book, st_1:st_6), collinearity(book, c(age, hours, income)),
        show_working(book, strain, rows = 1:3))) print(x)
    })
    told <- receipts({
      turn_recode(book, st_1, as = "k", becomes(1, from(1, upto = 3),
        label = strrep("\u9577\u3044", 20)), the_rest(2))
      turn_composite(book, st_1:st_6, as = "s")
      turn_dummy(book, ticket)
    })
    expect_lte(max(nchar(c(shown, told), "width")), width)
  }
})

test_that("dates with a time are summed up, at the clock of their place", {
  moments <- as.POSIXct("2031-03-30 00:30", tz = "Europe/Berlin") + 3600 * c(0:40, NA)
  shown <- look(data.frame(t = moments), t)
  expect_equal(shown$value, c("valid", "lowest", "median", "highest", "blank"))
  expect_equal(shown$label[2:4], format(moments[c(1, 21, 41)], "%Y-%m-%d %H:%M:%S%z"))
  expect_output(print(shown), "2031-03-30 00:30  2031-03-30 21:30  2031-03-31 17:30", fixed = TRUE)
})

test_that("a summary has a line for each variable, and fits on a screen, as a book does", {
  books <- list(open_demo())
  if (rlang::is_installed("RSQLite")) {
    connection <- withr::local_db_connection(DBI::dbConnect(RSQLite::SQLite()))
    DBI::dbWriteTable(connection, "ferry", read_data(demo_file("ferry-survey.csv")))
    books[[2]] <- turnbook(connection, table = "ferry", id = "person",
      codebook = demo_file("ferry-survey.codebook.json"))
  }
  for (book in books) {
    all <- summary(quietly(turn_flag(book, age > 40, as = "older")))
    one <- function(name) unname(unlist(all[all$variable == name, ]))
    expect_equal(nrow(all), 51)
    expect_equal(one("island"), c("island", "Island of residence", "original", "1200", "0",
      "5 answers"))
    expect_equal(one("income"), c("income", "Monthly household income", "original", "1116", "84",
      "170 to 8430"))
    expect_equal(one("wave")[6], "1")
    expect_equal(one("older")[c(3, 6)], c("flag", "2 answers"))
  }
  many <- as.data.frame(setNames(rep(list(c(1.5, 2, NA)), 1000), paste0("q", 1:1000)))
  many <- quietly(turn_reverse(many, q1:q300, limits = c(1, 5)))
  expect_lte(length(capture.output(print(many))), 40)
  expect_lte(length(capture.output(print(summary(many)))), 40)
})
