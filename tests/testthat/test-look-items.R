# Item analysis against worked values, lineage as a tree, overlap of predictors.
# Five rows, three items, by hand: covariances from the table below.
items <- data.frame(a = c(1, 2, 3, 4, 5), b = c(2, 1, 4, 3, 5), c = c(1, 3, 2, 5, 4))

test_that("alpha, its interval and the rest follow their formulas", {
  told <- item_analysis(items, a:c)
  facts <- attr(told, "scale")
  # variances 2.5 each; covariances ab 2, ac 2, bc 0.75: the sum has 7.5 + 9.5 = 17
  expect_equal(facts$alpha, 1.5 * (1 - 7.5 / 17))
  expect_equal(facts$mean_r, (0.8 + 0.8 + 0.3) / 3)
  expect_equal(facts$standardized, 3 * facts$mean_r / (1 + 2 * facts$mean_r))
  expect_equal(facts$interval, 1 - (1 - facts$alpha) * qf(c(0.975, 0.025), 4, 8))
  expect_equal(told$item_rest, c(cor(items$a, items$b + items$c), cor(items$b, items$a + items$c),
    cor(items$c, items$a + items$b)))
  expect_equal(told$alpha_without[1], 2 * (1 - 5 / (5 + 2 * cov(items$b, items$c))))
  expect_equal(told$mean, c(3, 3, 3))
  expect_true(all(is.na(item_analysis(items, a:b)$alpha_without)))
})

test_that("missing rows, weights and pairwise work as they say", {
  gaps <- rbind(items, data.frame(a = c(NA, 9), b = c(1, NA), c = 2))
  told <- item_analysis(gaps, a:c)
  expect_equal(attr(told, "scale")$alpha, attr(item_analysis(items, a:c), "scale")$alpha)
  expect_equal(told$n, c(6, 6, 7))
  expect_equal(told$missing, 100 * c(1, 1, 0) / 7)
  weighed <- item_analysis(transform(gaps, w = c(rep(2, 5), 0, 0)), a:c, weight = w)
  expect_equal(attr(weighed, "scale")$alpha, attr(told, "scale")$alpha)
  expect_null(attr(weighed, "scale")$interval)
  pairs <- attr(item_analysis(gaps, a:c, pairwise = TRUE), "scale")
  cov <- cov(gaps, use = "pairwise")
  expect_equal(pairs$alpha, 1.5 * (1 - sum(diag(cov)) / sum(cov)))
  refused(item_analysis(items, a), "one-item")
  refused(item_analysis(data.frame(a = c("x", "y"), b = 1:2), a:b), "text-not-numbers")
  refused(item_analysis(items[1:2, ], a:c), "few-complete")
})

test_that("an item that looks unreversed is named, with what alpha would be", {
  turned <- transform(items, d = 6 - a)
  told <- attr(item_analysis(turned, a:d), "scale")
  expect_equal(names(told$reversed), "d")
  expect_equal(unname(told$reversed), attr(item_analysis(transform(items, d = a), a:d),
    "scale")$alpha)
  expect_output(print(item_analysis(turned, a:d)), "d looks unreversed")
})

test_that("lineage goes down to the originals", {
  book <- quietly(turn_reverse(items, b, limits = c(1, 5)) |> turn_composite(c(a, b_r), as = "s") |>
    turn_standardize(s))
  told <- lineage(book)
  expect_equal(told$name, c("s_z", "s", "a", "b_r", "b"))
  expect_equal(told$depth, c(0, 1, 2, 2, 3))
  expect_equal(told$by, c("standardize", "composite", "original", "reverse", "original"))
  expect_output(print(lineage(book, s)), "b_r")
  expect_output(print(lineage(items)), "Nothing is made")
})

test_that("overlap is the variance inflation, and the dummy trap is named", {
  set.seed(3)
  data <- data.frame(x = rnorm(50), y = rnorm(50), g = rep(c("a", "b"), 25))
  data$z <- data$x + data$y + rnorm(50)
  told <- collinearity(data, c(x, y, z))
  expect_equal(told$vif[1], 1 / (1 - summary(lm(x ~ y + z, data))$r.squared))
  book <- quietly(turn_dummy(data, g, all_levels = TRUE))
  trapped <- collinearity(book, c(x, g_a, g_b))
  expect_equal(trapped$vif[2:3], c(Inf, Inf))
  expect_output(print(trapped), "All levels of g")
  refused(collinearity(data, x), "one-predictor")
})

test_that("the working of a row goes from the originals down", {
  data <- data.frame(id = c("x", "y", "z"), a = c(4, 2, NA), b = c(NA, 1, 5), g = c("u", "v", "u"))
  book <- quietly(turnbook(data, id = id) |> define(b, limits = c(1, 5)) |> turn_reverse(b) |>
    turn_composite(c(a, b_r), at_least = 1, as = "s") |> turn_compute((s - 3) * 2, as = "c") |>
    turn_recode(c, as = "k", becomes(1, upto(0), label = "low"), becomes(2, over(0))) |>
    turn_group(a, within = g) |> turn_flag(a > 3, as = "f") |> turn_standardize(c, within = g))
  first <- show_working(book, k, rows = 1)
  expect_equal(first$variable, c("b_r", "s", "c", "k"))
  expect_equal(first$working, c("6 - .", "(4 + .) / 1", "(4 - 3) * 2", "c 2: over 0"))
  expect_equal(first$value, c(".", "4", "2", "2"))
  expect_equal(first$reason[1], "blank")
  expect_equal(show_working(book, s, id = "y")$working, c("6 - 1", "(2 + 5) / 2"))
  expect_equal(show_working(book, a_mean, rows = 3)$working, "4")
  expect_equal(show_working(book, f, rows = 1)$working, "4 > 3")
  expect_output(print(show_working(book, k, rows = 1:2)), "k = c 2: over 0, becomes 2")
  for (name in core("derived_names")(book)) {
    every <- show_working(book, tidyselect::all_of(name), rows = 1:3)
    expect_equal(nrow(every) %% 3, 0)
  }
  refused(show_working(book, a), "not-derived")
  refused(show_working(book, k, rows = 9), "no-such-row")
  refused(show_working(book, k, id = "q"), "no-such-id")
  refused(show_working(quietly(turn_compute(data, a + 1, as = "y")), y, id = 3), "no-id")
})

test_that("the arithmetic that is shown gives the value beside it, also over rows of a group", {
  data <- data.frame(id = rep(1:2, each = 3), w = rep(c(2, 1, 3), 2), y = c(5, 7, 9, 2, 4, 8))
  book <- turnbook(data)
  book <- quietly({
    for (from in c("first", "last", "previous")) {
      book <- turn_change(book, y, unit = id, order = w, from = from, as = from)
    }
    book <- turn_change(book, y, unit = id, order = w, from = w == 2, as = "second")
    book <- turn_group(book, y, within = id, as = "own")
    book <- turn_compute(book, y - max(y), as = "below")
    turn_compute(book, mean(abs(y - mean(y, within = id))) + y, as = "nested")
  })
  for (name in core("derived_names")(book)) {
    told <- show_working(book, tidyselect::all_of(name), rows = 1:6)
    some <- told$value != "."
    worked <- vapply(told$working[some], function(text) eval(str2lang(text)), 0)
    expect_equal(unname(worked), book[[name]][some], tolerance = 1e-4, info = name)
  }
})
