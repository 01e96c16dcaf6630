# The works of the bench: how ours does each, the base R a careful analyst would write for the same
# result, and the columns that have to be read. `ours` gives the book, whose new columns are
# compared.

survey_data <- function(rows) {
  answers <- function() sample(c(1:5, NA), rows, TRUE, c(rep(.19, 5), .05))
  data <- stats::setNames(replicate(20, answers(), simplify = FALSE), paste0("q", 1:20))
  data$age <- sample(c(0:99, NA), rows, TRUE)
  data$job <- sample(101:200, rows, TRUE)
  data$place <- sample(1001:1500, rows, TRUE)
  data$ticket <- sample(1:50, rows, TRUE)
  data$home <- sample(rows %/% 3, rows, TRUE)
  data$income <- round(exp(stats::rnorm(rows, 7.8, .6)), 2)
  data$income[sample(rows, rows / 20)] <- NA
  shuffled <- sample(rows)
  data$unit <- (shuffled - 1) %/% 4
  data$wave <- (shuffled - 1) %% 4 + 1
  as.data.frame(data)
}

tens <- seq(0, 90, 10)
ten_ranges <- lapply(seq_along(tens), function(i) becomes(i, from(tens[i], under = tens[i] + 10)))
hundred_codes <- lapply(1:100, function(i) becomes(i %% 7, 100 + i))
lms_table <- data.frame(age = seq(0, 99, 9), L = seq(0.2, 0.5, length.out = 12),
  M = 2000 + 10 * 1:12,
  S = 0.4)
score_table <- data.frame(place = 1001:1500, score = (1:500 * 37) %% 90)

by_assignment <- function(x) {
  out <- rep(NA_integer_, length(x))
  for (i in seq_along(tens)) out[which(x >= tens[i] & x < tens[i] + 10)] <- i
  out
}

works <- list(
  "composite of 20 items, mean, at_least = 15" = list(
    ours = function(book, d) turn_composite(book, q1:q20, as = "s", at_least = 15),
    base = function(d) {
      x <- as.matrix(d[paste0("q", 1:20)])
      valid <- rowSums(!is.na(x))
      list(ifelse(valid >= 15, rowMeans(x, na.rm = TRUE), NA))
    },
    reads = paste0("q", 1:20), target = 20
  ),
  "recode by 10 ranges (base: assignments)" = list(
    ours = function(book, d) turn_recode(book, age, as = "r", !!!ten_ranges),
    base = function(d) list(by_assignment(d$age)), reads = "age", target = 50
  ),
  "recode by 10 ranges (base: cut)" = list(
    ours = function(book, d) turn_recode(book, age, as = "r", !!!ten_ranges),
    base = function(d) list(cut(d$age, c(tens, 100), labels = FALSE, right = FALSE)),
    reads = "age", target = 50
  ),
  "recode by 100 codes (base: match)" = list(
    ours = function(book, d) turn_recode(book, job, as = "r", !!!hundred_codes),
    base = function(d) list((1:100 %% 7)[match(d$job, 101:200)]), reads = "job", target = 50
  ),
  "crosswalk of 500 codes (base: match)" = list(
    ours = function(book, d) turn_crosswalk(book, place, table = score_table),
    base = function(d) list(score_table$score[match(d$place, score_table$place)]),
    reads = "place", target = 50
  ),
  "reverse 20 items in one call" = list(
    ours = function(book, d) turn_reverse(book, q1:q20, limits = c(1, 5)),
    base = function(d) {
      out <- vector("list", 20)
      for (i in 1:20) out[[i]] <- 6L - d[[i]]
      out
    },
    reads = paste0("q", 1:20), target = 50
  ),
  "flag of an indexed column" = list(
    ours = function(book, d) turn_flag(book, age >= 65, as = "f"),
    base = function(d) list(as.integer(d$age >= 65)), reads = "age", target = 50
  ),
  "z score of an indexed column" = list(
    ours = function(book, d) turn_standardize(book, age, how = "z"),
    base = function(d) list((d$age - mean(d$age, na.rm = TRUE)) / sd(d$age, na.rm = TRUE)),
    reads = "age", target = 50
  ),
  "collapse 100 codes into 4 (base: match)" = list(
    ours = function(book, d) {
      turn_collapse(book, job, as = "c", becomes(1, from(101, upto = 125)),
        becomes(2, from(126, upto = 150)), becomes(3, from(151, upto = 175)),
        becomes(4, from(176, upto = 200)))
    },
    base = function(d) list(rep(1:4, each = 25)[match(d$job, 101:200)]), reads = "job", target = 50
  ),
  "z score" = list(
    ours = function(book, d) turn_standardize(book, income, how = "z"),
    base = function(d) list((d$income - mean(d$income, na.rm = TRUE)) / sd(d$income, na.rm = TRUE)),
    reads = "income", target = 3
  ),
  "T score" = list(
    ours = function(book, d) turn_standardize(book, income, how = "t"),
    base = function(d) {
      list(50 + 10 * (d$income - mean(d$income, na.rm = TRUE)) / sd(d$income,
        na.rm = TRUE))
    },
    reads = "income", target = 3
  ),
  "percentile rank" = list(
    ours = function(book, d) turn_standardize(book, income, how = "percentile"),
    base = function(d) list((rank(d$income, na.last = "keep") - 0.5) / sum(!is.na(d$income)) * 100),
    reads = "income", target = 8
  ),
  "10 bands of equal count" = list(
    ours = function(book, d) turn_bin(book, income, groups = 10),
    base = function(d) {
      cuts <- quantile(d$income, 0:10 / 10, na.rm = TRUE)
      list(cut(d$income, cuts, labels = FALSE, right = FALSE, include.lowest = TRUE))
    },
    reads = "income", target = 8
  ),
  "indicators for 50 levels" = list(
    ours = function(book, d) turn_dummy(book, ticket),
    base = function(d) {
      x <- model.matrix(~ factor(d$ticket))
      lapply(2:50, function(j) x[, j])
    },
    reads = "ticket", target = 50
  ),
  "mean of the household, 1 million rows" = list(
    ours = function(book, d) turn_group(book, income, as = "g", within = home),
    base = function(d) list(ave(d$income, d$home, FUN = function(v) mean(v, na.rm = TRUE))),
    reads = c("income", "home"), target = NA, rows = 1e6
  ),
  "flag" = list(
    ours = function(book, d) turn_flag(book, income > 3000, as = "f"),
    base = function(d) list(as.integer(d$income > 3000)), reads = "income", target = 1
  ),
  "ratio" = list(
    ours = function(book, d) turn_compute(book, income / (age + 1), as = "f"),
    base = function(d) list(d$income / (d$age + 1)), reads = c("income", "age"), target = 1
  ),
  "logarithm" = list(
    ours = function(book, d) turn_compute(book, log(income), as = "f"),
    base = function(d) list(log(d$income)), reads = "income", target = 1
  ),
  "component of 10 items, 1 million rows (base: prcomp)" = list(
    ours = function(book, d) turn_component(book, q1:q10, as = "f", positive = q1),
    base = function(d) {
      use <- stats::complete.cases(d[1:10])
      first <- stats::prcomp(d[use, 1:10], scale. = TRUE)
      score <- rep(NA_real_, nrow(d))
      score[use] <- first$x[, 1] / first$sdev[1] * sign(first$rotation[1, 1])
      list(score)
    },
    reads = paste0("q", 1:10), target = 1, rows = 1e6
  ),
  "far values held, 1 million rows (base: quantile, pmin)" = list(
    ours = function(book, d) turn_winsorize(book, income),
    base = function(d) {
      ends <- stats::quantile(d$income, c(0.01, 0.99), na.rm = TRUE, names = FALSE)
      list(pmin(pmax(d$income, ends[1]), ends[2]))
    },
    reads = "income", target = 1, rows = 1e6
  ),
  "items filled two-way, 1 million rows" = list(
    ours = function(book, d) turn_fill(book, q1:q6, at_least = 4),
    base = function(d) {
      x <- as.matrix(d[1:6])
      fill <- outer(rowMeans(x, na.rm = TRUE), colMeans(x, na.rm = TRUE), "+") -
        mean(x, na.rm = TRUE)
      gaps <- is.na(x) & rowSums(!is.na(x)) >= 4
      x[gaps] <- fill[gaps]
      lapply(1:6, function(i) x[, i])
    },
    reads = paste0("q", 1:6), target = 1, rows = 1e6
  ),
  "mean of the others, 1 million rows (base: ave)" = list(
    ours = function(book, d) turn_group(book, income, as = "g", within = home, leave_out = TRUE),
    base = function(d) {
      x <- d$income
      sums <- ave(ifelse(is.na(x), 0, x), d$home, FUN = sum)
      valid <- ave(as.numeric(!is.na(x)), d$home, FUN = sum)
      n <- valid - !is.na(x)
      list(ifelse(n > 0, (sums - ifelse(is.na(x), 0, x)) / n, NA))
    },
    reads = c("income", "home"), target = 1, rows = 1e6
  ),
  "change since the first wave, 1 million rows (base: order, match)" = list(
    ours = function(book, d) turn_change(book, income, unit = unit, order = wave, from = wave == 1),
    base = function(d) {
      first <- d[d$wave == 1, ]
      list(d$income - first$income[match(d$unit, first$unit)])
    },
    reads = c("income", "unit", "wave"), target = 1, rows = 1e6
  ),
  "code of three coders, 1 million rows (base: loops over codes)" = list(
    ours = function(book, d) turn_consensus(book, q1:q3, as = "k"),
    base = function(d) {
      a <- d$q1
      b <- d$q2
      c <- d$q3
      code <- ifelse(!is.na(a) & (a %in% b & a == b | !is.na(c) & a == c), a, NA)
      list(ifelse(is.na(code) & !is.na(b) & !is.na(c) & b == c, b, code))
    },
    reads = paste0("q", 1:3), target = 1, rows = 1e6
  ),
  "norms by L, M, S between ages, 1 million rows" = list(
    ours = function(book, d) turn_norm(book, income, table = lms_table, between = "linear"),
    base = function(d) {
      at <- function(y) stats::approx(lms_table$age, y, d$age)$y
      z <- ((d$income / at(lms_table$M))^at(lms_table$L) - 1) / (at(lms_table$L) * at(lms_table$S))
      list(z)
    },
    reads = c("income", "age"), target = 1, rows = 1e6
  )
)
