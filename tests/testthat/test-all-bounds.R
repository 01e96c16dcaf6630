# Odd input is either made right, in memory, by sheet and by script, or refused in words and in
# bounded time.
skip_on_cran() # long; make test runs it

by_every_way <- function(book, data, name = "r") {
  sheet <- tempfile()
  save_turns(book, sheet)
  again <- quietly(apply_turns(data, sheet))
  expect_identical(again[[name]], book[[name]])
  expect_identical(why(again, name), why(book, name))
  given <- run_base_script(book, data)
  expect_equal(core("rows_that_differ")(book[[name]], given[[name]]), integer())
  lines <- core("script_lines")(book, "ableturn")
  room <- new.env(parent = globalenv())
  assign(core("info_of")(book)$name, data, room)
  quietly(eval(parse(text = lines), room))
  expect_equal(core("rows_that_differ")(book[[name]], get(core("info_of")(book)$name,
    room)[[name]]), integer())
  book[[name]]
}

test_that("an open end is an open end, and two conditions on one variable both hold", {
  data <- data.frame(x = c(1, Inf, -Inf, NA, 70), t = c("1", "x", NA, "", "-2"))
  made <- function(...) by_every_way(quietly(turn_recode(data, ..., as = "r")), data)
  expect_equal(made(x, becomes(1, from(-Inf, upto = Inf))), c(1, 1, 1, NA, 1))
  expect_equal(made(t, becomes(1, over(-Inf)), the_rest(0)), c(1, NA, NA, NA, 1))
  expect_equal(made(x, becomes(1, from(-Inf, upto = 5)), the_rest(0)), c(1, 0, 1, NA, 0))
  expect_equal(made(becomes(1, x = over(18), x = under(65)), the_rest(0)), c(0, 0, 0, NA, 0))
  expect_equal(made(becomes(1, x = from(1), x = under(65), t = "1"), the_rest(0))[1], 1)
  for (end in list(quote(from(Inf)), quote(upto(-Inf)), quote(from(1.9e308)))) {
    refused(eval(end), "endless-end")
  }
  sheet <- tempfile()
  writeLines(c("able_turn: 1", "turns:", "  - recode: r", "    from: x",
    "    rules: [{code: 1, when: \"-1e999 .. 1e999\"}]"), sheet)
  expect_equal(quietly(apply_turns(data, sheet))$r, c(1, 1, 1, NA, 1))
  gone <- quietly(define(turnbook(data.frame(t = c("5", "90", "x", "1"))), t,
    missing = list(Away = from(50))) |>
    turn_compute(t * 2, as = "r"))
  expect_equal(by_every_way(gone, data.frame(t = c("5", "90", "x", "1"))), c(10, NA, NA, 2))
  wide <- data.frame(x = c(-1.7e308, 0, 1.7e308))
  expect_equal(by_every_way(quietly(turn_bin(wide, x, groups = 3, by = "width", as = "r")), wide),
    1:3)
})

test_that("a label of several codes means all of them", {
  data <- data.frame(q = c(1, 2, 3, 3, NA))
  book <- quietly(define(turnbook(data), q, codes = c(One = 1, Other = 2, Other = 3)))
  made <- function(turn) by_every_way(quietly(turn), data)
  expect_equal(made(turn_recode(book, q, as = "r", becomes(9, "Other"), the_rest(0))),
    c(0, 9, 9, 9, NA))
  expect_equal(made(turn_flag(book, q == "Other", as = "r")), c(0, 1, 1, 1, NA))
  expect_equal(made(turn_flag(book, q != "Other", as = "r")), c(1, 0, 0, 0, NA))
  table <- data.frame(label = c("One", "Other"), v = c(10, 20))
  expect_equal(made(turn_crosswalk(book, q, table = table, as = "r")), c(10, 20, 20, 20, NA))
  refused(turn_dummy(book, q, reference = "Other"), "label-several")
})

test_that("a pattern that gives up leaves the text missing; case changes alike in all locales", {
  data <- data.frame(t = c(strrep("a", 30), paste0(strrep("a", 30), "!"), "b", NA))
  flag <- quietly(turn_flag(data, grepl("^(a+)+$", t, regex = TRUE), as = "r"))
  expect_equal(by_every_way(flag, data), c(1, NA, 0, NA))
  texts <- quietly(turn_compute(data, gsub("^(a+)+$", "x", t, regex = TRUE), as = "r"))
  expect_equal(by_every_way(texts, data), c("x", NA, "b", NA))
  letters <- data.frame(t = c("I\u0130\u0131i", "stra\u00dfe \u00e9\u00c9",
    "\u03a3\u03c3\u03c2", NA))
  expect_equal(by_every_way(quietly(turn_compute(letters, tolower(t), as = "r")), letters)[1:2],
    c("ii\u0131i", "stra\u00dfe \u00e9\u00e9"))
  expect_equal(by_every_way(quietly(turn_compute(letters, toupper(t), as = "r")), letters)[1:2],
    c("I\u0130II", "STRA\u00dfE \u00c9\u00c9"))
})

test_that("what the scripts call their own names may be a variable's", {
  data <- data.frame(clean = 1:3, survey = 3:1, holds = 1:3, old = c(1, 2, 9), c = 1:3, i = 2:4)
  book <- quietly(define(turnbook(data), old, missing = c(gone = 9)) |>
    turn_flag(unanswered(old, "gone") | clean > 2, as = "r") |>
    must_hold(holds > 0))
  expect_equal(by_every_way(book, data), c(0, 0, 1))
  clean <- data
  book <- quietly(turn_compute(clean, survey + 1, as = "r"))
  expect_equal(by_every_way(book, data), c(4, 3, 2))
})

sums <- function(n) paste(rep("x", n), collapse = " + ")
chains <- function(n) paste0(paste0("if (x == ", seq_len(n), ") 1 else ", collapse = ""), "0")

test_that("long formulas are made, or refused at a stated length, before anything walks them", {
  data <- data.frame(x = c(1, 2, 50))
  compute <- function(text) {
    core("make_turn")(data, core("new_turn")("compute", "r", formula = text))
  }
  for (text in c(sums(99), chains(98), paste(rep("(x > 0)", 98), collapse = " | "),
    paste(rep("x", 98), collapse = " * "))) {
    by_every_way(quietly(compute(text)), data)
  }
  for (text in c(sums(110), sums(5000), chains(200), paste(rep("x == 1", 500), collapse = " | "),
    strrep("!", 200) |>
      paste0("(x > 1)"))) {
    refused(compute(text), "formula-deep")
  }
  refused(compute("row_sum(x, NULL, x)"), "bad-constant")
  refused(compute("grepl(\"(\", x, regex = TRUE)"), "pattern-broken")
  refused(compute("sub(x, \"a\", x)"), "pattern-stated")
  double <- paste0("{ ", paste0("t", 2:40, " <- paste0(t", 1:39, ", t", 1:39, ")", collapse = "; "),
    "; nchar(t40) }")
  refused(compute(sub("t1, t1", "x, x", double)), "text-long")
  refused(compute(paste0(strrep("gsub(\"1\", \"1111111111\", ", 8), "x", strrep(")", 8))),
    "text-long")
  expect_lt(system.time(quietly(compute(paste0("if (x %in% c(", paste(1:16000, collapse = ", "),
    ")) 1 else 0"))))[[3]], 20)
  refused(turn_bin(data, x, groups = 1e9), "bad-groups")
  refused(turn_dummy(data.frame(x = paste("level", 1:100)), x, coding = "polynomial"),
    "many-levels")
  refused(turn_recode(data, x, rules = data.frame(code = 1:1001, when = 1:1001), as = "r"),
    "rules-many")
  dates <- data.frame(d = as.Date("2031-01-01") + 0:5)
  refused(turn_collapse(dates, d, rarer_than = 0.5), "merge-date")
  refused(turn_recode(dates, d, becomes(1, "2031-01-02"), the_rest(unchanged())),
    "unchanged-date")
})

sheet_of <- function(...) temporary(c("able_turn: 1", ...), ".yaml")

test_that("a sheet that is a bomb, two sheets, or too long a key is read or refused in words", {
  data <- data.frame(x = 1:3)
  read <- function(...) apply_turns(data, sheet_of(...))
  marked <- quietly(read("define: {x: {label: &a \"b\", note: *a}}", "turns: []"))
  expect_equal(unlist(codebook(marked)[c("label", "note")], use.names = FALSE), c("&a \"b\"", "*a"))
  refused(read("turns: []", "---", "able_turn: 1"), "sheet-two")
  refused(read("turns: []", "..."), "sheet-two")
  expect_s3_class(quietly(apply_turns(data, temporary(c("---", "able_turn: 1", "turns: []"),
    ".yaml"))), "turnbook")
  refused(read(paste0("turns: [", paste(rep("{compute: y}", 10), collapse = ", "), "]")),
    "sheet-at")
  refused(read("data: 5", "turns: []"), "sheet-at")
  refused(read("define: {x: {codes: [1, 2]}}", "turns: []"), "sheet-at")
  refused(read("turns:", "  - recode: r", "    rules: [{code: 1, where: 5}]"), "sheet-at")
  long <- strrep("a long name ", 120)
  names(data) <- long
  rule <- becomes(1, do.call(when, setNames(list(1), long)))
  book <- quietly(define(turnbook(data), tidyselect::all_of(long), codes = setNames(1, long),
    missing = setNames(3, long)) |>
    turn_recode(as = "r", rule, the_rest(2)))
  expect_equal(by_every_way(book, data), c(1, 2, NA))
  small <- data.frame(x = c(5e-324, 2.2e-308, 0.1 + 0.2, 1e22, -0))
  book <- quietly(turn_recode(small, x, as = "r", becomes(1, 5e-324), becomes(2, 0.1 + 0.2),
    the_rest(0)))
  expect_equal(by_every_way(book, small), c(1, 0, 2, 0, 0))
})

test_that("a typo is found in a long sheet", {
  lines <- c("able_turn: 1", "turns:", rbind(paste0("  - compute: y", 1:1500),
    "    formula: \"x + 1\""), "  - compute: z",
  "    formla: \"x\"")
  took <- system.time(told <- tryCatch(apply_turns(data.frame(x = 1), temporary(lines, ".yaml")),
    error = identity))[[3]]
  expect_match(conditionMessage(told), "line 3004, turns\\[1501\\]\\.formla: unknown key")
  expect_lt(took, 20)
})

codebooks <- c("[]", "1", "null", "\"http://x\"", "{\"fields\": 1}", "{\"fields\": [1]}",
  "{\"fields\": [{\"name\": 1}]}",
  "{\"fields\": [{\"name\": [\"x\", \"y\"]}]}", "{\"fields\": [null]}",
  "{\"fields\": {\"name\": \"x\"}}",
  "{\"resources\": 5}",
  "{\"resources\": [5]}", "{\"resources\": [{\"schema\": 5}]}",
  "{\"fields\": [{\"name\": \"x\"}, {\"name\": \"x\"}]}",
  paste0("{\"fields\": [{\"name\": \"x\", ", c("\"title\": 5",
    "\"categories\": [{\"label\": \"a\"}]", "\"categories\": [[1, 2]]",
    "\"categories\": [{\"value\": {\"a\": 1}, \"label\": \"a\"}]",
    "\"categories\": [{\"value\": 1, \"label\": [\"a\", \"b\"]}]",
    "\"missingValues\": [[1]]", "\"missingValues\": [{\"value\": null, \"label\": \"a\"}]",
    "\"missingValues\": [{\"value\": [9, 8]}]",
    "\"level\": 5", "\"high\": {\"a\": 1}", "\"askedIf\": \"y >\"", "\"askedIf\": 5",
    "\"askedIf\": \"x > 1\"",
    "\"askedIf\": \"z > 1\"",
    "\"askedIf\": \"mean(y) > 1\""), "}]}"), strrep("[", 100000),
  paste("{\"fields\": [{\"name\": \"x\", \"askedIf\": \"y == 1\"}, {\"name\": \"y\",",
    "\"askedIf\": \"x == 1\"}]}"))

test_that("a codebook of any form is read or refused in words", {
  for (text in codebooks) {
    told <- tryCatch(turnbook(data.frame(x = 1:3, y = 1:3), codebook = temporary(text, ".json")),
      error = identity)
    expect_s3_class(told, "ableturn_error")
  }
})

test_that("tables are read alike by both ways, and what is broken is told with its line", {
  broken <- list("a,b\n1,2,3\n" = c("ragged", 2), "a,b\n1,2\n\n3\n" = c("ragged", 4),
    "a\n\"x\n1\n" = c("open-quote", 2),
    "a\n\"x\"y\n" = c("after-quote", 2), "a,b\n1,\"x\n2,y\n3,\"z\n" = c("after-quote", 4))
  for (text in names(broken)) {
    path <- tempfile()
    cat(text, file = path)
    told <- tryCatch(read_data(path), error = identity)
    expect_s3_class(told, paste0("ableturn_error_", gsub("-", "_", broken[[text]][1])))
    expect_match(conditionMessage(told), paste0("line ", broken[[text]][2]))
  }
  set.seed(41)
  read <- 0
  for (round in sampled(1:300)) {
    odd <- c("\"l\nm\"", "12\"", "\"a\"\"b\"", "\"", "x\ty", " y", "z ", ",", "\"p\" ")
    fields <- sample(c("1", "22", "a b", "", "\"q\"", "\"x,y\"", "'", "#", ";", "NA",
      if (round %% 2) odd), 12, TRUE)
    path <- tempfile()
    cat("id,b", paste(fields[1:6], fields[7:12], sep = ","), sep = "\n", file = path)
    ours <- tryCatch(fields_of(path), ableturn_error = function(e) NULL)
    if (is.null(ours) || !requireNamespace("readr", quietly = TRUE)) next
    read <- read + 1
    expect_identical(ours, fields_by_readr(path), info = readChar(path, 200))
  }
  expect_gt(read, length(sampled(1:300)) / 6)
  for (text in c("id,a\n1,12\"\n2,b\n", "id,a\r\n1,\"x\r\ny\"\r\n2,z\r\n",
    "id;a\n1;\"x\"\"y\"\n2;z\n", "\ufeffid,a\n1,b\n2,c\n")) {
    path <- tempfile(fileext = ".csv")
    writeBin(charToRaw(enc2utf8(text)), path)
    proof <- prove(quietly(turn_recode(turnbook(path), a, as = "r", becomes(7, turnbook(path)$a[1]),
      the_rest(0))), "base")
    expect_true(attr(proof, "proved"), info = text)
  }
  cat("id,a,b\n1,12\",\"x\"\n2,b,\"y\"\n", file = path)
  expect_match(attr(prove(quietly(turn_flag(turnbook(path), id > 1, as = "r")), "base"),
    "problems")[[1]], "cannot read")
  writeBin(c(charToRaw("a\n"), as.raw(c(0x85, 0x93, 0xe9, 0x0a))), path)
  expect_equal(read_data(path)$a, "\u2026\u201c\u00e9")
})

test_that("kernels check what they are given, and count large answers right", {
  bad <- function(kernel, ...) expect_error(core(kernel)(...), "do not fit|no block knows")
  bad("first_true", list(TRUE, logical(0)), 3, NULL)
  bad("first_true", list(c(TRUE, FALSE)), 3, NULL)
  bad("held_around", 1:3, c(1, 2), 1, 0)
  bad("run_in_blocks", list(c(1, 2), "+"), 2, FALSE, FALSE)
  bad("run_in_blocks", list(c(1, 2), 3, "nothing"), 2, FALSE, FALSE)
  bad("run_in_blocks", list(c(1, 2, 3), 3, "+"), 2, FALSE, FALSE)
  bad("index_column", rep(c(1, NA), 4), 1L, 2L)
  bad("index_column", rep(c(1, NA), 4), rep(3L, 4), 2L)
  bad("index_column", rep(c(1, NA), 4), integer(), 0L)
  bad("indexed_values", as.raw(1), numeric())
  bad("indexed_values", 1L, 1:3)
  bad("indexed_values", raw(3), numeric(300))
  bad("indexed_kinds", raw(3), integer(300), 1)
  bad("joint_index", list(raw(3), raw(2)), c(2L, 2L))
  bad("joint_index", list(raw(2), raw(2)), c(256L, 257L))
  bad("joint_index", list(raw(2)), 0L)
  bad("stretch_index", c(1, NA), integer(), 1, 1L)
  bad("indexed_scores", list(raw(3), raw(2)), list(1, 1), "mean", 1L)
  bad("indexed_scores", list(raw(3)), list(), "mean", 1L)
  bad("facts_of_cells", 1:3, 1L)
  bad("row_scores", list(1:3, 1:2), c(0, 0), c(1, 1), "mean", 1L, c(1, 1))
  bad("item_sums", list(1:3, 1:2), c(0, 0), c(1, 1))
  bad("group_statistics", c(1, 2), c(1L, 9L), 2L, "mean")
  bad("least_squares_runs", c(1, 2), c(1, 1), 3L)
  bad("same_objects", list(1, 2), list(1))
  bad("values_at_ranks", c(1, 5, 1e300, -1e300), c(7), -1e300, 1e300)
  set.seed(3)
  items <- as.data.frame(replicate(40, sample(200:255, 2000, TRUE)))
  told <- receipt_of(turn_composite(items, everything(), as = "s"))$parts[[1]]$items
  expect_equal(told$alpha, core("alpha_of")(cov(items)), tolerance = 1e-9)
})
