test_that("reversing is low + high - x, with labels and direction turned round", {
  book <- quietly(turnbook(data.frame(q = c(1, 2, 5, 9, NA))) |>
    define(q, codes = c("Never" = 1, "Always" = 5), missing = c("Refused" = 9),
      high = "more often", limits = c(1, 5)) |>
    turn_reverse(q))
  expect_equal(book$q_r, c(5, 4, 1, NA, NA))
  expect_equal(why(book, "q_r"), c("Refused", "blank"))
  meaning <- core("meaning_in")(book, "q_r")
  expect_equal(meaning$codes, c("Always" = 1, "Never" = 5))
  expect_equal(meaning$low, "more often")
  expect_null(meaning$high)
  twice <- quietly(turn_reverse(book, q_r, as = "q_rr"))
  expect_equal(core("meaning_in")(twice, "q_rr")$high, "more often")
  expect_equal(twice$q_rr, book$q)
})

test_that("reversing needs limits that hold every value", {
  data <- data.frame(q = c(1, 7, 7))
  refused(turn_reverse(data, q), "limits-needed")
  expect_match(conditionMessage(refused(turn_reverse(data, q, limits = c(1, 5)),
    "beyond-limits")), "7 \\(2 rows\\)")
  refused(turn_reverse(data, q, limits = c(5, 1)), "limits-order")
  refused(turn_reverse(data, q, limits = 5), "bad-limits")
})

items <- data.frame(a = c(1, 2, NA, NA), b = c(2, 4, 5, NA), c = c(6, NA, 1, NA))
scores <- list(
  list("mean", NULL, c(3, NA, NA, NA)),
  list("mean", 2, c(3, 3, 3, NA)),
  list("sum", 1, c(9, 6, 6, NA)),
  list("median", 2, c(2, 3, 3, NA)),
  list("min", 2, c(1, 2, 1, NA)),
  list("max", 2, c(6, 4, 5, NA)),
  list("sd", 2, c(sqrt(7), sqrt(2), sqrt(8), NA))
)

test_that("composites score rows with enough valid items, in memory and as base R", {
  for (case in scores) {
    book <- quietly(turn_composite(items, a:c, as = "s", how = case[[1]], at_least = case[[2]]))
    expect_equal(book$s, case[[3]], info = case[[1]])
    expect_setequal(why(book, "s"), "too few items")
    expect_equal(run_base_script(book, items)$s, case[[3]], info = case[[1]])
  }
})

test_that("sums are prorated, items weighted and reversed as asked", {
  sum_up <- quietly(turn_composite(items, a:c, as = "s", how = "sum", at_least = 2,
    prorate = TRUE, valid_count = TRUE))
  expect_equal(sum_up$s, c(9, 9, 9, NA))
  expect_equal(sum_up$s_n, c(3L, 2L, 2L, 0L))
  weighted <- quietly(turn_composite(items, a:c, as = "s", at_least = 2, weights = c(1, 2, 1)))
  expect_equal(weighted$s, c(11 / 4, 10 / 3, 11 / 3, NA))
  both <- quietly(turn_composite(items, a:c, as = "s", how = "sum", at_least = 2,
    weights = c(1, 2, 1), prorate = TRUE))
  expect_equal(both$s, c(11, 40 / 3, 44 / 3, NA))
  turned <- quietly(turnbook(items) |> define(a:c, limits = c(1, 6)) |>
    turn_composite(a:c, as = "s", reversed = c, at_least = 1))
  expect_equal(turned$s, c(4 / 3, 3, 5.5, NA))
  for (book in list(sum_up, weighted, both, turned)) expect_equal(run_base_script(book, items)$s,
    book$s)
})

test_that("composites refuse what cannot be meant", {
  refused(turn_composite(items, a, as = "s"), "one-item")
  refused(turn_composite(items, a:c), "as-needed")
  refused(turn_composite(items, a:c, as = "s", how = "average"), "bad-choice")
  for (least in list(0, 4, 1.5)) refused(turn_composite(items, a:c, as = "s", at_least = least),
    "bad-threshold")
  refused(turn_composite(items, a:c, as = "s", weights = c(1, 2)), "not-a-number")
  refused(turn_composite(items, a:c, as = "s", how = "max", weights = 1:3), "weights-how")
  refused(turn_composite(items, a:b, as = "s", reversed = c), "reversed-not-item")
  refused(turn_composite(items, a:c, as = "s", reversed = c), "limits-needed")
  refused(turn_composite(items, a:c, as = "s", prorate = TRUE), "prorate-sum")
})

test_that("alpha is Cronbach's over complete rows, and the receipt names an item that runs against the rest", {
  book <- open_demo()
  wrong <- NULL
  withCallingHandlers(
    turn_composite(book, st_1:st_6, as = "raw", at_least = 5),
    ableturn_receipt = function(r) {
      wrong <<- r$receipt$parts[[1]]$items
      tryInvokeRestart("muffleMessage")
    }
  )
  told <- findings(quietly(turn_composite(book, st_1:st_6, as = "raw", at_least = 5)))
  expect_match(told$todo[told$id == "maybe-unreversed"], "reversed = c(st_2, st_5)", fixed = TRUE)
  complete <- stats::na.omit(as.data.frame(book)[paste0("st_", 1:6)])
  expect_equal(wrong$alpha, 6 / 5 * (1 - sum(apply(complete, 2, var)) / var(rowSums(complete))))
})

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
  expect_true(attr(prove(constant), "proved"))
  refused(turn_flag(data, x, as = "z"), "flag-no-condition")
  refused(turn_compute(data, log10(each), each = c(x, y), as = "z"), "as-count")
})

test_that("a missing kind of a derived variable can be asked for, in every script", {
  data <- data.frame(
    x = c(1, 5, 98, NA, 7, 2), y = c(1, NA, 1, NA, 2, 3), z = c(2, NA, NA, 3, -1, -1),
    t = c("1", "ten", "3", NA, "-1", "2")
  )
  book <- quietly(turnbook(data) |> define(x, missing = c("DK" = 98)) |>
    turn_recode(x, as = "r", becomes(NA, 5, label = "Never"), becomes(1, 1)) |>
    turn_reverse(r, as = "rr", limits = c(0, 3)) |> turn_composite(y:z, as = "m") |>
    turn_compute(log(z) + x, as = "l") |> turn_compute(log(t) + y, as = "w") |>
    turn_compute(if (y > 1) log(z), as = "i"))
  for (name in c("r", "rr", "m", "l", "w", "i")) {
    for (kind in setdiff(core("kinds_known")(book, name), c("not asked", "no earlier occasion", "not in the table"))) {
      turn <- core("new_turn")("flag", "f", formula = sprintf("unanswered(%s, \"%s\")", name, kind))
      flagged <- quietly(core("make_turn")(book, turn))
      expect_equal(which(flagged$f == 1), which(is.na(book[[name]]))[why(book, name) == kind], info = paste(name, kind))
      expect_equal(run_base_script(flagged, data)$f, flagged$f, info = paste(name, kind))
    }
  }
})
