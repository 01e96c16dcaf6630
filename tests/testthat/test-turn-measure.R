# What is measured: agreement of coders, reliability, likeness within groups, norms, what receipts
# say; against published figures and against computations that share no code.
remarks_of <- function(code) {
  receipt <- core("collect_receipts")(code)$receipts[[1]]
  unlist(lapply(receipt$parts, function(part) {
    vapply(part$remarks, function(said) paste(c(said$words, said$detail), collapse = ": "), "")
  }))
}
agreement <- function(keys, level = "nominal", rows = rep(1, length(keys[[1]]))) {
  core("agreement_of")(keys, rows, level)
}

items <- local({
  set.seed(5)
  common <- rnorm(60)
  as.data.frame(lapply(setNames(1:5, paste0("q", 1:5)), function(i) {
    pmin(5, pmax(1, round(3 + common + rnorm(60, 0, 0.6))))
  }))
})

# Krippendorff (2004), table 11.5: four observers, twelve units.
observers <- list(c(1, 2, 3, 3, 2, 1, 4, 1, 2, NA, NA, NA), c(1, 2, 3, 3, 2, 2, 4, 1, 2, 5, NA, 3),
  c(NA, 3, 3, 3, 2, 3, 4, 2, 2, 5, 1, NA), c(1, 2, 3, 3, 2, 4, 4, 1, 2, 5, 1, NA))

test_that("agreement is as published", {
  for (level in list(c("nominal", 0.743), c("ordinal", 0.815), c("interval", 0.849),
    c("ratio", 0.797))) {
    place <- matrix(unlist(observers), ncol = 4)
    alpha <- core("krippendorff_alpha")(place, rep(1, 12), 1:5, level[1])
    expect_equal(round(alpha, 3), as.numeric(level[2]), info = level[1])
  }
  # 20 and 15 of 50 alike, 5 and 10 not: kappa .40
  two <- list(rep(c(1, 1, 2, 2), c(20, 5, 10, 15)), rep(c(1, 2, 1, 2), c(20, 5, 10, 15)))
  expect_equal(agreement(two)$kappa, 0.4)
  # Fleiss (1971): ten subjects, fourteen raters, five categories
  given <- rbind(c(0, 0, 0, 0, 14), c(0, 2, 6, 4, 2), c(0, 0, 3, 5, 6), c(0, 3, 9, 2, 0),
    c(2, 2, 8, 1, 1), c(7, 7, 0, 0, 0), c(3, 2, 6, 3, 0), c(2, 5, 3, 2, 2), c(6, 5, 2, 1, 0),
    c(0, 2, 2, 3, 7))
  raters <- apply(given, 1, function(times) rep(1:5, times))
  fleiss <- agreement(lapply(1:14, function(i) raters[i, ]))
  expect_equal(round(fleiss$kappa, 3), 0.210)
})

test_that("weighted kappa is the intraclass correlation, and one category has no kappa", {
  set.seed(3)
  a <- sample(1:4, 60, TRUE)
  b <- pmin(4, pmax(1, a + sample(-1:1, 60, TRUE)))
  told <- agreement(list(a, b), "ordinal")
  long <- data.frame(x = c(a, b), row = factor(rep(1:60, 2)), coder = factor(rep(1:2, each = 60)))
  squares <- anova(lm(x ~ row + coder, long))[["Sum Sq"]]
  # Fleiss & Cohen (1973), with divisors n: rows, coders, what is left
  ms <- c(squares[1] / 60, squares[2], squares[3] / 60)
  expect_equal(told$kappa, (ms[1] - ms[3]) / (ms[1] + ms[3] + 2 * ms[2] / 60), tolerance = 1e-12)
  expect_match(paste(agreement(list(rep(1, 5), rep(1, 5)))$words, collapse = " "),
    "100 % the same Cohen's kappa not defined Krippendorff's alpha not defined", fixed = TRUE)
})

test_that("likeness within groups is by an analysis of variance with Haggard's k", {
  uneven <- iris[c(1:50, 51:60, 101:103), ]
  table <- anova(lm(Sepal.Width ~ Species, uneven))
  n <- c(50, 10, 3)
  k <- (sum(n) - sum(n^2) / sum(n)) / 2
  ms <- table[["Mean Sq"]]
  told <- core("likeness_of")(list(rows = n, mean = tapply(uneven$Sepal.Width, uneven$Species,
    mean),
    sd = tapply(uneven$Sepal.Width, uneven$Species, sd)))
  expect_equal(told$single, (ms[1] - ms[2]) / (ms[1] + (k - 1) * ms[2]))
  expect_equal(told$means, (ms[1] - ms[2]) / ms[1])
  expect_equal(round(told$single, 2), 0.47)
  said <- remarks_of(turn_group(uneven, Sepal.Width, within = Species))
  expect_match(said, "ICC(1) 0.47", fixed = TRUE)
})

# Data whose covariances are exactly these.
exact <- function(cov, n = 200) {
  set.seed(8)
  z <- scale(matrix(rnorm(n * ncol(cov)), n), scale = FALSE)
  as.data.frame(qr.Q(qr(z)) %*% chol(cov) * sqrt(n - 1))
}

test_that("omega, ordinal alpha and the standard error of measurement are what they are by hand", {
  loadings <- c(0.8, 0.7, 0.6, 0.5)
  sizes <- c(1, 2, 1.5, 0.5)
  r <- outer(loadings, loadings)
  diag(r) <- 1
  items <- exact(r * outer(sizes, sizes))
  told <- item_analysis(items, V1:V4, omega = TRUE)
  common <- sum(loadings * sizes)^2
  omega <- common / (common + sum((1 - loadings^2) * sizes^2))
  expect_equal(attr(told, "scale")$omega$value, omega, tolerance = 1e-4)
  alpha <- attr(told, "scale")$alpha
  error <- sd(rowSums(items)) * sqrt(1 - alpha)
  expect_equal(attr(told, "scale")$sem, c(sum = error, mean = error / 4))
  expect_match(attr(item_analysis(items, V1:V2, omega = TRUE), "scale")$omega$why, "three items")
  # 40 and 40 of 100 alike, margins of one half: r = sin(2 pi (0.4 - 0.25))
  skip_if_not_installed("mvtnorm")
  halves <- data.frame(a = rep(c(1, 1, 2, 2), c(40, 10, 10, 40)), b = rep(c(1, 2, 1, 2),
    c(40, 10, 10, 40)))
  r <- sin(2 * pi * 0.15)
  expect_equal(attr(item_analysis(halves, c(a, b), ordinal = TRUE), "scale")$ordinal,
    2 * r / (1 + r), tolerance = 1e-5)
})

test_that("reliability is told by groups, the same at a table, and waves are not compared", {
  b <- open_demo()
  by <- function(book) attr(item_analysis(book, tr_1:tr_4, by = island, omega = TRUE), "groups")
  here <- by(b)
  one <- as.data.frame(b)[b$island %in% 3, paste0("tr_", 1:4)]
  one <- one[complete.cases(one), ]
  alpha <- 4 / 3 * (1 - sum(diag(cov(one))) / sum(cov(one)))
  expect_equal(here$alpha[3], alpha)
  expect_equal(here$complete[3], nrow(one))
  skip_if_not_installed("RSQLite")
  connection <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
  withr::defer(DBI::dbDisconnect(connection))
  DBI::dbWriteTable(connection, "t", as.data.frame(b)[c("person", "island", paste0("tr_", 1:4))])
  expect_equal(by(quietly(turnbook(connection, table = "t", id = person)))[-1], here[-1],
    tolerance = 1e-9)
  two <- item_analysis(b, tr_1:tr_4, by = use_work)
  w <- (1 - attr(two, "groups")$alpha[1]) / (1 - attr(two, "groups")$alpha[2])
  expect_match(attr(two, "differ")$words, sprintf("W = %.2f", w), fixed = TRUE)
  panel <- quietly(turn_change(rbind(transform(items, u = 1:60, t = 1), transform(items, u = 1:60,
    t = 2)), q1, unit = u, order = t))
  expect_match(attr(item_analysis(panel, q1:q5, by = t), "differ")$words, "not compared")
})

test_that("receipts say what is decided there", {
  holes <- items
  holes$q1[1:10] <- NA
  holes$q2[1:4] <- NA
  part <- core("collect_receipts")(turn_composite(holes, q1:q5, as = "s", at_least = 4))
  text <- core("receipt_text")(part$receipts[[1]])
  expect_match(text, "5 of 5 +50 +scored +50\n.*4 of 5 +6 +scored +56\n.*3 of 5 +4 +too few +60")
  expect_match(remarks_of(turn_reverse(transform(items, q3 = 6 - q3), q3, limits = c(1, 5))),
    "Against the rest of q1 to q5 run by the data: q3", all = FALSE)
  moved <- remarks_of(turn_winsorize(data.frame(x = c(1:99, 500)), x))
  expect_match(moved, "Above the upper end, held there: 1 row", all = FALSE)
  expect_match(moved, "Mean (SD) before and after: 54.50 (53.3", fixed = TRUE, all = FALSE)
  expect_match(remarks_of(turn_fill(holes, q1:q5, at_least = 4)), "Filled: 6 rows", all = FALSE)
  scored <- remarks_of(turn_component(items, q1:q5, as = "f"))
  first <- prcomp(items, scale. = TRUE)
  expect_match(scored, sprintf("%d %% (eigenvalue %s", round(20 * first$sdev[1]^2),
    format(signif(first$sdev[1]^2, 3))), fixed = TRUE, all = FALSE)
  told <- remarks_of(turn_norm(data.frame(x = 1:3), x, table = data.frame(mean = 2, sd = 1,
    source = "made up")))
  expect_match(told, "not used: source")
  rows <- remarks_of(turn_consensus(data.frame(a = c(1, 2), b = c(1, 2)), c(a, b), as = "k"))
  expect_match(rows, "100 % the same, Cohen's kappa 1.00", all = FALSE)
})

test_that("disagreements are the rows where codes differ, here and at a table", {
  codes <- data.frame(id = 11:15, a = c(1, 2, 3, NA, 1), b = c(1, 1, 3, 2, NA), c = c(2, 1, 3, 3,
    NA))
  here <- disagreements(turnbook(codes, id = id), c(a, b, c))
  expect_equal(here$id, c(11, 12, 14))
  expect_equal(disagreements(codes, c(a, b))$row, 2)
  expect_output(print(here), "Disagreements of 3 coders")
  skip_if_not_installed("RSQLite")
  connection <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
  withr::defer(DBI::dbDisconnect(connection))
  DBI::dbWriteTable(connection, "t", codes)
  there <- disagreements(quietly(turnbook(connection, table = "t", id = id)), c(a, b, c))
  expect_equal(as.list(as.data.frame(there)), as.list(as.data.frame(here)), ignore_attr = TRUE)
  refused(disagreements(quietly(turnbook(connection, table = "t")), c(a, b)), "no-id")
  many <- data.frame(id = 1:10002, a = 1, b = 2)
  DBI::dbWriteTable(connection, "many", many)
  refused(disagreements(quietly(turnbook(connection, table = "many", id = id)), c(a, b)),
    "disagreements-many")
})

test_that("ticked answers are looked at with one denominator", {
  split <- quietly(turn_split(data.frame(w = c("a;b", "a", NA, "c", "b;a"), k = 1:5), w))
  seen <- look(split, w_a:w_c, together = TRUE)
  expect_equal(seen$rows, c(3, 2, 1))
  expect_equal(seen$percent, c(75, 50, 25))
  expect_equal(seen$percent_answers, 100 * c(3, 2, 1) / 6)
  weighed <- look(split, w_a:w_c, together = TRUE, weight = k)
  expect_equal(weighed$rows, c(8, 6, 4))
  expect_equal(weighed$percent[1], 100 * 8 / 12)
  expect_output(print(seen), "4 rows with an answer")
})

test_that("a record of answers is applied to later data, and refitted", {
  path <- tempfile(fileext = ".yaml")
  save_turns(quietly(turn_split(data.frame(w = c("a;b", "a")), w)), path)
  later <- quietly(apply_turns(data.frame(w = c("a; d", "b")), path))
  expect_equal(later$w_a, c(1, 0))
  expect_false("w_d" %in% names(later))
  expect_true("new-entry" %in% findings(later)$id)
  refit <- quietly(apply_turns(data.frame(w = c("a; d", "b")), path, learned = "refit"))
  expect_equal(refit$w_d, c(1, 0))
  norms <- tempfile(fileext = ".yaml")
  save_turns(quietly(turn_component(items, q1:q5, as = "f")), norms)
  half <- quietly(apply_turns(items[1:20, ], norms))
  expect_equal(half$f, quietly(turn_component(items, q1:q5, as = "f"))$f[1:20])
  own <- quietly(apply_turns(items[1:20, ], norms, learned = "refit"))
  expect_equal(sd(own$f), 1)
  ends <- tempfile(fileext = ".yaml")
  save_turns(quietly(turn_winsorize(data.frame(x = c(1:9, 99), g = "a"), x, within = g)), ends)
  strange <- quietly(apply_turns(data.frame(x = c(1, 200, 3), g = c("a", "a", "b")), ends))
  expect_equal(strange$x_w, c(1.09, 90.9, NA))
})

test_that("a group by which scores differ in reliability is noted where groups are stated", {
  set.seed(4)
  noise <- as.data.frame(lapply(items, function(x) sample(1:5, 60, TRUE)))
  mixed <- rbind(transform(items, g = 1), transform(noise, g = 2))
  b <- quietly(define(turnbook(mixed), g, role = "groups"))
  scored <- quietly(turn_composite(b, q1:q5, as = "s"))
  expect_true("alpha-by-group" %in% findings(scored)$id)
  expect_false("alpha-by-group" %in% findings(quietly(turn_composite(mixed, q1:q5, as = "s")))$id)
})

test_that("scales that differ are not filled from each other unseen", {
  mixed <- transform(items, q1 = replace(20 * q1, 1:3, NA))
  expect_true("mixed-ranges" %in% findings(quietly(turn_fill(mixed, q1:q5, at_least = 3)))$id)
  by_item <- quietly(turn_fill(mixed, q1:q5, at_least = 3, how = "item mean"))
  expect_false("mixed-ranges" %in% findings(by_item)$id)
})

test_that("a record that does not fit the items is refused", {
  path <- tempfile(fileext = ".yaml")
  save_turns(quietly(turn_component(items, q1:q5, as = "f")), path)
  lines <- readLines(path)
  at <- grep("component_vector", lines)
  lines[at] <- sub("is: \\[[^]]*\\]", "is: [1, 2]", lines[at])
  writeLines(lines, path)
  refused(apply_turns(items, path), "sheet-at")
  expect_error(quietly(apply_turns(items, path)), "does not fit its 5 items")
})
