# Changing one's mind: amend, drop, replace and undo make again what depends, and nothing else.
data <- data.frame(x = c(1, 2, 3, NA, 5), y = c(2, 2, 4, 4, 9), g = c(1, 1, 2, 2, 2))

chain <- function(length) {
  book <- turnbook(data)
  for (i in seq_len(length)) {
    from <- if (i == 1) "x" else paste0("v", i - 1)
    turn <- core("new_turn")("compute", paste0("v", i), formula = paste(from, "+ 1"))
    book <- core("make_turn")(book, turn)
  }
  book
}

test_that("an amendment in a chain of 50 evaluates what depends on it, and nothing else", {
  book <- quietly(chain(50) |> turn_compute(y * 2, as = "beside"))
  for (place in c(1, 25, 50)) {
    receipt <- receipt_of(amended <- core("amend")(book,
      tidyselect::all_of(paste0("v", place)), y + 1))
    expect_equal(receipt$turn$evaluated, 51 - place)
    expect_equal(receipt$turn$of, 51)
    expect_equal(amended$v50, data$y + 51 - place)
    expect_identical(core("part_of_book")(amended, "columns")$beside,
      core("part_of_book")(book, "columns")$beside)
    expect_equal(as.data.frame(quietly(undo(amended))), as.data.frame(book))
  }
  receipt <- receipt_of(define(book, v30, label = "Half way"))
  expect_equal(receipt$turn$users, paste0("v", 31:50))
})

test_that("amending gives a turn other arguments and keeps the rest", {
  book <- quietly(turnbook(data) |> define(x, limits = c(1, 5)) |>
    turn_reverse(x, label = "Turned") |>
    turn_recode(y, as = "k", becomes(1, upto(2), label = "few"), the_rest(2)) |>
    turn_bin(y, as = "b", at = 4) |> turn_standardize(y, as = "z") |>
    turn_composite(c(x_r, y), as = "s", at_least = 2) |>
    turn_flag(s > 3, as = "f") |> turn_dummy(k) |> turn_compute(each + 1, each = c(x, y),
      as = "{name}_1") |>
    turn_tally(c(x, y), of = 2, as = "n") |> turn_key(c(x, y), key = c(1, 2)) |>
    turn_interact(x, y) |>
    turn_crosswalk(g, table = data.frame(g = 1:2, v = c(10, 20))) |> turn_group(x, within = g) |>
    turn_collapse(g, rarer_than = 0.5, as = "gc") |> turn_rescale(x, shift = 1))
  q <- function(code) quietly(code)
  expect_equal(q(amend(book, s, at_least = 1))$s, c(3.5, 3, 3.5, 4, 5))
  expect_equal(q(amend(book, s, at_least = 1))$f, c(1, 0, 1, 1, 1))
  expect_equal(q(amend(book, k, becomes(7, 9), the_rest(0)))$k, c(0, 0, 0, 0, 7))
  expect_equal(core("meaning_in")(q(amend(book, x_r, limits = c(0, 5))), "x_r")$label, "Turned")
  expect_equal(q(amend(book, x_r, limits = c(0, 5)))$x_r, c(4, 3, 2, NA, 0))
  expect_equal(q(amend(book, b, at = c(4, 9)))$b, c(1, 1, 2, 2, 3))
  expect_equal(q(amend(book, z, how = "centred"))$z, data$y - mean(data$y))
  expect_equal(q(amend(book, z, within = g))$z[1:2], c(NA_real_, NA))
  expect_equal(q(amend(book, f, s > 100))$f, c(0, 0, 0, NA, 0))
  expect_equal(names(q(amend(book, k_2, reference = 2)))[10], "k_few")
  expect_equal(q(amend(book, x_1, each * 2))$y_1, data$y * 2)
  expect_equal(q(amend(book, n, of = c(2, 4)))$n, c(1, 2, 1, 1, 0))
  expect_equal(q(amend(book, x_k, key = c(2, 2)))$x_k, c(0, 1, 0, NA, 0))
  expect_equal(q(amend(book, x_x_y, centre = TRUE))$x_x_y, (data$x - 2.75) * (data$y - 4.2))
  expect_equal(q(amend(book, v, table = data.frame(g = 1:2, v = 3:4)))$v, c(3, 3, 4, 4, 4))
  expect_equal(q(amend(book, x_mean, how = "size"))$x_mean, c(2, 2, 3, 3, 3))
  expect_equal(q(amend(book, gc, rarer_than = NULL, most_frequent = 2))$gc, data$g)
  expect_equal(q(amend(book, x_0, shift = -1))$x_0, data$x - 1)
  expect_equal(as.data.frame(q(amend(book, s, how = "mean"))), as.data.frame(book))
})

test_that("what would go round in a circle, or lose something, is refused and nothing changes", {
  book <- quietly(turnbook(data) |> turn_compute(x + 1, as = "a") |>
    turn_compute(a + 1, as = "b") |> must_hold(b > 1))
  refused(amend(book, a, b + 1), "cycle")
  refused(amend(book, a, a + 1), "cycle")
  refused(amend(book, x, label = "no"), "not-derived")
  refused(amend(book, a, lable = "x"), "unused-argument")
  refused(amend(book, a, as = "c"), "amend-name")
  refused(drop_turn(book, a), "still-used-drop")
  refused(drop_turn(book, b), "still-checked")
  refused(drop_turn(book, x), "not-derived")
  dropped <- quietly(drop_turn(undo(book), b))
  expect_equal(names(dropped), c(names(data), "a"))
  expect_equal(as.data.frame(quietly(undo(dropped))), as.data.frame(book))
  later <- quietly(turn_compute(book, y * 2, as = "c"))
  moved <- quietly(amend(later, a, c + 1))
  expect_equal(turns(moved)$name, c("c", "a", "b"))
  expect_equal(moved$b, data$y * 2 + 2)
  path <- tempfile()
  save_turns(moved, path)
  expect_equal(as.data.frame(quietly(apply_turns(data, path))), as.data.frame(moved))
})

test_that("any changes can be undone one by one, and replay from their sheet", {
  set.seed(4)
  steps <- list(
    function(b) turn_compute(b, x + y, as = "a", replace = TRUE),
    function(b) turn_standardize(b, a, as = "z", replace = TRUE),
    function(b) amend(b, a, x * y), function(b) define(b, y, missing = c("Refused" = 9)),
    function(b) turn_bin(b, a, as = "k", at = sample(2:6, 1), replace = TRUE),
    function(b) drop_turn(b, z),
    function(b) define(b, x, asked_if = g == 2), function(b) must_hold(b, a > 3),
    function(b) drop_turn(b, k),
    function(b) amend(b, z, how = "centred"), function(b) turn_dummy(b, g, replace = TRUE)
  )
  for (round in 1:12) {
    books <- list(turnbook(data))
    for (step in sample(steps, 14, TRUE)) {
      made <- tryCatch(quietly(step(books[[length(books)]])), ableturn_error = function(e) NULL)
      if (!is.null(made)) books <- c(books, list(made))
    }
    now <- books[[length(books)]]
    path <- tempfile()
    save_turns(now, path)
    expect_equal(as.data.frame(quietly(apply_turns(data, path))), as.data.frame(now))
    if (length(core("derived_names")(now))) expect_equal(run_base_script(now, data),
      as.data.frame(now, missing = "codes"), ignore_attr = TRUE)
    for (before in rev(books)[-1]) {
      now <- quietly(undo(now))
      expect_equal(as.data.frame(now), as.data.frame(before))
      expect_equal(core("sheet_lines")(now), core("sheet_lines")(before))
    }
  }
})

test_that("checks are counted, named, replayed and written into the script", {
  book <- quietly(turnbook(transform(data, id = letters[1:5]), id = id) |>
    must_hold(x <= y, label = "order") |>
    turn_compute(x + 1, as = "a") |> must_hold(a < mean(y)))
  expect_equal(as.data.frame(checks(book))[c("holds", "fails", "open")],
    data.frame(holds = c(4, 3), fails = c(0, 1), open = c(1, 1)), ignore_attr = TRUE)
  expect_equal(attr(checks(book), "rows")[[2]], 5)
  expect_output(print(checks(book)), "fails for id e")
  expect_match(receipts(must_hold(book, x < 5)), "Fails for id e", all = FALSE)
  expect_match(receipts(amend(book, a, x + 3)), "Must hold and does not: a < mean\\(y\\) \\(3",
    all = FALSE)
  lines <- core("script_lines")(book, "base")
  expect_warning(eval(parse(text = lines),
    list2env(list(survey = transform(data, id = letters[1:5])))), "fails in 1 row")
  path <- tempfile()
  save_turns(book, path)
  again <- quietly(apply_turns(transform(data, id = letters[1:5], y = 0), path))
  expect_equal(checks(again)$fails, c(4, 1))
  refused(must_hold(book, x + 1), "flag-no-condition")
})

test_that("two books are compared by variable, row and reason", {
  panel <- transform(data, id = 11:15)
  a <- quietly(turnbook(panel, id = id) |> turn_composite(c(x, y), as = "s") |>
    turn_standardize(s) |>
    turn_compute(y * 2, as = "t"))
  b <- quietly(turnbook(panel[c(5, 3, 1, 2, 4), ], id = id) |>
    turn_composite(c(x, y), as = "s", at_least = 1) |>
    turn_standardize(s) |> turn_compute(y * 2, as = "u"))
  told <- compare_books(a, b)
  expect_equal(told$variable, c("s", "s_z", "t", "u"))
  expect_equal(told$differ, c(1, 5, 0, 0))
  expect_equal(told$why[1], "at_least: not given / 1")
  expect_match(told$why[2], "its source s differs")
  expect_equal(told$why[3:4], c("only in the first", "only in the second"))
  expect_equal(nrow(compare_books(a, a)), 0)
  expect_equal(compare_books(a, quietly(define(a, y, missing = c("Refused" = 9))))$why[1],
    "what counts as missing differs")
  expect_output(print(compare_books(a, a)), "No difference")
  refused(compare_books(data, data[1:2, ]), "compare-rows")
})

test_that("text functions take a date as it is written, in scripts too", {
  book <- quietly(turn_compute(turnbook(data.frame(day = as.Date(c("2031-01-02", NA)))),
    paste0(toupper(day), "/", nchar(day), "/", substr(day, 1, 4)), as = "told"))
  expect_equal(book$told, c("2031-01-02/10/2031", NA))
  expect_proved(book)
})

test_that("what a turn has to say is a finding only where something looks wrong", {
  data <- data.frame(person = rep(1:3, each = 2), wave = rep(c("start", "end"), 3),
    x = c(1, 2, 2, 4, 3, 3))
  book <- quietly(define(turnbook(data), wave, codes = c(Start = "start", End = "end"),
    level = "ordinal") |>
    turn_change(x, unit = person, order = wave))
  expect_false("group-boundary" %in% findings(book)$id)
  late <- rbind(data, data.frame(person = c(4, 4), wave = c("start", "late"), x = c(1, 9)))
  book <- quietly(define(turnbook(late), wave, codes = c(Start = "start", End = "end",
    Late = "late")) |>
    turn_change(x, unit = person, order = wave))
  told <- findings(book)
  expect_match(told$what[told$id == "group-boundary"], "an earlier one was used: 1 row")
  expect_error(turn_change(book, nothing, unit = person, order = wave),
    class = "ableturn_error_unknown_variable")
  expect_equal(conditionCall(tryCatch(turn_change(book, nothing, unit = person, order = wave),
    error = identity)), quote(turn_change()))
})

test_that("what is made from a dummy follows its level to another name, never to another level", {
  codes <- function(...) core("turn_recode")(turnbook(data.frame(g = c(1, 2, 3))), g, as = "k", ...)
  book <- quietly(codes(becomes(1, 1, label = "low"), becomes(2, 2, label = "mid"),
    becomes(3, 3, label = "high")) |> turn_dummy(k) |> turn_compute(k_high * 10, as = "tens"))
  called <- function(last) {
    amend(book, k, becomes(1, 1, label = "low"), becomes(2, 2, label = "mid"), last)
  }
  told <- receipt_of(same <- called(becomes(3, 3, label = "top")))
  expect_equal(told$turn$followed, c(k_high = "k_top"))
  expect_equal(as.data.frame(same)[c("k_top", "tens")], data.frame(k_top = c(0, 0, 1),
    tens = c(0, 0, 10)), ignore_attr = TRUE)
  expect_null(core("info_of")(same)$followed)
  refused(called(becomes(3, 4, label = "other")), "still-used")
  other <- receipt_of(amend(core("drop_turn")(book, tens), k_mid, reference = 3))
  expect_equal(other$turn$gone, "k_high")
  expect_null(other$turn$followed)
})
