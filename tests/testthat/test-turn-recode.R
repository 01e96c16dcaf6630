# Each case: a column, rules, the codes they must give, and why the others are missing.
x <- c(0, 1, 4, 5, 12, 98, 99, NA, 2.5)
declared <- c("Don't know" = 98, "Refused" = 99)
cases <- list(
  "ranges leave declared codes out" = list(
    rules = list(becomes(0, 0), becomes(1, from(1, upto = 4)), becomes(2, from(5))),
    gives = c(0, 1, 1, 2, 2, NA, NA, NA, 1), why = c("Don't know", "Refused", "blank")
  ),
  "open and closed ends" = list(
    rules = list(becomes(1, over(1, under = 5)), becomes(2, under(1)), becomes(3, over(5)),
      the_rest(4)),
    gives = c(2, 4, 1, 4, 3, NA, NA, NA, 1), why = c("Don't know", "Refused", "blank")
  ),
  "the first rule wins" = list(
    rules = list(becomes(1, upto(4)), becomes(2, from(4))),
    gives = c(1, 1, 1, 2, 2, NA, NA, NA, 1), why = c("Don't know", "Refused", "blank")
  ),
  "what no rule catches is unmatched" = list(
    rules = list(becomes(1, c(0, 1)), becomes(2, 12)),
    gives = c(1, 1, NA, NA, 2, NA, NA, NA, NA),
    why = c("unmatched", "unmatched", "Don't know", "Refused", "blank", "unmatched")
  ),
  "missing answers by their reason, wherever the rule stands" = list(
    rules = list(becomes(1, from(0)), becomes(8, unanswered("Refused")), becomes(9, unanswered())),
    gives = c(1, 1, 1, 1, 1, 9, 8, 9, 1), why = character()
  ),
  "one reason asked for, the others carried" = list(
    rules = list(becomes(8, unanswered("Refused")), the_rest(1)),
    gives = c(1, 1, 1, 1, 1, NA, 8, NA, 1), why = c("Don't know", "blank")
  ),
  "a rule may make answers missing" = list(
    rules = list(becomes(NA, 12, label = "Never there"), the_rest(unchanged())),
    gives = c(0, 1, 4, 5, NA, NA, NA, NA, 2.5), why = c("Never there", "Don't know", "Refused",
      "blank")
  ),
  "text codes" = list(
    rules = list(becomes("low", upto(4)), the_rest("high")),
    gives = c("low", "low", "low", "high", "high", NA, NA, NA, "low"), why = c("Don't know",
      "Refused", "blank")
  )
)

test_that("rules over one variable give what they say, in memory, as base R and by sheet", {
  data <- data.frame(x = x)
  for (name in names(cases)) {
    case <- cases[[name]]
    book <- quietly(turnbook(data) |> define(x, missing = declared) |>
      turn_recode(x, as = "y", !!!case$rules))
    expect_equal(book$y, case$gives, info = name)
    expect_equal(why(book, "y"), case$why, info = name)
    expect_equal(run_base_script(book, data)$y, case$gives, info = name)
    sheet <- tempfile()
    save_turns(book, sheet)
    expect_identical(quietly(apply_turns(data, sheet))$y, book$y, info = name)
  }
})

test_that("plain drops the reasons, and several sources have none", {
  data <- data.frame(x = x, g = c(1, 1, 2, 2, NA, 1, 2, 1, 3))
  book <- quietly(turnbook(data) |> define(x, missing = declared))
  plain <- quietly(turn_recode(book, x, as = "y", missing = "plain", the_rest(1)))
  expect_setequal(why(plain, "y"), "a source is missing")
  both <- quietly(turn_recode(book, as = "y", becomes(1, g = 1, x = from(1)), becomes(2, g = 2),
    the_rest(5)))
  expect_equal(both$y, c(5, 1, 2, 2, NA, NA, 2, NA, 5))
  expect_setequal(why(both, "y"), "a source is missing")
  expect_equal(run_base_script(both, data)$y, both$y)
})

test_that("the rest decides a row that is certain, and named missing rows are certain", {
  data <- data.frame(g = c(1, 1, 3, NA), a = c(30, NA, NA, 30))
  book <- quietly(turn_recode(data, as = "y", becomes(1, g = 1, a = under(40)),
    becomes(2, g = unanswered()), the_rest(5)))
  expect_equal(book$y, c(1, NA, 5, 2))
})

test_that("text matches by its characters, loosely when asked, and by label", {
  composed <- "caf\u00e9"
  parted <- "cafe\u0301"
  data <- data.frame(t = c("F", "female ", "FEMALE", composed, parted, "Cafe", "x", "", NA))
  strict <- quietly(turn_recode(data, t, as = "y", becomes(1, "F"), becomes(2, composed),
    the_rest(0)))
  expect_equal(strict$y, c(1, 0, 0, 2, 2, 0, 0, NA, NA))
  loose <- quietly(turn_recode(data, t, as = "y", loose = TRUE, becomes(1, "f", "female"),
    becomes(2, "CAFE"), the_rest(0)))
  expect_equal(loose$y, c(1, 1, 1, 2, 2, 2, 0, NA, NA))
  expect_equal(run_base_script(loose, data)$y, loose$y)
  labelled <- quietly(turnbook(data.frame(i = c(1, 2, 3, NA))) |>
    define(i, codes = c("North" = 1, "South" = 2, "East" = 3)))
  by_label <- quietly(turn_recode(labelled, i, as = "y", becomes(1, "North", "South"), the_rest(0)))
  expect_equal(by_label$y, c(1, 1, 0, NA))
  expect_equal(quietly(turn_recode(labelled, i, as = "y", loose = TRUE, becomes(1, " north"),
    the_rest(0)))$y, c(1, 0, 0, NA))
  refused(turn_recode(labelled, i, as = "y", becomes(1, "Nort")), "no-such-label")
})

test_that("factors are read by their labels, and numbers kept as text as numbers", {
  data <- data.frame(f = factor(c("5", "1", "3"), levels = c("5", "3", "1")),
    t = c("10", " 2 ", "ten"))
  book <- quietly(data |> turn_recode(f, as = "y", becomes(1, from(3)), the_rest(0)) |>
    turn_recode(t, as = "z", becomes(1, from(5)), the_rest(0)) |> turn_reverse(f, limits = c(1, 5)))
  expect_equal(book$y, c(1, 0, 1))
  expect_equal(book$z, c(1, 0, NA))
  expect_equal(why(book, "z"), "unreadable")
  expect_equal(book$f_r, c(1, 5, 3))
  given <- run_base_script(book, data)
  expect_equal(list(given$y, given$z, given$f_r), list(book$y, book$z, book$f_r))
})

test_that("one set of rules goes over many variables, also from a table or a file", {
  data <- data.frame(a = 1:3, b = 3:1)
  table <- data.frame(code = c(0, 1, 2), when = c("[1, 7]", "2 ..", ""),
    label = c("low", "high", "none"), rest = c(FALSE, FALSE, TRUE))
  book <- quietly(turn_recode(data, a:b, as = "{name}_new", rules = table))
  expect_equal(list(book$a_new, book$b_new), list(c(0L, 1L, 1L), c(1L, 1L, 0L)))
  expect_equal(names(quietly(turn_recode(data, a, rules = table))), c("a", "b", "a_recoded"))
  demo <- quietly(turn_recode(open_demo(), crossings, as = "r",
    rules = demo_file("rider-rules.csv")))
  expect_equal(demo$r[demo$crossings %in% 0:20],
    findInterval(demo$crossings[demo$crossings %in% 0:20], c(1, 5)))
  across <- data.frame(code = 1:2, a = c("1", ".. 2"), b = c("3 ..", "{missing: any}"))
  expect_equal(quietly(turn_recode(data, as = "y", rules = across))$y, c(1, NA, NA))
})

test_that("rules that cannot be meant are refused, and nothing is made", {
  book <- quietly(turnbook(data.frame(x = 1:3, y = 1:3)))
  refused(becomes(1), "rule-empty")
  refused(becomes(1, 2, x = 3), "rule-mixed")
  refused(becomes(NA, 3), "kind-unlabelled")
  refused(becomes(c(1, 2), 3), "bad-code")
  refused(from(36, upto = 35), "backward-range")
  refused(over(5, upto = 5), "backward-range")
  refused(from(1, upto = 2, under = 3), "two-ends")
  refused(turn_recode(book, x, as = "z"), "no-rules")
  refused(turn_recode(book, as = "z", becomes(1, 2)), "no-source")
  refused(turn_recode(book, x, as = "z", becomes(1, y = 2)), "source-and-where")
  refused(turn_recode(book, as = "z", becomes(1, w = 2)), "unknown-variable")
  refused(turn_recode(book, x, as = "z", the_rest(1), the_rest(2)), "rest-twice")
  refused(turn_recode(book, x, as = "z", becomes(1, 1), becomes("b", 2)), "codes-mixed")
  refused(turn_recode(book, x, as = "z", becomes(1, 1, label = "a"), becomes(1, 2, label = "b")),
    "labels-differ")
  refused(turn_recode(book, x, as = "y", the_rest(1)), "name-original")
  refused(turn_recode(book, x, as = "z", becomes(1, unanswered("Refusd"))), "unknown-kind")
  refused(turn_recode(book, x, as = "z", weight = 2, the_rest(1)), "named-dots")
  expect_equal(names(book), c("x", "y"))
})

test_that("a result is born with its meaning", {
  book <- demo_work()
  meaning <- core("meaning_in")(book, "rider3")
  expect_equal(meaning$codes, c("Non-rider" = 0L, "Occasional" = 1L, "Regular" = 2L))
  expect_equal(meaning[c("label", "level")],
    list(label = "Crossings last week, recoded", level = "ordinal"), ignore_attr = TRUE)
  kept <- quietly(turn_recode(book, island, as = "i3", becomes(9, 4, 5, label = "Outer"),
    the_rest(unchanged())))
  expect_equal(core("meaning_in")(kept, "i3")$codes,
    c("Northholm" = 1, "Eastray" = 2, "Sallow" = 3, "Merrin" = 4, "Tarn Skerry" = 5,
      "Outer" = 9)[-(4:5)])
})
