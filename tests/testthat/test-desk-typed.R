# What is typed into fields, as people type it; conditions by pointing; and messages in the words of
# the page.

test_each("a range is read as people type it, and said back in our notation", list(
  "150 .. 160" = c("150-160", "150 \u2013 160", "150 to 160", "150..160", "150:160", "150 ... 160",
    "between 150 and 160", "from 150 to 160", "150 until 160"),
  "160 .." = c(">= 160", "\u2265160", "160+", "160 ..", "at least 160", "160 and more",
    "160 or over",
    "from 160", "160 to highest"),
  ".. 160" = c("<= 160", "=<160", "up to 160", "at most 160", "lowest to 160", "..160",
    "160 or less"),
  "> 160" = c(">160", "over 160", "more than 160"), "< 18" = c("<18", "under 18", "below 18"),
  "150.5 .. 160" = "150,5 .. 160", "-3 .. -1" = c("-3--1", "-3 to -1", "\u22123 to \u22121"),
  "30 .. < 60" = c("30 .. < 60", "30 to under 60")
), function(typed, notation) {
  for (text in typed) {
    expect_equal(core("write_range")(core("read_typed_range")(text)), notation, info = text)
    expect_equal(core("typed_when")(text), notation, info = text)
  }
})

test_that("what is no range stays what it is, and what is unclear is refused", {
  for (text in c("2031-03-01", "abc", "a-b", "18-29 years", "5", "1-2-3", "")) {
    expect_null(core("read_typed_range")(text), info = text)
  }
  expect_null(core("read_typed_range")("18-29", "18-29"))
  expect_equal(core("typed_when")("18-29; 40+", "18-29"), list("18-29", "40 .."))
  expect_equal(core("typed_when")("98, 99; 1-3"), list(98, 99, "1 .. 3"), ignore_attr = TRUE)
  expect_equal(core("typed_when")("Smith, John"), "Smith, John")
  refused(core("read_typed_range")("1,000 - 2,000"), "typed-comma")
  expect_error(core("read_typed_range")("160 .. 150"), "runs from 160 to 150[.]\n")
})

number_cases <- list(
  list("number", "0,5", 0.5), list("number", "10%", 0.1), list("number", " 2.5 ", 2.5),
  list("number", "1e3", 1000), list("numbers", "30 60", c(30, 60)),
  list("numbers", "30, 60", c(30, 60)), list("numbers", "30;60", c(30, 60)),
  list("numbers", "0,05 0,95", c(0.05, 0.95)), list("numbers", "1 % 99 %", c(0.01, 0.99)),
  list("numbers", "1,2,3", c(1, 2, 3)), list("limits", "1-5", c(1, 5)),
  list("limits", "1 to 5", c(1, 5)), list("limits", "1,5", c(1, 5)),
  list("limits", "0 100", c(0, 100)), list("separator", "blank", " "),
  list("separator", "line", "\n"), list("separator", " ; ", ";"),
  list("moments", "50; 10", c(mean = 50, sd = 10))
)

test_that("numbers, shares, lists and limits are read as people type them", {
  for (case in number_cases) {
    field <- list(kind = case[[1]], label = "Field")
    expect_equal(core("typed_argument")(field, case[[2]]), case[[3]], info = case[[2]],
      ignore_attr = case[[1]] != "moments")
  }
})

test_that("what may be read in two ways is asked about", {
  field <- function(kind) list(kind = kind, label = "Field")
  read <- core("typed_argument")
  refused(read(field("numbers"), "30,60"), "typed-both")
  refused(read(field("number"), "1,000"), "typed-comma")
  refused(read(field("number"), "1 2"), "typed-number")
  refused(read(field("limits"), "5"), "typed-limits")
  refused(read(field("numbers"), "a b"), "typed-numbers")
  refused(read(field("accepts"), list("boundary" = " ")), "accept-reason")
})

test_that("what is read is said back where it is another notation, at its field and its range", {
  fields <- core("form_fields")("recode")
  said <- list(rules = list(ranges = list(list(when = "150-160"), list(when = "1 .. 4"),
    list(when = ""), list(when = "5+; 98, 99"))))
  expect_equal(core("read_back")(fields, said)$rules, list("150 .. 160", "", "", "5 ..; 98; 99"))
  bin <- core("form_fields")("winsorize")
  expect_equal(core("read_back")(bin, list(at = "1 % 99 %", limits = "0 5000")),
    list(at = "0.01 0.99"))
})

condition_cases <- list(
  "age >= 30" = list("and", list(list("age", "least", "30"))),
  "island == 3 & !is.na(income)" = list("and", list(list("island", "is", "Sallow"),
    list("income", "valid", ""))),
  "age >= 18 & age <= 65 & ticket != \"Monthly\"" = list("and", list(list("age", "between",
    "18 to 65"), list("ticket", "isnt", "Monthly"))),
  "island %in% c(1, 4) | is.na(age)" = list("or", list(list("island", "oneof",
    "Northholm; Merrin"), list("age", "missing", ""))),
  "(age >= 18 & age <= 30) | income > 2500.5" = list("or", list(list("age", "between", "18 to 30"),
    list("income", "more", "2500.5"))),
  "grepl(\"bus\", ticket)" = list("and", list(list("ticket", "holds", "bus"))),
  "ticket == \"a \\\"b\\\" %v\"" = list("and", list(list("ticket", "is", "a \"b\" %v")))
)

test_each("a condition by pointing is its formula, both ways", condition_cases,
  function(case, text) {
    b <- core("as_book")(open_demo())
    rows <- lapply(case[[2]], function(row) setNames(row, c("name", "how", "value")))
    expect_equal(core("condition_text")(c(rows, list(list(name = "", how = "is", value = ""))),
      case[[1]], b), text)
    expect_equal(core("condition_rows")(text, b), list(join = case[[1]], rows = rows))
    expect_s3_class(quietly(turn_flag(open_demo(), !!core("parse_formula")(text), as = "f")),
      "turnbook")
  })

test_that("what cannot be pointed at stays a formula, and what is typed is no formula", {
  b <- core("as_book")(open_demo())
  for (text in c("age > mean(age)", "age + 1 > 3", "!(age > 3)", "age > 3 & (income > 2 | age < 1)",
    "nobody == 1", "age ==", "system('x') > 1")) {
    expect_null(core("condition_rows")(text, b), info = text)
  }
  row <- function(name, how, value) list(list(name = name, how = how, value = value))
  write <- function(...) core("condition_text")(row(...), "and", b)
  expect_equal(write("birth_date", "more", "20.3.1990"), "birth_date > \"1990-03-20\"")
  expect_equal(write("birth_date", "is", "3/20/1990"), "birth_date == \"1990-03-20\"")
  refused(write("birth_date", "is", "3/4/1990"), "typed-day")
  refused(write("age", "is", "30; system('x')"), "condition-number")
  refused(write("age", "between", "30"), "typed-limits")
  expect_equal(write("ticket", "is", "x\"); system('y'"), "ticket == \"x\\\"); system('y'\"")
  expect_equal(write("nobody", "is", "1"), "")
  expect_equal(write("age", "quit()", "1"), "")
})

test_that("an unfinished formula is told as such, and words that people write for signs", {
  for (text in c("age +", "mean(age", "\"abc", "age > ")) {
    refused(core("parse_formula")(text), "formula-unfinished")
  }
  for (text in c("age > 30 and age < 40", "age in 3", "not age)", "age between 1 and 2")) {
    refused(core("parse_formula")(text), "formula-worded")
  }
  for (text in c("age > 30, age < 40", "income * 0,5")) {
    refused(core("parse_formula")(text), "formula-comma")
  }
  refused(core("parse_formula")("1 < age < 3 )"), "chained-comparison")
})

test_that("a key comes from a table of items and answers, and findings of data are accepted", {
  table <- data.frame(answer = c(2, 4, 1), item = c("qz_2", "qz_1", "other"))
  expect_equal(core("key_pairs")(table, c("qz_1", "qz_2", "qz_3")), list(list("qz_1", "4"),
    list("qz_2", "2")))
  refused(core("key_pairs")(table, "qz_9"), "key-file")
  screen <- core("new_screen")(core("as_book")(open_demo()))
  screen$work <- list(way = "report")
  refused(core("begin_work")(screen, "open", list()), "desk-working")
  book <- quietly(turn_standardize(open_demo(), wait_min))
  refused(accept_findings(book), "accept-unnamed")
  refused(accept_findings(book, "stale-learned" = "older people"), "accept-data")
  told <- function(book) with(findings(book), accepted[id == "unused-weight"])
  accepted <- accept_findings(book, "unused-weight" = "of the sample")
  expect_equal(told(accepted), "of the sample")
  expect_equal(told(accept_findings(accepted, "unused-weight" = NULL)), "")
  say <- function(screen, ...) core("answer_safely")(screen, list(...))$screen
  screen <- say(core("new_screen")(core("as_book")(book)), do = "accept_data", finding =
    "unused-weight", reason = "of the sample")
  expect_equal(told(screen$state$book), "of the sample")
  expect_match(as.character(core("findings_tab_html")(screen$state$book)), "data-back=\"yes\"")
  screen <- say(screen, do = "accept_data", finding = "unused-weight", back = "yes")
  expect_equal(told(screen$state$book), "")
})

# Of arguments that no page gives, of the command line, and of calls that the desk does not make.
of_calls_only <- c("about-text", "accept-data", "accept-unnamed", "amend-name", "assign-derived",
  "assign-original", "bad-about", "bad-blank", "bad-range", "bad-reading", "bad-reading-columns",
  "book-of-other-version", "column-broken", "compare-rows", "cross-one", "data-grouped",
  "data-outside", "desk-no-port", "desk-sheet", "duckdb-needed", "engine-dialect", "folder-full",
  "holding-both", "load-form", "missing-value", "named-dots", "no-data-file", "no-schema",
  "not-a-book", "not-a-codebook", "not-an-instrument", "not-data", "not-dummies", "not-yes-no",
  "open-book", "range-apart", "reading-frame", "reading-text", "rename-form", "rename-turn-form",
  "rule-comparison", "rule-mixed", "rule-word", "rules-row-empty", "selection", "table-frame",
  "table-on-server", "target-needed", "transaction-open", "two-ends",
  "when-unnamed", "writing-clash")

# Words that only who writes R or a sheet knows: calls other than those of formulas, arguments with
# their value, keys of a sheet, options.
speaks_of_calls <- function(text) {
  calls <- regmatches(text, gregexpr("[A-Za-z0-9_.:]+(?=\\()", text, perl = TRUE))[[1]]
  other <- setdiff(calls, c(names(core("formula_words")), ""))
  in_formula <- "round|seed|regex|at_least|within|half|= 0|= 2031"
  argument <- grepl(paste0("\\b[a-z_]+ = (\"|[0-9A-Zc.{-])|!!|--[a-z]|\\b[a-z_]+: ",
    "(\\[|\\{\\{)"), text, perl = TRUE) && !grepl(in_formula, text)
  length(other) > 0 || argument
}

test_that("each message has words for the page without R in them", {
  withr::local_options(ableturn.reader = "desk")
  told <- function(words, places) {
    any(vapply(core("words_for_reader")(words, places), speaks_of_calls, NA))
  }
  errors <- core("error_words")
  speak <- Filter(function(id) told(errors[[id]]$words, 1:2), names(errors))
  expect_equal(setdiff(speak, of_calls_only), character())
  findings <- core("finding_words")
  expect_equal(Filter(function(id) told(findings[[id]], 2:3), names(findings)), character())
})

test_that("each word of formulas stands in the help once, by its use, with an example that runs", {
  uses <- core("formula_uses")
  known <- core("formula_words")
  words <- unlist(lapply(uses, names), use.names = FALSE)
  inner <- Filter(function(word) known[[word]]$inner, names(known))
  expect_setequal(words, setdiff(names(known), inner))
  for (example in unlist(uses[core("uses_on_page")])) {
    node <- core("parse_formula")(example)
    expect_no_error(core("check_formula")(node, all.vars(node)))
  }
  # in one's own variables each example can be kept
  state <- core("new_screen")(core("as_book")(open_demo()), NULL)$state
  state$chosen <- "wait_min"
  named <- core("own_names")(state)
  for (use in setdiff(core("uses_on_page"), "Other occasions, and chance")) {
    for (example in uses[[use]]) {
      own <- core("own_example")(example, named[[core("type_in_use")(use)]], named$groups)
      if (grepl("hour", own) || grepl("unanswered", own)) next # the survey has none
      expect_no_error(quietly(turn_compute(state$book, !!core("parse_formula")(own), as = "own")))
    }
  }
  expect_equal(core("own_example")("income + rent", "q1", "g"), "income + rent")
})
