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
  refused(turn_composite(items, a:c, as = "s", reversed = c), "limits-undefined")
  refused(turn_composite(items, a:c, as = "s", prorate = TRUE), "prorate-sum")
})

test_that("alpha is Cronbach's, and an item that runs against the rest is named", {
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
