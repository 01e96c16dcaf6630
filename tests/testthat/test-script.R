test_that("every script of the demo work is proved in a fresh process", {
  proof <- prove(demo_work())
  expect_true(attr(proof, "proved"))
  expect_equal(unique(proof$dialect), core("run_dialects")())
  expect_equal(proof$same, rep(1200L, 6 * length(core("run_dialects")())))
  expect_output(print(proof), "base script: 6 of 6 variables the same in all 1,200 rows")
})

test_that("a data frame is proved too, whatever its columns are", {
  data <- data.frame(
    f = factor(c("lo", "hi", NA)), t = c("1", "x",
      ""), d = as.Date("2031-01-01") + 0:2, l = c(TRUE, FALSE, NA),
    big = c(1e300, Inf, -2), survey = 1:3, clean = 3:1, items = c(2, NA, 2), n_valid = 1:3
  )
  book <- quietly(turnbook(data) |>
    turn_recode(f, as = "y", becomes("low", "lo"), the_rest("high")) |>
    turn_compute(t + 1, as = "t1") |> turn_recode(l, as = "yes", becomes(1, TRUE), the_rest(0)) |>
    turn_compute(big * 1e10, as = "huge") |> turn_compute(1 / exp(survey - clean), as = "odds") |>
    turn_composite(c(items, n_valid, survey), as = "m", at_least = 2) |>
    turn_compute(gsub("h", "H", y), as = "text"))
  proof <- prove(book)
  expect_true(attr(proof, "proved"), info = paste(capture.output(print(proof)), collapse = "\n"))
  expect_equal(book$huge, c(NA, NA, -2e10))
})

test_that("a script that gives other columns is no proof", {
  ours <- c(1, 2, NA, 4)
  differ <- core("rows_that_differ")
  expect_equal(differ(ours, c(1, 2 + 1e-13, NA, 4)), integer())
  expect_equal(differ(ours, c(1, 2 + 1e-9, 3, NA)), 2:4)
  expect_equal(differ(1:3, c(1, 2, 3.0000000001)), 3)
  expect_equal(differ(c("a", NA), c("a", "b")), 2)
  path <- temporary(c("x", "1", "2"))
  book <- quietly(turn_compute(turnbook(path), x + 1, as = "y"))
  writeLines(c("x", "1", "3"), path)
  refused(prove(book), "data-changed")
})

test_that("the base script reads as a colleague would write it", {
  lines <- core("script_lines")(demo_work(), "base")
  lines <- gsub("\"/.*ferry-survey", "\"ferry-survey", lines)
  expect_snapshot(cat(lines, sep = "\n"))
  expect_false(any(grepl("ableturn|library", lines)))
  refused(write_script(demo_work(), tempfile(), dialect = "other"), "bad-dialect")
  refused(write_script(open_demo(), tempfile()), "no-turns")
})

test_that("long lists of rules become a table of codes, and deep ones stay within R's limits", {
  data <- data.frame(x = c(1:120, NA))
  many <- lapply(1:100, function(i) becomes(i %% 7, i))
  deep <- lapply(1:100, function(i) becomes(i %% 7, from(i, under = i + 1)))
  book <- quietly(data |> turn_recode(x, as = "flat", !!!many) |>
    turn_recode(x, as = "deep", !!!deep, the_rest(50)))
  given <- run_base_script(book, data)
  expect_equal(given$flat, book$flat)
  expect_equal(given$deep, book$deep)
  expect_true(any(grepl("match(x, old)", core("script_lines")(book, "base"), fixed = TRUE)))
})

# Files as they come: each worked by five turns, each proved in a fresh process.
files <- list(
  "no rows" = "a,b,t", "one row" = c("a,b,t", "1,2,\u00c9"),
  "only missing numbers" = c("a,b,t", ",2,x",
    ",4,y"),
  "only missing text" = c("a,b,t", "1,2,", "3,4,"), "NA marks" = c("a,b,t", "1,NA,NA", "NA,4,y"),
  "quotes" = c("a,b,t", "1,2,\"say \"\"hi\"\"\"", "3,4,\"two", "lines\"", "5,6,back\\slash"),
  "numbers among words" = c("a;b;t", "1;two;#x", " 5;6 ;a'b"),
  "names" = c("a\tb\tt\tgr\u00f6\u00dfe\tif",
    "1\t2\tx, y\t3\t4"),
  "a blank line" = c("a,b,t", "1,2,x", "", "3,0,y"), "far numbers" = c("a,b,t", "1,20000000000,x",
    "3,1e-300,y")
)
latin <- temporary(c(charToRaw("a;b;t\n1;2;Caf\xe9\n3;0;\xe9\n")))
marked <- temporary(c(as.raw(c(0xef, 0xbb, 0xbf)), charToRaw("a,b,t\r\n1,2,x\r\n3,4,y\r\n")))

test_that("the scripts read the file as the turnbook does, whatever it looks like", {
  paths <- c(lapply(files, temporary), list("Latin-1" = latin, "byte-order mark" = marked))
  for (name in names(paths)) {
    book <- quietly(turnbook(paths[[name]]) |> turn_recode(a, as = "r", becomes(1, from(1)),
      the_rest(0)) |>
      turn_reverse(a, limits = c(0, 9)) |> turn_composite(c(a, b), as = "m", at_least = 1) |>
      turn_compute(a / b, as = "q") |>
      turn_recode(t, as = "e", loose = TRUE, becomes("cafe", "\u00e9", "caf\u00e9"),
        the_rest(unchanged())))
    expect_true(attr(prove(book, "base"), "proved"), info = name)
    expect_true(is.character(receipts(turn_composite(book, c(a, b), as = "again", at_least = 1))))
  }
  single <- quietly(turn_compute(turnbook(temporary(c("a", "1", "", "3"))), a + 1, as = "x"))
  expect_equal(single$x, c(2, NA, 4))
  expect_proved(single)
  error <- refused(turnbook(temporary(c("a,b", "1,\"x", "3,y"))), "open-quote")
  expect_match(conditionMessage(error), "line 2")
  expect_equal(turnbook(temporary(c("a,b", "1,5\"", "3,y")))$b, c("5\"", "y"))
})

test_that("texts that are worked out from texts get lines of their own, however deep", {
  data <- data.frame(t = c(" Bus 1", "coach", NA, "TRAIN x"), n = 1:4)
  deep <- "t"
  for (i in 1:12) deep <- paste0("gsub(\"x\", \"y\", trimws(toupper(", deep, ")))")
  book <- quietly(turnbook(data) |> turn_compute(!!parse(text = deep)[[1]], as = "deep") |>
    turn_compute(if (nchar(trimws(t)) > 5) substr(toupper(trimws(t)), 1,
      2) else paste0(tolower(trimws(t)), n), as = "w"))
  lines <- core("script_lines")(book, "base")
  expect_lte(max(nchar(lines[!startsWith(lines, "#")])), 120)
  expect_equal(as.list(run_base_script(book, data)[c("deep", "w")]),
    list(deep = c("BUS 1", "COACH", NA, "TRAIN X"), w = c("bus 11", "coach2", NA, "TR")))
  expect_equal(book$w, c("bus 11", "coach2", NA, "TR"))
})
