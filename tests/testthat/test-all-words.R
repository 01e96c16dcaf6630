# Errors and findings speak as one: what happened and where, then what to do, in an analyst's words.
jargon <- c("NULL", "object", "vector", "class", "integer", "numeric", "logical", "boolean",
  "string", "coerce",
  "evaluat", "expression", "invalid", "illegal", "exception", "index", "iterat", "parse", "syntax",
  "instantiat", "environment", "subset", "dataframe", "S3", "dispatch", "method")
sentences <- c(lapply(as.list(core("error_words")), `[[`, "words"),
  lapply(as.list(core("finding_words")), `[`, -1))
# Their second sentence is worded where they are raised.
passed_on <- c("sheet-at", "instrument-at", "database-unreached")

test_that("every error and finding says what happened and what to do, in whole sentences", {
  for (id in names(sentences)) {
    words <- sentences[[id]]
    expect_length(words, 2 + sum(c("sheet", "desk", "desk_what") %in% names(words)))
    expect_match(words[1], "([.:}]|\\{shown\\})$", info = id)
    expect_match(words[1], "^([A-Z{`\"]|[a-zA-Z_.]+(\\(| =))", info = id)
    if (!id %in% passed_on) {
      expect_match(words[2], "([.)]|\\{example\\}|\\.\\.\\.|[a-z_]+: [{}0-9a-zA-Z]+)$", info = id)
    }
    expect_false(grepl("(s)", paste(words, collapse = " "), fixed = TRUE), info = id)
  }
  bare <- gsub("\\{[a-z]+\\}", "", unlist(sentences))
  for (word in jargon) expect_false(any(grepl(paste0("\\b", word), bare)), info = word)
})

test_that("a failure of a database says what to do, in whole sentences", {
  for (failure in core("database_failures")) {
    expect_match(failure$what, "^(is|was|has|no longer|takes|does|cannot) ", info = failure$what)
    expect_match(failure$advice, "^[A-Z].*[.)]$", info = failure$what)
  }
})

test_that("what a novice gets wrong in the first hour is answered in words", {
  local_reproducible_output(width = 80)
  book <- open_demo()
  said <- function(code) {
    tryCatch(quietly(code), error = function(e) cat(conditionMessage(e), "\n", sep = ""))
  }
  expect_snapshot({
    said(turnbook("ferry-survy.csv"))
    said(turn_recode(book, crosings, as = "r", becomes(1, 1)))
    said(turn_recode(book, crossings, as = "r", becomes(1, from(9, upto = 5))))
    said(turn_recode(book, crossings, as = "crossings", becomes(1, 1)))
    said(turn_recode(book, ticket, as = "t", becomes(1, "Mnthly"), becomes("a", "Single")))
    said(turn_compute(book, log(agee), as = "l"))
    said(turn_compute(book, "18 < age < 30", as = "young"))
    said(turn_flag(book, age = 30, as = "thirty"))
    said(turn_flag(book, income == NA, as = "none")) # nolint: equals_na_linter.
    said(turn_compute(book, system("ls"), as = "s"))
    said(turn_reverse(book, age))
    said(turn_reverse(book, st_2, limits = c(1, 4)))
    said(turn_composite(book, st_1:st_6, at_least = 7, as = "s"))
    said(turn_standardize(book, age, how = "zscore"))
    said(book$age <- 3)
    said(define(book, age, missing = 999))
    said(drop_turn(book, age))
    said(undo(book))
  })
})

test_that("a sign that is not looked up takes one cell, as the tables of Unicode say", {
  signs <- intToUtf8(setdiff(1:0x1ffff, 0xd800:0xdfff), multiple = TRUE)
  plain <- signs[!stringi::stri_detect_regex(signs, core("other_width"))]
  expect_gt(length(plain), 1000)
  expect_true(all(core("width_beyond")(plain) == 0))
  expect_equal(core("text_width")(c("\u2026a", "\u6f22\u5b57", "e\u0301", "\u00ad")), c(2, 4, 1, 0))
})
