# Originals are the very objects that came in, whatever their class, and their categories keep their
# order.
kinds <- data.frame(
  f = factor(c("lo", "hi", NA, "mid"), c("lo", "mid", "hi", "none")),
  o = factor(c("b", "a", "b", NA), ordered = TRUE),
  t = as.POSIXct(c("2031-03-29 01:30:00", "2031-03-30 08:15:00", NA, "2031-07-01 23:00:00"),
    tz = "Europe/Berlin"),
  s = as.difftime(c(1, 2, NA, 3), units = "hours"), n = c(1, NaN, NA, Inf),
  e = c("", NA, "a", " b "),
  d = as.Date("2031-01-01") + c(0, 1, NA, 3), l = c(TRUE, FALSE, NA, TRUE), i = c(1L, 2L, NA, 99L),
  a = I(c("p", "q", NA, "r")), row.names = c("w", "x", "y", "z")
)
attr(kinds$i, "label") <- "How many"
attr(kinds$n, "odd") <- list(1, "two")
# the bits of 1, 0, missing, 0
kinds$big <- structure(c(4.94065645841247e-324, 0, -0, 0), class = "integer64")
kinds$own <- structure(c(1, 2, 8, 9), labels = c(Yes = 1, No = 2), label = "Own",
  class = c("own_class", "double"))

test_that("every kind of column comes back as the object it was", {
  book <- quietly(turnbook(kinds))
  sheet <- tempfile()
  save_turns(quietly(turn_compute(book, i + 1, as = "j")), sheet)
  again <- quietly(apply_turns(kinds, sheet))
  expect_identical(as.data.frame(book), kinds)
  expect_identical(as.data.frame(again, columns = -j), kinds)
  for (name in names(kinds)) expect_identical(book[[name]], kinds[[name]], info = name)
  missing <- quietly(define(book, c(i, own), missing = c(Gone = 99, Lost = 8)) |>
    define(f, missing = c(Mid = "mid")))
  expect_identical(missing$i, structure(c(1L, 2L, NA, NA), label = "How many"))
  expect_identical(levels(missing$f), levels(kinds$f))
  expect_identical(missing$f, replace(kinds$f, 4, NA))
  expect_identical(unclass(missing$own)[3:4], c(NA, 9))
  expect_identical(as.data.frame(missing, missing = "codes"), kinds)
  big <- quietly(define(turnbook(kinds["big"]), big, missing = c(Gone = 1)))$big
  expect_identical(class(big), "integer64")
  expect_equal(1 / unclass(big)[c(1, 3)], c(-Inf, -Inf))
})

test_that("columns of any kind are worked with, and the scripts agree", {
  book <- quietly(turnbook(kinds[setdiff(names(kinds), "own")]) |>
    turn_compute(s * 2, as = "s2") |> turn_compute(year(as.Date(t)) * 100 + month(as.Date(t)),
      as = "when") |>
    turn_compute(as.Date(t), as = "day") |> turn_compute(big + 1, as = "more") |> turn_dummy(f))
  expect_equal(book$s2, c(2, 4, NA, 6))
  expect_equal(book$when, c(203103, 203103, NA, 203107))
  expect_equal(book$day[4], as.Date("2031-07-01"))
  expect_proved(book)
})

test_that("categories stand in the order of the levels, or of the codes as they were declared", {
  phase <- factor(c("pre", "post", "fup", "pre", "fup", "post"), c("pre", "post", "fup"))
  panel <- data.frame(id = rep(1:2, each = 3), phase = phase, x = c(1, 2, 4, 1, 9, 3))
  book <- quietly(turn_change(panel, x, unit = id, order = phase))
  expect_equal(book$x_change, c(NA, 1, 2, NA, 6, 2))
  expect_equal(why(book, "x_change"), rep("no earlier occasion", 2))
  expect_proved(book)
  sheet <- tempfile()
  save_turns(book, sheet)
  plain <- transform(panel, phase = as.character(phase))
  expect_equal(quietly(apply_turns(plain, sheet))$x_change, book$x_change)
  refused(turn_change(plain, x, unit = id, order = phase), "order-text")
  numbers <- transform(panel, phase = c("9", "10", "11")[phase])
  expect_equal(quietly(turn_compute(numbers, x - previous(x, unit = id, order = phase),
    as = "d"))$d, book$x_change)
  expect_equal(unique(look(turnbook(panel), phase)$value), levels(phase))
  expect_equal(unique(cross(turnbook(panel), phase, id)$row), levels(phase))
  coded <- transform(panel, g = c(3, 1, 2)[phase])
  coded <- quietly(define(coded, g, codes = c(High = 3, Mid = 1, Low = 2), level = "ordinal"))
  expect_equal(levels(as.data.frame(coded, values = "labels")$g), c("High", "Mid", "Low"))
  expect_equal(names(quietly(turn_dummy(coded, g)))[5:6], c("g_mid", "g_low"))
  expect_equal(names(quietly(turn_dummy(transform(panel, phase = relevel(phase, "fup")),
    phase)))[4:5], c("phase_pre", "phase_post"))
  dose <- factor(rep(c("9 mg", "10 mg", "100+"), c(4, 5, 6)), c("9 mg", "10 mg", "100+"),
    ordered = TRUE)
  trend <- quietly(turn_dummy(data.frame(dose = dose), dose, coding = "polynomial"))
  expect_equal(unname(cbind(trend$dose_linear, trend$dose_quadratic)),
    unname(stats::contr.poly(3)[dose, ]))
  expect_true("order-lost" %in% findings(quietly(turn_dummy(plain, phase, coding = "helmert")))$id)
  expect_false("order-lost" %in% findings(quietly(turn_dummy(panel, phase, coding = "helmert")))$id)
})

test_that("dates with a time are read on the clock of their place, and differences are exact", {
  zone <- "Europe/Berlin" # the clocks change on 30 March and 26 October 2031
  data <- data.frame(
    p = as.POSIXct(c("2031-03-29 23:30", "2031-10-26 01:30", NA, "2031-01-01 00:00"), tz = zone),
    q = as.POSIXct(c("2031-03-30 03:30", "2031-10-26 04:30", "2031-01-01 00:00",
      "2031-01-02 12:00"), tz = zone),
    t = c("2031-03-29 23:30", "2031-03-30T01:00:00Z", "about noon", "2031-03-30"),
    u = c("2031-03-30 02:00:30", "2031-03-30 03:30+02:00", "2031-01-01 01:00", "2031-03-30 01:00"),
    f = as.Date(c("2031-01-31", "2031-02-28", "2030-12-01", NA)),
    g = as.Date(c("2031-02-28", "2031-03-31", "2031-11-30", NA))
  )
  book <- quietly(turnbook(data) |> turn_compute(hours_between(p, q), as = "h") |>
    turn_compute(hour(q), as = "o") |>
    turn_compute(as.Date(q) - as.Date(p), as = "d") |>
    turn_compute(hours_between(t, u), as = "x") |>
    turn_compute(months_between(f, g), as = "m") |> turn_compute(weekday(f), as = "w"))
  expect_equal(book$w, c(5, 5, 7, NA))
  expect_equal(book$h, as.numeric(difftime(data$q, data$p, units = "hours")))
  expect_equal(book$o, as.POSIXlt(data$q)$hour)
  expect_equal(book$d, c(1, 0, NA, 1))
  expect_equal(book$x, c(2.5 + 30 / 3600, 0.5, NA, NA))
  expect_equal(book$m, c(0, 1, 11, NA))
  expect_identical(book$p, data$p)
  expect_proved(book)
  refused(turn_compute(book, hour(f), as = "z"), "time-needed")
})

test_that("row names come back, parts of tables are plain, and reasons and labels can be had", {
  book <- quietly(turnbook(kinds["i"]) |> define(i, label = "How many", missing = c(Gone = 99)) |>
    turn_recode(i, as = "band", becomes("few", 1), becomes("a lot", 2)))
  expect_equal(rownames(as.data.frame(book)), rownames(kinds))
  expect_equal(head(book, 2), as.data.frame(book)[1:2, ])
  expect_equal(book[2, "band"], "a lot")
  expect_equal(levels(as.data.frame(book, values = "labels")$band), c("few", "a lot"))
  expect_equal(as.data.frame(book, missing = "reasons")$band_why, c(NA, NA, "blank", "Gone"))
  expect_equal(attr(as.data.frame(book, labels = TRUE)$i, "label"), "How many")
  path <- tempfile(fileext = ".csv")
  quietly(write_data(book, path, missing = "reasons"))
  expect_equal(names(read_data(path)), c("i", "band", "band_why"))
  quietly(write_data(book, path, columns = band, rename = c(b = "band"), missing = "reasons",
    overwrite = TRUE))
  expect_equal(read_data(path)$b_why, c(NA, NA, "blank", "Gone"))
  for (table in list(turns(book), codebook(book), findings(book), look(book), cross(book, i, band),
    lineage(book))) {
    expect_identical(class(table[1]), "data.frame")
  }
})

test_that("NA is judged column by column, and what a newcomer writes first is answered", {
  path <- tempfile(fileext = ".csv")
  writeLines(c("country,x,name", "DE,1,Al", "NA,NA,NA", "FR,3,Bo"), path)
  book <- quietly(turnbook(path) |> turn_recode(country, as = "k", becomes(1, "NA"), the_rest(0)) |>
    turn_compute(x + 1, as = "y"))
  expect_equal(book$country, c("DE", "NA", "FR"))
  expect_equal(book$name, c("Al", NA, "Bo"))
  expect_equal(book$k, c(0, 1, 0))
  expect_proved(book)
  expect_equal(read_data(path, list(blank = c("NA", "DE")))$country, c(NA, NA, "FR"))
  data <- data.frame(age = c(3:60), d = as.Date("2031-01-01"), party = "Red")
  age <- 5
  refused(turn_recode(data, age, as = "r", becomes(1, age < 40)), "rule-comparison")
  refused(turn_recode(data, party, as = "r", becomes(1, Rde)), "rule-word")
  for (v in "age") refused(turn_compute(data, log(v), as = "l"), "loop-name")
  refused(turn_dummy(data, age), "dummy-many")
  refused(turn_bin(data, d, groups = 2), "bin-date")
  refused(report(turnbook(data), "x.pdf"), "file-ending")
  refused(write_data(turnbook(data), "x.pdf"), "file-ending")
})
