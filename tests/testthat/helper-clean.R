# Columns of survey kinds without anything wrong, and ways to spoil them.
clean_column <- function(kind, n) {
  some <- function(x, share = 0.03) replace(x, sample(n, round(n * share * runif(1))), NA)
  switch(kind,
    age = some(round(pmin(95, pmax(18, rnorm(n, runif(1, 35, 60), 16))))),
    count = some(rpois(n, runif(1, 0.5, 8))),
    likert = some(pmin(5, pmax(1, round(rnorm(n, runif(1, 2, 4), 1))))),
    likert7 = some(pmin(7, pmax(1, round(rnorm(n, runif(1, 3, 5), 1.4))))),
    income = some(round(exp(rnorm(n, 7.8, 0.6)), -1)),
    code = some(sample(c(1:6), n, TRUE, prob = runif(6, 0.5, 1))),
    percent = some(round(100 * rbeta(n, runif(1, 1, 4), runif(1, 1, 4)))),
    year = some(sample(1940:2012, n, TRUE)),
    change = some(round(rnorm(n, 0, runif(1, 1, 20)), 1)),
    hours = some(pmin(80, pmax(0, round(rnorm(n, 34, 12)))))
  )
}
clean_kinds <- c("age", "count", "likert", "likert7", "income", "code", "percent", "year", "change", "hours")

# What an analyst does with such a column.
clean_turn <- function(data, kind) {
  low <- min(data$x, na.rm = TRUE)
  cut <- stats::median(data$x, na.rm = TRUE)
  turn <- sample(c("bin", "flag", "recode", "z", "shift", "centre"), 1)
  switch(turn,
    bin = turn_bin(data, x, at = unique(c(cut, cut + max(1, stats::sd(data$x, na.rm = TRUE)))), as = "made"),
    flag = turn_flag(data, x > !!cut, as = "made"),
    recode = turn_recode(data, x, as = "made", becomes(0, under(cut)), becomes(1, from(cut))),
    z = turn_standardize(data, x, as = "made"),
    shift = turn_compute(data, x / 10 + 1, as = "made"),
    centre = turn_standardize(data, x, how = "percentile", as = "made")
  )
}

# Findings above a note that clean work raises, and the share of spoiled columns that raise none.
alarm_rates <- function(columns, n = 400) {
  raised <- character()
  missed <- 0
  spoiled <- 0
  for (i in seq_len(columns)) {
    kind <- clean_kinds[(i - 1) %% length(clean_kinds) + 1]
    data <- data.frame(x = clean_column(kind, n))
    told <- findings(quietly(clean_turn(data, kind)))
    raised <- c(raised, paste(kind, told$id[told$severity == "warn"])[told$severity == "warn" & length(told$id)])
    code <- c(age = 999, count = 99, likert = 9, likert7 = 99, income = 999999, code = 99, percent = 999, year = 9999,
      change = 999, hours = 999)[[kind]]
    data$x[sample(n, 6)] <- code
    told <- findings(quietly(clean_turn(data, kind)))
    spoiled <- spoiled + 1
    missed <- missed + !any(c("open-range", "undeclared-missing") %in% told$id)
  }
  list(columns = columns, alarms = table(raised), missed = missed / spoiled)
}
