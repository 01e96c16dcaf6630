# Why a row is missing: what look shows and what a formula asks for are the same rows, in every way.
test_that("asking for a reason finds the rows that are missing for it, after any turn", {
  set.seed(6)
  n <- 90
  rows <- data.frame(
    id = 1:n, u = sample(c(1:25, NA), n, TRUE), o = NA_real_, x = sample(c(-2:4, 9, NA), n, TRUE),
    t = sample(c("1", "2.5", "word", "", NA), n, TRUE),
    d = sample(c("2031-02-03", "2031-02-30", "", "x"), n, TRUE),
    g = sample(c("a", "b", "c", NA), n, TRUE), y = sample(c(1:3, 8), n, TRUE)
  )
  rows$o <- stats::ave(rows$id, rows$u, FUN = seq_along)
  rows$o[sample(n, 5)] <- NA
  book <- quietly(turnbook(rows, id = id) |> define(x, missing = c("Refused" = 9),
    limits = c(-2, 4)) |>
    define(y, missing = c("Don't know" = 8), asked_if = x > 0) |>
    turn_recode(y, as = "k", becomes(1, 1), becomes(NA, 2, label = "Skipped")) |>
    turn_compute(log(x), as = "l") |>
    turn_compute(t * x, as = "p") |> turn_compute(month(as.Date(d)), as = "m") |> turn_reverse(x) |>
    turn_composite(c(x, y, p), at_least = 2, as = "s") |> turn_standardize(s, within = g) |>
    turn_standardize(x, how = "percentile", within = g) |> turn_dummy(g) |>
    turn_dummy(y, missing = "level") |>
    turn_crosswalk(g, table = data.frame(g = c("a", "b"), v = 1:2)) |>
    turn_norm(x, table = data.frame(raw = 0:2, scaled = 5:7)) |>
    turn_change(x, unit = u, order = o) |>
    turn_compute(1 / previous(k, unit = u, order = o), as = "q") |> turn_group(x, within = g) |>
    turn_interact(x, l) |> turn_bin(l, as = "b", at = 1) |> turn_flag(x_change > 0, as = "f") |>
    turn_recode(as = "two", becomes(1, x = 1, k = 1), becomes(2, x = from(2))) |>
    turn_collapse(k, becomes("all", 1), as = "kc") |> turn_rescale(x_change, shift = 1) |>
    turn_tally(c(x, y), of = 1, as = "n"))
  place <- core("site_of")(book)
  asked <- 0
  for (name in core("derived_names")(book)) {
    column <- known_variable(book, name)
    for (kind in core("kinds_known")(known_variable(book, name))) {
      rows_of <- core("evaluate")(core("kind_condition")(known_variable(book, name), kind), place)
      expect_identical(which(as.logical(rows_of)), which(core("is_kind")(column, kind)),
        info = paste(name, kind))
      asked <- asked + sum(core("is_kind")(column, kind))
    }
    expect_equal(sum(core("count_kinds")(column)), sum(is.na(column$x)))
  }
  expect_gt(asked, 500)
  for (name in core("derived_names")(book)) {
    for (kind in unique(core("reasons")(known_variable(book, name)))) {
      rule <- becomes(1, unanswered(kind))
      book <- quietly(turn_recode(book, tidyselect::all_of(name), as = paste(name, kind), rule,
        the_rest(0)))
    }
  }
  expect_equal(run_base_script(book, rows), as.data.frame(book, missing = "codes"),
    ignore_attr = TRUE)
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
    for (kind in setdiff(core("kinds_known")(known_variable(book, name)),
      c("not asked", "no earlier occasion", "not in the table"))) {
      turn <- core("new_turn")("flag", "f", formula = sprintf("unanswered(%s, \"%s\")", name, kind))
      flagged <- quietly(core("make_turn")(book, turn))
      expect_equal(which(flagged$f == 1), which(is.na(book[[name]]))[why(book, name) == kind],
        info = paste(name, kind))
      expect_equal(run_base_script(flagged, data)$f, flagged$f, info = paste(name, kind))
    }
  }
})
