# What is counted in one pass is what plain R counts in many.
facts <- function(x) core("facts_of_columns")(list(x))[[1]]

# The same, worked out by hand.
plain_facts <- function(x) {
  finite <- if (is.character(x)) x[!is.na(x)] else x[is.finite(x)]
  values <- if (is.character(x)) unique(finite) else as.double(sort(unique(finite)))
  list(
    valid = sum(!is.na(x)), low = if (is.character(x) || !length(finite)) NA_real_ else min(finite),
    high = if (is.character(x) || !length(finite)) NA_real_ else max(finite),
    values = values, rows = tabulate(match(finite, values), length(values))
  )
}

columns <- local({
  set.seed(11)
  n <- 3000
  list(
    "answers" = sample(c(1:5, NA), n, TRUE),
    "answers as doubles" = sample(c(1, 2, 3, NA), n, TRUE),
    "with negatives" = sample(c(-99, -2:7, NA), n, TRUE),
    "far apart" = sample(c(5L, 60000L, NA), n, TRUE),
    "near and far" = c(1:2000, 2000000000L, -2000000000L),
    "halves" = sample(seq(-3, 3, 0.5), n, TRUE),
    "one far value late" = c(rep(1:5, 500), 99999),
    "one half late" = c(rep(1:5, 500), 2.5),
    "infinite" = c(Inf, -Inf, NaN, NA, 1:40),
    "both zeros" = c(0, -0, 1, 0.5, NA),
    "years" = sample(1900:2031, n, TRUE),
    "large codes" = 100000 + sample(1:9, n, TRUE),
    "truth" = sample(c(TRUE, FALSE, NA), n, TRUE),
    "words" = sample(c("yes", "no", "", "\u00e9t\u00e9", NA), n, TRUE),
    "nothing" = rep(NA_real_, 20), "no rows" = numeric(), "no words" = character(), "one" = 7L
  )
})

test_that("values, ends and rows of a column are those of plain R", {
  for (kind in names(columns)) {
    x <- columns[[kind]]
    told <- facts(x)
    right <- plain_facts(x)
    expect_true(told$few, info = kind)
    for (part in names(right)) {
      expect_equal(told[[part]], right[[part]], ignore_attr = TRUE, info = paste(kind, part))
    }
    below <- if (is.character(x)) 0 else sum(right$values < 0)
    expect_equal(told$negatives, min(below, 21), info = kind)
  }
})

test_that("many values are told to be many, with right ends, and counted when asked for", {
  set.seed(12)
  x <- c(rnorm(5000), NA, -50, 70)
  told <- facts(x)
  expect_false(told$few)
  expect_equal(c(told$valid, told$low, told$high, told$negatives), c(5002, -50, 70, 21))
  all <- core("number_counts")(x)
  expect_equal(all$values, sort(unique(x)))
  expect_equal(sum(all$rows), 5002)
  words <- paste("w", seq_len(3000))
  expect_false(facts(words)$few)
  expect_equal(core("number_counts")(c("1", "1.0", "2", "x", NA))[["rows"]], c(2, 1))
})

test_that("columns counted together are counted as each alone", {
  some <- columns[c("answers", "words", "halves", "infinite", "nothing", "years")]
  expect_equal(core("facts_of_columns")(unname(some)), unname(lapply(some, facts)))
  expect_equal(core("facts_of_columns")(list()), list())
})

# A test that cannot be decided leaves the row open; the first that is true has it.
plain_branch <- function(tests, n) {
  vapply(seq_len(n), function(i) {
    for (j in seq_along(tests)) {
      hit <- rep_len(tests[[j]], n)[i]
      if (is.na(hit)) return(NA_integer_)
      if (hit) return(j)
    }
    0L
  }, 1L)
}

test_that("the first true test has the row, and what later ones would have is counted", {
  set.seed(13)
  for (round in 1:30) {
    n <- sample(c(0, 1, 7, 50), 1)
    tests <- lapply(seq_len(sample(0:5, 1)), function(j) {
      sample(c(TRUE, FALSE, NA), if (runif(1) < 0.2) 1 else n, TRUE, c(0.3, 0.6, 0.1))
    })
    told <- core("first_true")(tests, n, NULL)
    right <- plain_branch(tests, n)
    expect_equal(told$branch, right)
    expect_equal(told$rows, tabulate(right, length(tests)))
    expect_equal(told$none, sum(right %in% 0L))
    for (j in seq_along(tests)) for (i in seq_len(j - 1)) {
      expect_equal(told$also[i, j], sum(right %in% i & rep_len(tests[[j]], n) %in% TRUE))
    }
  }
})

test_that("covariances of items are those of plain R, whole or not, complete rows alone", {
  set.seed(14)
  kinds <- list(
    "whole" = function(n) sample(c(1:7, NA), n, TRUE),
    "large" = function(n) sample(1e6 + 1:9, n, TRUE),
    "halves" = function(n) sample(c(0.5, 1, 1.5, NA), n, TRUE), "truth" = function(n) runif(n) < 0.4
  )
  for (kind in names(kinds)) for (n in c(2, 255, 256, 257, 1000)) {
    items <- replicate(4, kinds[[kind]](n), simplify = FALSE)
    matrix <- do.call(cbind, items)
    complete <- stats::complete.cases(matrix)
    told <- core("item_sums")(items, rep(0, 4), rep(1, 4))
    expect_equal(told$complete, sum(complete))
    if (sum(complete) < 2) next
    right <- stats::cov(matrix[complete, ] + 0)
    expect_equal(core("item_spread")(items, rep(0, 4), rep(1, 4)), right, tolerance = 1e-10,
      info = paste(kind, n))
    expect_equal(unlist(told[-1], use.names = FALSE), c(diag(right), rowSums(right), sum(right)),
      tolerance = 1e-10)
  }
})

test_that("what stands with a column is what its rules and items have, however it is made", {
  book <- quietly(turn_recode(open_demo(), wait_min, as = "w", becomes(1, upto(9)),
    becomes(2, from(10, upto = 29)),
    the_rest(3)) |> turn_composite(tr_1:tr_4, as = "t", at_least = 3))
  path <- tempfile()
  save_turns(book, path)
  again <- quietly(apply_turns(demo_file("ferry-survey.csv"), path))
  for (made in list(book, again, quietly(undo(amend(book, t, at_least = 2))))) {
    table <- core("rule_table")(known_variable(made, "w"))
    expect_equal(table$rows, as.vector(table(factor(made$w, 1:3))))
    items <- as.data.frame(made)[paste0("tr_", 1:4)]
    valid <- rowSums(!is.na(items))
    expect_equal(core("rows_with_items")(known_variable(made, "t")),
      vapply(1:4, function(k) sum(valid >= k), 1L))
  }
})

test_that("what is known of an original is forgotten with its meaning, in the new book alone", {
  known <- function(book, name) core("facts_of")(known_variable(book, name))[c("valid", "high")]
  first <- turnbook(data.frame(x = c(1:20, 99), asked = rep(c(1, 0, 1), 7)))
  expect_equal(known(first, "x"), list(valid = 21, high = 99))
  declared <- quietly(define(first, x, missing = c("Refused" = 99)))
  expect_equal(known(declared, "x"), list(valid = 20, high = 20))
  expect_equal(known(first, "x"), list(valid = 21, high = 99))
  asked <- quietly(define(declared, x, asked_if = asked == 1))
  expect_equal(known(asked, "x")$valid, sum(rep(c(1, 0, 1), 7)[1:20] == 1))
  expect_equal(known(quietly(undo(asked)), "x"), list(valid = 20, high = 20))
  made <- quietly(turn_compute(first, x * 2, as = "twice"))
  expect_equal(known(made, "twice"), list(valid = 21, high = 198))
  again <- quietly(define(made, x, missing = c("Refused" = 99)))
  expect_equal(known(again, "twice"), list(valid = 20, high = 40))
})

test_that("a finding that is long loses words of what happened, never what to do nor its id", {
  local_reproducible_output(width = 60)
  long <- list(severity = "warn", id = "open-range",
    what = strrep("Many values were caught here. ", 12),
    todo = "Declare them: define(book, crossings, missing = c(\"...\" = 98)).")
  lines <- core("finding_lines")(long, most = 3)
  expect_length(lines, 3)
  expect_lte(max(nchar(lines, "width")), 60)
  expect_match(lines[1], "[.]{3} \\[open-range\\]$")
  expect_match(paste(trimws(lines[-1]), collapse = " "), long$todo, fixed = TRUE)
  expect_gt(length(core("finding_lines")(long)), 5)
})

test_that("another unit is told apart from a slip of the pen", {
  ids <- function(x, limits) {
    book <- quietly(define(turnbook(data.frame(x = x)), x, limits = limits) |>
      turn_compute(x + 1, as = "y"))
    intersect(findings(book)$id, c("unit-slip", "beyond-limits"))
  }
  expect_equal(ids(c(150:190, 1710, 1650) + 0, c(100, 230)), "unit-slip")
  expect_equal(ids(c(150:190, 300, 240) + 0, c(100, 230)), "beyond-limits")
  expect_equal(ids(c(rep(1:5, 9), 6, 6), c(1, 5)), "beyond-limits")
  expect_equal(ids(c(rep(1:5, 9), 50, 20), c(1, 5)), "unit-slip")
  expect_equal(ids(c(150:190, 1710) + 0, c(100, 230)), "beyond-limits")
})

test_that("few values are as many as the rooms above take for few", {
  many <- core("many_values")
  few <- function(k) core("facts_of_column")(seq_len(k) * 1e6 + 0.5)$few
  expect_equal(c(few(many), few(many + 1)), c(TRUE, FALSE))
})

test_that("counts go beyond the largest whole number of R", {
  cells <- core("facts_of_cells")(c(1, 2, 2), c(1e9, 1.5e9, 1e9))
  expect_identical(cells[c("valid", "rows")], list(valid = 3.5e9, rows = c(1e9, 2.5e9)))
  expect_identical(core("facts_of_cells")(c(1, 2), c(5, 7))$rows, c(5L, 7L))
  expect_equal(core("moments_of_cells")(c(1, 3), c(2e9, 2e9))[["mean"]], 2)
  expect_equal(core("rows_at_places")(c(1L, NA, 1L), 2, c(2e9, 5, 1e9)), c(3e9, 0))
  expect_equal(core("grouped")(c(2.5e9, 12)), c("2,500,000,000", "12"))
})
