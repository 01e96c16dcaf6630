# Dummies and contrasts in the model they are for; what new data bring.
test_that("in a linear model the coefficients are the contrasts that are named", {
  set.seed(2)
  data <- data.frame(g = rep(1:4, c(5, 9, 3, 7)))
  data$y <- c(3, 5, 4, 9)[data$g] + rnorm(24)
  means <- as.vector(tapply(data$y, data$g, mean))
  fit <- function(coding, ...) {
    book <- quietly(turn_dummy(data, g, coding = coding, ...))
    x <- as.data.frame(book)[-(1:2)]
    unname(coef(lm(data$y ~ ., x))[-1])
  }
  expect_equal(fit("indicator"), unname(means[-1] - means[1]))
  expect_equal(fit("indicator", reference = 3), unname(means[-3] - means[3]))
  expect_equal(fit("effect", reference = 2), unname(means[-2] - mean(means)))
  expect_equal(fit("difference"), unname(diff(means)))
  expect_equal(fit("helmert"),
    unname(c(means[2] - means[1], means[3] - mean(means[1:2]), means[4] - mean(means[1:3]))))
  expect_equal(fit("polynomial"), as.vector(means %*% contr.poly(4)))
})

test_that("a level that the record never saw is missing, and said to be new", {
  first <- data.frame(g = c("a", "b", "c", "a"), x = c(1, 2, 3, 4))
  later <- data.frame(g = c("a", "b", "d", NA), x = c(1, 2, 30, NA))
  book <- quietly(turn_dummy(first, g) |> turn_standardize(x) |>
    turn_standardize(x, how = "percentile"))
  path <- tempfile()
  save_turns(book, path)
  told <- receipts(recorded <- apply_turns(later, path))
  expect_equal(recorded$g_b, c(0, 1, NA, NA))
  expect_equal(why(recorded, "g_b"), c("unmatched", "blank"))
  expect_equal(recorded$x_z, (later$x - 2.5) / sd(1:4))
  expect_equal(recorded$x_percentile, c(12.5, 37.5, 100, NA))
  expect_true(all(c("d", "30") %in% new_in_data(recorded)$detail))
  expect_match(told, "Values on record were used for: g_b, g_c, x_z, x_percentile", all = FALSE)
  refit <- quietly(apply_turns(later, path, learned = "refit"))
  expect_equal(names(refit)[3:4], c("g_b", "g_d"))
  expect_equal(refit$g_d, c(0, 0, 1, NA))
  expect_equal(nrow(new_in_data(quietly(apply_turns(first, path)))), 0)
  second <- tempfile()
  save_turns(recorded, second)
  expect_equal(grep("^  g:", readLines(second), value = TRUE),
    grep("^  g:", readLines(path), value = TRUE))
})

test_that("a column that is used cannot vanish when its level does", {
  data <- data.frame(g = c("a", "b", "c", "b"), x = 1:4)
  book <- quietly(turn_dummy(data, g) |> turn_interact(g_c, x))
  refused(define(book, g, missing = c("Gone" = "c")), "still-used")
  refused(amend(book, g_b, reference = "c"), "still-used")
  checked <- quietly(turn_dummy(data, g) |> must_hold(g_c == 0))
  refused(define(checked, g, missing = c("Gone" = "c")), "still-used")
  expect_equal(names(quietly(define(turn_dummy(data, g), g, missing = c("Gone" = "c")))),
    c("g", "x", "g_b"))
})

test_that("values beyond the range and other shares of missing answers are told", {
  first <- data.frame(x = 1:200 + 0.5)
  later <- data.frame(x = c(NA[rep(1, 40)], 41:199 + 0.5, 900))
  path <- tempfile()
  save_turns(quietly(turn_standardize(first, x)), path)
  told <- new_in_data(quietly(apply_turns(later, path)))
  expect_equal(told$what, c("beyond the range", "share missing"))
  expect_equal(told$detail, c("above 200.5", "0.0 % on record, now 20.0 %"))
  expect_output(print(told), "New in these data")
})

test_that("an instrument is scored from its file, and several in one study", {
  book <- quietly(turn_instrument(open_demo(), demo_file("ease-aboard.instrument.yaml")))
  items <- as.data.frame(book)[paste0("ea_", 1:7)] - 1
  items[c("ea_4", "ea_6")] <- 4 - items[c("ea_4", "ea_6")]
  valid <- rowSums(!is.na(items))
  expect_equal(book$ease, ifelse(valid >= 5, round(rowSums(items, na.rm = TRUE) * 7 / valid), NA))
  expect_equal(book$ease_band, findInterval(book$ease, c(12, 20)) + 1L)
  expect_equal(core("meaning_in")(book, "ease")$limits, c(0, 28))
  refused(turn_instrument(book, demo_file("ease-aboard.instrument.yaml")), "name-taken")
  again <- quietly(turn_instrument(book, demo_file("ease-aboard.instrument.yaml"),
    as = "{name}_w1"))
  expect_equal(again$ease_w1, book$ease)
  expect_match(conditionMessage(refused(turn_instrument(book,
    temporary(c("scales:", "  s:", "    itms: [a]"), ".yaml")),
  "instrument-at")), "unknown key `itms`. Did you mean `items`", fixed = TRUE)
  refused(turn_instrument(book, temporary("a: [", ".yaml")), "instrument-yaml")
  refused(turn_instrument(book, 3), "not-an-instrument")
})

test_that("names of columns are safe, and a pattern or a list names them", {
  data <- data.frame(s = c("-1", "\u00c9t\u00e9 & hiver", "\u6771", "a b", "A b",
    strrep("long name ", 9)))
  book <- quietly(turn_dummy(data, s, all_levels = TRUE))
  made <- setdiff(names(book), "s")
  expect_true(all(grepl("^[a-z0-9_]+$", made)) && !anyDuplicated(made))
  expect_true(all(c("s_minus_1", "s_ete_hiver", "s_a_b", "s_a_b_2") %in% made))
  expect_equal(names(quietly(turn_dummy(data.frame(x = 1:2), x, as = "is_{level}_{name}")))[2],
    "is_2_x")
  expect_equal(names(quietly(turn_dummy(data.frame(x = 1:3), x, as = c("two", "three"))))[2:3],
    c("two", "three"))
  refused(turn_dummy(data.frame(x = 1:3), x, as = c("a", "b", "c")), "as-count")
  refused(turn_dummy(data.frame(x = 1:200), x), "many-levels")
  refused(turn_dummy(data.frame(x = 1:2), x, all_levels = TRUE, coding = "effect"),
    "all-levels-coding")
  refused(turn_dummy(data.frame(x = 1:2), x, reference = c(1, 2)), "reference-count")
  refused(turn_dummy(data.frame(x = 1:2), x, reference = c(y = 1)), "reference-who")
})
