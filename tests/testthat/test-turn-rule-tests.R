# Rules on what texts hold: each case gives the rows (positions in `texts`) that the matcher must
# catch.
texts <- c("by bus", "Bus", "coach", "a.b", "caf\u00e9 bus", "CAFE\u0301", "", NA, "axb", " bus ")
labelled <- define(turnbook(data.frame(k = c(1:3, NA))), k,
  codes = c("Red bus" = 1, "Blue bus" = 2, "Rail" = 3))
cases <- list(
  list(holding("bus"), c(1, 5, 10), loose = c(1, 2, 5, 10)),
  list(holding("bus", "coach"), c(1, 3, 5, 10), loose = c(1, 2, 3, 5, 10)),
  list(holding("a.b"), 4, loose = 4),
  list(holding(regex = "a.b"), c(4, 9), loose = c(4, 9)),
  list(holding(regex = "^bus|^c"), c(3, 5), loose = c(2, 3, 5, 6, 10)),
  list(holding(regex = c("^B", "h$")), c(2, 3), loose = c(1, 2, 3, 10)),
  list(holding("caf\u00e9"), 5, loose = c(5, 6)),
  list(holding("CAF\u00c9"), 6, loose = c(5, 6)),
  list(holding("zeppelin"), integer(), loose = integer())
)

test_that("rules catch the texts that hold a piece or fit a pattern, by every way", {
  data <- data.frame(t = texts)
  book <- turnbook(data)
  for (i in seq_along(cases)) for (loose in c(FALSE, TRUE)) {
    name <- paste0("y", i, if (loose) "l")
    book <- quietly(turn_recode(book, t, as = name, becomes(1, cases[[i]][[1]]), the_rest(0),
      loose = loose))
    hit <- cases[[i]][[if (loose) "loose" else 2]]
    expect_equal(book[[name]], replace(replace(rep(0L, 10), hit, 1L), 7:8, NA), info = name)
  }
  expect_equal(run_base_script(book, data)[names(as.data.frame(book))], as.data.frame(book),
    ignore_attr = TRUE)
  sheet <- tempfile(fileext = ".yaml")
  save_turns(book, sheet)
  expect_identical(as.data.frame(quietly(apply_turns(data, sheet))), as.data.frame(book))
  expect_proved(book)
})

test_that("labels are looked at where there are any; pieces stand beside values", {
  made <- quietly(labelled |>
    turn_recode(k, as = "a", becomes(1, holding("bus"), label = "Bus"), the_rest(unchanged()),
      accept = "code-merge") |>
    turn_recode(k, as = "b", becomes(1, holding("BUS"), 3), the_rest(0), loose = TRUE) |>
    turn_collapse(k, as = "c", becomes("Bus", holding(regex = "bus$"))) |>
    turn_recode(as = "d", becomes(1, k = holding("Blue")), the_rest(0)) |>
    turn_tally(k, of = holding("bus"), as = "e"))
  expect_equal(lapply(as.data.frame(made)[letters[1:5]], as.numeric),
    list(a = c(1, 1, 3, NA), b = c(1, 1, 1, NA), c = c(1, 1, 3, NA), d = c(0, 1, 0, NA),
      e = c(1, 1, 0, NA)))
  table <- data.frame(code = 1:2, when = c("{holding: [bus, coach]}",
    "{holding: {regex: \"^a.b$\"}}"))
  book <- quietly(turn_recode(data.frame(t = texts), t, as = "y", rules = table))
  expect_equal(book$y, c(1, NA, 1, 2, 1, NA, NA, NA, 2, 1))
  expect_output(print(becomes(1, holding("a", "b"), "x")),
    "text with \"a\" or \"b\", \"x\" becomes 1", fixed = TRUE)
  expect_true("near-miss" %in% findings(quietly(turn_recode(data.frame(t = texts), t, as = "y",
    becomes(1, holding("coach", "bus")), the_rest(0))))$id)
})

test_that("what holding() cannot take is said", {
  refused(holding(), "bad-holding")
  refused(holding(3), "bad-holding")
  refused(holding(""), "bad-holding")
  refused(holding(word = "a"), "bad-holding")
  refused(holding("a", regex = "b"), "holding-both")
  refused(holding(regex = "("), "broken-pattern")
  refused(define(labelled, k, missing = c("Odd" = holding("a"))), "holding-kind")
  refused(turn_recode(labelled, k, as = "y", becomes(1, holding("zeppelin"))), "holding-no-label")
  refused(turn_recode(data.frame(n = 1:3), n, as = "y", becomes(1, holding("1"))),
    "holding-numbers")
  slow <- data.frame(t = paste0(strrep("a", 5000), "!"))
  refused(turn_recode(slow, t, as = "y", loose = TRUE, becomes(1, holding(regex = "^(a+)+$"))),
    "pattern-gives-up")
})
