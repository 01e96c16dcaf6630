# Random programs with dates, spans of time, zeros of both signs and texts that hold separators:
# every column against base R, and the same by script, in SQL, by sheet, amended and from the
# command line.
skip_on_cran() # long; make test runs it

odd_data <- function(rows) {
  pick <- function(...) sample(c(...), rows, TRUE)
  data.frame(
    id = sample(500 + seq_len(rows)), u = rep(seq_len(ceiling(rows / 3)), each = 3)[seq_len(rows)],
    w = rep(1:3, length.out = rows), x = pick(0, -0, -1, 2.5, 7, NA), n = pick(-2:6, NA),
    d = as.Date("2028-02-29") + pick(-700:700, NA), e = as.Date("2031-12-31") + pick(-30:400, NA),
    h = as.difftime(pick(0, 0.5, 3, 26, NA), units = "hours"),
    t = pick("a", "a,b", "b\r", "\r b", "c\x01d", "\"q\"", "it's", "%", "", NA),
    g = pick("a", "a\rb", "a, b"), k = pick("b\rc", "c", "b, c")
  )
}

# By groups, row by row, with base R alone.
by_groups <- function(x, groups, f) {
  cell <- vapply(seq_along(x), function(i) {
    paste(vapply(groups, function(g) paste(nchar(g[i]), g[i]), ""), collapse = " ")
  }, "")
  vapply(seq_along(x), function(i) f(x[cell == cell[i] & !is.na(x)]), 0)
}
whole_years <- function(from, to) {
  a <- as.POSIXlt(from)
  b <- as.POSIXlt(to)
  b$year - a$year - (b$mon < a$mon | b$mon == a$mon & b$mday < a$mday)
}
least <- function(x) if (length(x)) min(x) else NA_real_
middle_day <- function(x) if (length(x)) floor(mean(x)) else NA_real_
hours <- function(d) as.numeric(d$h, units = "hours")
days <- function(d) as.numeric(d$d)

# What a step is, and what comes of it by base R.
odd_steps <- list(
  since = list(quote(turn_compute(b, d - min(d, within = g), as = k)),
    function(d) days(d) - by_groups(days(d), d["g"], least)),
  first = list(quote(turn_compute(b, min(d, within = c(g, k)) + 30, as = k)),
    function(d) .Date(by_groups(days(d), d[c("g", "k")], least) + 30)),
  middle = list(quote(turn_group(b, d, within = c(g, k), how = "mean", as = k)),
    function(d) .Date(by_groups(days(d), d[c("g", "k")], middle_day))),
  age = list(quote(turn_compute(b, years_between(min(d, within = g), e), as = k)),
    function(d) whole_years(.Date(by_groups(days(d), d["g"], least)), d$e)),
  between = list(quote(turn_compute(b, if (e > d) (e - d) / 30 else n, as = k)),
    function(d) ifelse(d$e > d$d, as.numeric(d$e - d$d) / 30, d$n)),
  before = list(quote(turn_change(b, d, unit = u, order = w, as = k)),
    function(d) ifelse(d$w == 1, NA, days(d) - c(NA, head(days(d), -1)))),
  since_first = list(quote(turn_change(b, d, unit = u, order = w, from = "first", as = k)),
    function(d) days(d) - days(d)[match(d$u, d$u)]),
  since_second = list(quote(turn_change(b, n, unit = u, order = w, from = w == 2, as = k)),
    function(d) d$n - ifelse(d$w == 2, d$n, NA)[match(paste(d$u, 2), paste(d$u, d$w))]),
  last_valid = list(quote(turn_change(b, n, unit = u, order = w, skip_missing = TRUE, as = k)),
    function(d) {
      before <- vapply(seq_along(d$n), function(i) {
        earlier <- which(d$u == d$u[i] & d$w < d$w[i] & !is.na(d$n))
        if (length(earlier)) as.numeric(d$n[max(earlier)]) else NA_real_
      }, 0)
      d$n - before
    }),
  held = list(quote(turn_winsorize(b, n, at = c(0.1, 0.8), as = k)), function(d) {
    ends <- quantile(d$n, c(0.1, 0.8), na.rm = TRUE, names = FALSE)
    pmin(pmax(d$n, ends[1]), ends[2])
  }),
  others = list(quote(turn_group(b, n, within = g, leave_out = TRUE, as = k)), function(d) {
    vapply(seq_along(d$n), function(i) {
      x <- d$n[-i][d$g[-i] == d$g[i]]
      if (any(!is.na(x))) mean(x, na.rm = TRUE) else NA_real_
    }, 0)
  }),
  agreed = list(quote(turn_consensus(b, c(x, n, w), as = k, ties = "first")), function(d) {
    votes <- cbind(d$x, d$n, d$w)
    apply(votes, 1, function(v) {
      v <- v[!is.na(v)]
      if (length(v) < 2) return(NA)
      times <- vapply(v, function(one) sum(v == one), 1)
      v[which.max(times)]
    })
  }),
  span = list(quote(turn_compute(b, h - mean(h, within = g), as = k)),
    function(d) hours(d) - by_groups(hours(d), d["g"], function(x) if (length(x)) mean(x) else NA)),
  long = list(quote(turn_flag(b, h > 1 & d < as.Date("2029-01-01"), as = k)),
    function(d) as.numeric(hours(d) > 1 & d$d < as.Date("2029-01-01"))),
  zero = list(quote(turn_recode(b, x, as = k, becomes(1, 0), becomes(2, from(-1)), the_rest(3))),
    function(d) ifelse(d$x == 0, 1, 2)),
  inverse = list(quote(turn_compute(b, 1 / x, as = k)),
    function(d) ifelse(d$x == 0, NA, 1 / d$x)),
  minus = list(quote(turn_compute(b, paste0("[", -x * 0, "]"), as = k)),
    function(d) ifelse(is.na(d$x), NA, "[0]")),
  by_zero = list(quote(turn_group(b, n, within = x, how = "sum", as = k)),
    function(d) {
      ifelse(is.na(d$x), NA, by_groups(d$n, list(as.character(d$x + 0)),
        function(x) if (length(x)) sum(x) else NA))
    }),
  cells = list(quote(turn_group(b, n, within = c(g, k), how = "valid", as = k)),
    function(d) by_groups(d$n, d[c("g", "k")], length)),
  z = list(quote(turn_compute(b, n - median(n, within = c(g, k)), as = k)),
    function(d) {
      d$n - by_groups(d$n, d[c("g", "k")], function(x) if (length(x)) median(x) else NA)
    }),
  texts = list(quote(turn_recode(b, t, as = k, becomes(1, "b\r", "a,b"), becomes(2, "\"q\"", "%"),
    the_rest(0))), function(d) {
    t <- ifelse(d$t == "", NA, d$t)
    ifelse(t %in% c("b\r", "a,b"), 1, ifelse(t %in% c("\"q\"", "%"), 2, ifelse(is.na(t), NA, 0)))
  }),
  looked_up = list(quote(turn_crosswalk(b, g, as = k, table = data.frame(
    code = c("a", "a\rb", "a, b"), v = c(3, 1, 2)))),
  function(d) c(3, 1, 2)[match(d$g, c("a", "a\rb", "a, b"))]),
  joined = list(quote(turn_compute(b, paste0(g, "\r", k), as = k)),
    function(d) paste0(d$g, "\r", d$k)),
  row = list(quote(turn_compute(b, row_max(e - d, n, at_least = 1), as = k)),
    function(d) {
      both <- cbind(as.numeric(d$e - d$d), d$n)
      apply(both, 1, function(x) if (all(is.na(x))) NA else max(x, na.rm = TRUE))
    })
)

# The call with the names of its result in place of `k` after `as`.
step_call <- function(step, name) {
  call <- step[[1]]
  call$as <- name
  call
}

# With the rows in a table.
on_a_table <- function(data, steps, place) {
  connection <- table_on(place, quietly(turnbook(data[names(data) != "h"])), "odd", by = "u",
    days = c("d", "e"))
  withr::local_options(ableturn.answers = sample(c(8, 65535), 1))
  book <- quietly(turnbook(connection, table = "odd", id = id))
  for (step in names(steps)) {
    book <- quietly(eval(step_call(steps[[step]], step), list(b = book)))
  }
  made <- as.data.frame(book)
  made[match(data$id, made$id), ]
}

by_command_line <- function(data, sheet) {
  csv <- tempfile(fileext = ".csv")
  out <- tempfile(fileext = ".csv")
  quietly(write_data(turnbook(data[names(data) != "h"]), csv))
  program <- system.file("exec", "ableturn", package = "ableturn")
  told <- system2(file.path(R.home("bin"), "Rscript"), shQuote(c(program, "run", sheet, "--data",
    csv, "--out", out)), stdout = TRUE, stderr = TRUE)
  expect_null(attr(told, "status"), info = paste(told, collapse = "\n"))
  as.data.frame(quietly(turnbook(out)))
}

plain <- function(x) if (inherits(x, "Date") || is.character(x)) x else as.numeric(x)

test_each("program", setNames(nm = sampled(1:12)), function(round, name) {
  set.seed(4000 + round)
  data <- odd_data(sample(c(6, 40), 1))
  steps <- odd_steps[sample(names(odd_steps), 6)]
  book <- quietly(turnbook(data, id = id))
  for (step in names(steps)) {
    book <- quietly(eval(step_call(steps[[step]], step), list(b = book)))
  }
  expected <- lapply(steps, function(step) step[[2]](data))
  same <- function(made, way) {
    for (step in names(steps)) {
      expect_equal(plain(made[[step]]), plain(expected[[step]]), info = paste(round, way, step))
    }
  }
  same(book, "memory")
  same_on_engines(book, info = round)
  proof <- prove(book)
  expect_true(attr(proof, "proved"), info = paste(c(round, capture.output(print(proof))),
    collapse = "\n"))
  sheet <- tempfile(fileext = ".yaml")
  save_turns(book, sheet)
  same(quietly(apply_turns(data, sheet, id = "id")), "sheet")
  # a file or table holds no unit of a span
  if (!any(c("span", "long") %in% names(steps))) {
    same(by_command_line(data, sheet), "command line")
    for (place in names(places_here())) same(on_a_table(data, steps, place), place)
  }
  for (step in names(steps)) {
    label <- paste("of", step)
    amended <- quietly(amend(book, tidyselect::all_of(step), label = !!label))
    expect_equal(plain(amended[[step]]), plain(expected[[step]]), info = paste(round, step))
  }
})
