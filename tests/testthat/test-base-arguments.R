# Arguments as people guess them: a refusal names what works, which is then what they meant.
frame <- data.frame(id = 1:8, x = c(1:7, NA), q1 = rep(1:4, 2), q2 = rep(4:1, 2),
  g = rep(c("a", "b"), 4))

test_each("a guess leads to what was meant", list(
  quantiles = list(quote(turn_bin(frame, x, quantiles = 4)), "groups = 4"),
  breaks = list(quote(turn_bin(frame, x, breaks = c(2, 4))), "at = c(30, 60)"),
  upto = list(quote(turn_bin(frame, x, upto = c(2, 4))), "at = c(30, 60), edge = \"ends\""),
  mean = list(quote(turn_standardize(frame, x, mean = 3, sd = 1)),
    "reference = c(mean = 50, sd = 10)"),
  by = list(quote(turn_standardize(frame, x, by = g)), "within = "),
  limits = list(quote(turn_composite(frame, c(q1, q2), reversed = q2, limits = c(1, 4))),
    "define(book, items, limits = c(1, 5)) first"),
  min = list(quote(turn_composite(frame, c(q1, q2), min_valid = 1)), "at_least = 3"),
  base = list(quote(turn_dummy(frame, g, base = "a")), "reference = \"...\""),
  name = list(quote(turn_flag(frame, x > 3, name = "f")), "as = \"...\""),
  baseline = list(quote(turn_change(frame, x, unit = g, order = id, baseline = id == 1)),
    "from = wave == 1"),
  id = list(quote(turn_change(frame, x, id = g, time = id)), "unit = person"),
  probs = list(quote(turn_winsorize(frame, x, probs = c(0.1, 0.9))), "at = c(0.01, 0.99)"),
  sep = list(quote(turn_split(frame, g, sep = ";")), "by = \";\""),
  group = list(quote(item_analysis(frame, c(q1, q2), group = g)), "by = ..."),
  alpha = list(quote(turn_change(frame, x, unit = g, order = id, how = "reliable", alpha = 0.8)),
    "reliability = 0.85")
), function(case, name) {
  error <- refused(eval(case[[1]]), "unused-argument")
  expect_match(conditionMessage(error), paste0("Write ", case[[2]]), fixed = TRUE)
})

test_that("what the guesses lead to works", {
  expect_equal(table(quietly(turn_bin(frame, x, groups = 4))[[6]])[["1"]], 2)
  z <- quietly(turn_standardize(frame, x, reference = c(mean = 50, sd = 10), as = "z"))$z
  expect_equal(z[1], -4.9)
  made <- quietly(define(frame, c(q1, q2), limits = c(1, 4)) |>
    turn_composite(c(q1, q2), reversed = q2, as = "s"))
  expect_equal(made$s, (frame$q1 + 5 - frame$q2) / 2)
  expect_match(conditionMessage(refused(turn_standardize(frame, x, how = "T"), "bad-choice")),
    "Did you mean \"t\"?", fixed = TRUE)
})

test_that("a table's codes match in whatever spelling where that is stated, and it is told which", {
  data <- data.frame(o = c("Cook ", "cook", "Cook", "Nurse", NA, "\u00e9lan", "x"))
  table <- data.frame(o = c("Cook", "Nurse", "Elan"), s = c(10, 20, 30))
  strict <- paste(receipts(turn_crosswalk(data, o, table)), collapse = " ")
  expect_match(strict, "add loose = TRUE, or add them to the table", fixed = TRUE)
  said <- paste(receipts(made <- turn_crosswalk(data, o, table, loose = TRUE)), collapse = " ")
  expect_equal(made$s, c(10, 10, 10, 20, NA, 30, NA))
  expect_match(said, "Spelled otherwise than in the table: \"Cook \" as Cook, \"cook\" as Cook")
  expect_no_match(said, "near-miss")
  expect_proved(made)
  refused(turn_crosswalk(data, o, rbind(table, data.frame(o = "COOK", s = 4)), loose = TRUE),
    "table-twice")
})

test_that("findings of many items about the same codes are one; a script is what its ending says", {
  set.seed(1)
  items <- as.data.frame(lapply(c(a = 1, b = 2, c = 3), function(i) {
    sample(c(rep(1:5, 3), 8, 9), 200, TRUE)
  }))
  made <- quietly(turn_standardize(items, a:c))
  shown <- paste(utils::capture.output(print(findings(made))), collapse = " ")
  rows <- function(code) sum(items == code)
  expect_match(gsub("\\s+", " ", shown), paste0("`a, b, c` hold values that look like undeclared ",
    "missing codes: 8 (", rows(8), "), 9 (", rows(9), ")"), fixed = TRUE)
  expect_equal(findings(made)$variable, c("a_z", "b_z", "c_z"))
  script <- tempfile(fileext = ".sql")
  write_script(made, script)
  expect_match(readLines(script), "SELECT", all = FALSE)
  refused(write_script(made, tempfile(fileext = ".txt")), "file-ending")
})
