# For each finding an analysis spoiled in one way, at random; `miss_rates` tells how often nothing
# is said. Numbers are drawn anew each time.
code_of <- c(age = 999, count = 99, likert = 9, likert7 = 99, income = 999999, code = 99,
  percent = 999, year = 9999, change = 999, hours = 999)
spoiled_column <- function(n) {
  kind <- sample(names(code_of), 1)
  data.frame(x = replace(clean_column(kind, n), sample(n, 6), code_of[[kind]]))
}
limited <- function(d, low, high) define(turnbook(d), x, limits = c(low, high))
likert <- function(n) data.frame(x = clean_columns$likert(n))
some_rows <- function(n) sample(n, sample(2:9, 1))

scale_of <- function(n, k = 5, r = 0.7) {
  common <- rnorm(n)
  as.data.frame(lapply(setNames(seq_len(k), paste0("q", seq_len(k))), function(i) {
    pmin(5, pmax(1, round(3 + r * common + sqrt(1 - r^2) * rnorm(n))))
  }))
}

spoiled <- list(
  "low-reliability" = function(n) {
    d <- data.frame(u = rep(seq_len(n), 2), t = rep(1:2, each = n), x = rnorm(2 * n))
    turn_change(d, x, unit = u, order = t, how = "reliable", reliability = runif(1, 0.2, 0.69),
      better = sample(c("high", "low"), 1))
  },
  "component-weak" = function(n) {
    turn_component(as.data.frame(matrix(rnorm(4 * n), n)), V1:V4, as = "k")
  },
  "component-item" = function(n) {
    d <- transform(scale_of(n), z = rnorm(n))
    turn_component(d, c(q1, q2, q3, q4, q5, z), as = "k")
  },
  "new-entry" = function(n) {
    path <- tempfile(fileext = ".yaml")
    save_turns(turn_split(data.frame(w = sample(c("a;b", "b", "a"), n, TRUE)), w), path)
    apply_turns(data.frame(w = c("a;e", sample(c("a", "b"), n - 1, TRUE))), path)
  },
  "entries-alike" = function(n) {
    turn_split(data.frame(w = c("Bus;Walk", sample(c("bus", "Walk", "Bus;Walk"), n, TRUE))), w)
  },
  "coders-differ-much" = function(n) {
    a <- sample(1:4, n, TRUE)
    turn_consensus(data.frame(a = a, b = ifelse(runif(n) < 0.4, a, sample(1:4, n, TRUE))), c(a, b),
      as = "k")
  },
  "outside-norms" = function(n) {
    turn_norm(data.frame(x = rnorm(n, 30, 9), age = c(95, sample(18:90, n - 1, TRUE))), x,
      table = data.frame(age = c(18, 40, 90), mean = 30, sd = 9))
  },
  "filled-much" = function(n) {
    d <- scale_of(n)
    d$q2[sample(n, ceiling(n * runif(1, 0.13, 0.4)))] <- NA
    turn_fill(d, q1:q5, at_least = 4)
  },
  "fill-against" = function(n) turn_fill(transform(scale_of(n), q3 = 6 - q3), q1:q5, at_least = 4),
  "held-much" = function(n) {
    turn_winsorize(data.frame(x = rnorm(n)), x, at = c(0.07, 0.93))
  },
  "reverse-other" = function(n) {
    turn_reverse(transform(scale_of(n), q3 = 6 - q3), q4, limits = c(1, 5))
  },
  "open-range" = function(n) {
    d <- spoiled_column(n)
    turn_recode(d, x, as = "k", becomes(0, under(middle(d$x))), becomes(1, from(middle(d$x))))
  },
  "undeclared-missing" = function(n) turn_standardize(spoiled_column(n), x, as = "k"),
  "range-gap" = function(n) {
    d <- data.frame(x = c(49.5, round(runif(n - 1, 0, 100), 1)))
    turn_recode(d, x, as = "k", becomes(1, upto(49)), becomes(2, from(50)))
  },
  "rule-overlap" = function(n) {
    turn_recode(likert(n), x, as = "k", becomes(1, upto(3)),
      becomes(2, from(3)))
  },
  "empty-rule" = function(n) {
    turn_recode(likert(n), x, as = "k", becomes(1, upto(3)),
      becomes(2, 4, 5), becomes(3, 6))
  },
  "unmatched" = function(n) turn_recode(likert(n), x, as = "k", becomes(1, 1, 2), becomes(2, 4, 5)),
  "beyond-limits" = function(n) {
    turn_compute(limited(data.frame(x = replace(clean_columns$likert(n), some_rows(n), 6)), 1, 5),
      x * 2, as = "k")
  },
  "unit-slip" = function(n) {
    x <- round(rnorm(n, 170, 9))
    rows <- some_rows(n)
    turn_compute(limited(data.frame(x = replace(x, rows, x[rows] * 10)), 100, 230),
      x / 100, as = "k")
  },
  "reversed-twice" = function(n) turn_reverse(turn_reverse(likert(n), x, limits = c(1, 5)), x_r),
  "maybe-unreversed" = function(n) {
    items <- clean_items(n, k = 5, points = 5)
    items$q3 <- 6 - items$q3
    turn_composite(items, everything(), at_least = 2, as = "s")
  },
  "negative-alpha" = function(n) {
    q1 <- as.vector(scale(rnorm(n)))
    q2 <- stats::residuals(stats::lm(rnorm(n) ~ q1)) - 0.1 * q1
    turn_composite(data.frame(q1 = q1, q2 = q2), everything(), as = "s")
  },
  "near-miss" = function(n) {
    texts <- replace(rep(c("Bus", "Ferry"), length.out = n), some_rows(n), "bus ")
    turn_recode(data.frame(t = texts), t, as = "k", becomes(1, "Bus"), the_rest(0))
  },
  "weight-missing" = function(n) {
    turn_standardize(data.frame(x = rnorm(n), w = replace(runif(n, 1, 2), some_rows(n), NA)),
      x, weight = w)
  },
  "before-birth" = function(n) {
    born <- as.Date("2031-01-01") + seq_len(n)
    turn_compute(data.frame(b = born, d = replace(born + 9000, some_rows(n),
      as.Date("2020-01-01"))), years_between(b, d), as = "k")
  },
  "item-twice" = function(n) {
    turn_composite(transform(clean_items(n, points = 5), again = q1),
      everything(), as = "s")
  },
  "mixed-ranges" = function(n) {
    items <- clean_items(n, points = 5)
    turn_composite(transform(items, q1 = q1 * 2), everything(), as = "s", at_least = 1)
  },
  "partial-sum" = function(n) {
    items <- clean_items(n, points = 5)
    turn_composite(transform(items, q1 = replace(q1, some_rows(n), NA)), everything(), how = "sum",
      at_least = 1, as = "s")
  },
  "few-valid" = function(n) {
    turn_composite(transform(clean_items(n), q1 = replace(q1, sample(n, 0.6 * n), NA)),
      everything(), as = "s")
  },
  "category-arithmetic" = function(n) turn_standardize(clean_coded(n), g, as = "k"),
  "text-number" = function(n) {
    turn_compute(data.frame(x = replace(as.character(rpois(n, 30)), some_rows(n), "about 30")),
      x + 1, as = "k")
  },
  "undefined" = function(n) {
    turn_compute(data.frame(x = replace(rpois(n, 9) + 1, some_rows(n), 0)),
      log(x), as = "k")
  },
  "pattern-gave-up" = function(n) {
    texts <- replace(rep(c("bus", "ferry"), length.out = n), some_rows(n),
      paste0(strrep("a", 30), "!"))
    turn_flag(data.frame(t = texts), grepl("^(a+)+$", t, regex = TRUE), as = "k")
  },
  "data-changed" = function(n) {
    path <- tempfile(fileext = ".csv")
    write_data(turnbook(likert(n)), path)
    sheet <- tempfile()
    save_turns(turn_compute(turnbook(path), x + 1, as = "k"), sheet)
    write_data(turnbook(likert(n)), path, overwrite = TRUE)
    apply_turns(path, sheet)
  },
  "no-spread" = function(n) {
    turn_standardize(data.frame(g = rep(1:4, n / 4), x = ifelse(rep(1:4, n / 4) == 2, 7, rnorm(n))),
      x, within = g)
  },
  "uneven-groups" = function(n) turn_bin(data.frame(x = rpois(n, 0.6)), x, groups = 4),
  "rare-category" = function(n) {
    turn_dummy(data.frame(g = replace(sample(c("a", "b"), n, TRUE), sample(n, 3), "c")), g)
  },
  "dummy-trap" = function(n) {
    book <- turn_dummy(clean_words(n), w, all_levels = TRUE, accept = "dummy-trap")
    turn_interact(book, starts_with("w_"), x)
  },
  "order-lost" = function(n) {
    book <- define(turnbook(data.frame(t = sample(c("low", "mid", "high"), n, TRUE))), t,
      level = "ordinal")
    turn_dummy(book, t, coding = "difference")
  },
  "code-merge" = function(n) {
    turn_recode(likert(n), x, as = "k", becomes(1, 4, 5),
      the_rest(unchanged()))
  },
  "label-gap" = function(n) {
    turn_flag(define(turnbook(likert(n)), x, codes = c(a = 1, b = 2, c = 3, d = 4)),
      x == 2, as = "k")
  },
  "group-boundary" = function(n) {
    panel <- data.frame(u = rep(seq_len(n / 4), each = 4), t = 1:4, x = rnorm(n))
    turn_change(panel[-sample(which(panel$t == 2), 2), ], x, unit = u, order = t)
  },
  "equals-float" = function(n) turn_flag(likert(n), x / 10 == 0.3, as = "k"),
  "stale-learned" = function(n) {
    path <- tempfile()
    save_turns(turn_standardize(data.frame(x = rnorm(n)), x), path)
    apply_turns(data.frame(x = replace(rnorm(n), some_rows(n), 60)), path)
  },
  "new-code" = function(n) {
    path <- tempfile()
    save_turns(turn_dummy(clean_words(n), w), path)
    apply_turns(transform(clean_words(n), w = replace(w, some_rows(n), "never")), path)
  },
  "key-unmatched" = function(n) {
    turn_crosswalk(clean_words(n), w,
      table = data.frame(w = c("yes", "no"), v = 1:0))
  },
  "name-clash" = function(n) turn_compute(likert(n), x * 2, as = "X"),
  "identical-result" = function(n) turn_compute(any_column(n), x * 1, as = "k"),
  "must-hold" = function(n) must_hold(turnbook(likert(n)), x <= 2),
  "blank-or-answer" = function(n) {
    d <- clean_words(n)
    turn_recode(transform(d, w = replace(w, some_rows(n), ".")), w, as = "k", becomes(1, "yes"),
      the_rest(0))
  },
  "label-contradicts" = function(n) {
    turn_bin(data.frame(x = clean_columns$age(n)), x, at = c(35, 65), labels = c("18-29", "30-59",
      "60 and over"))
  },
  "never-held" = function(n) turn_flag(clean_words(n), w %in% c("yes", "No"), as = "k"),
  "reference-far" = function(n) {
    turn_standardize(likert(n), x, reference = c(mean = 1, sd = 30))
  },
  "key-suspect" = function(n) {
    right <- sample(4, 6, TRUE)
    turn_key(clean_quiz(n, right), everything(), key = replace(right, 3, right[3] %% 4 + 1))
  },
  "spelled-apart" = function(n) {
    d <- clean_words(n)
    turn_dummy(transform(d, w = replace(w, some_rows(n), "Yes")), w)
  },
  "scored-identifier" = function(n) turn_bin(data.frame(x = sample(n)), x, groups = 3),
  "learned-now" = function(n) {
    path <- tempfile()
    writeLines(c("able_turn: 1", "turns:", "  - bin: k", "    from: x", "    groups: 3",
      "    by: count"), path)
    apply_turns(likert(n), path)
  },
  "share-missing" = function(n) {
    path <- tempfile()
    save_turns(turn_standardize(data.frame(x = rnorm(n)), x), path)
    apply_turns(data.frame(x = replace(rnorm(n), seq_len(n / 2), NA)), path)
  }
)

# The share of spoiled analyses that do not raise their finding.
miss_rates <- function(each, n = 400) {
  vapply(names(spoiled), function(id) {
    mean(replicate(each, !id %in% findings(quietly(spoiled[[id]](n)))$id))
  }, 0)
}
