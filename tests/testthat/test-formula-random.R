# Random formulas: evaluated in memory, written as text and read again, and written as base R.
skip_on_cran() # long; make test runs it

survey <- local({
  set.seed(3)
  n <- 60
  data.frame(
    a = sample(c(-2:3, NA), n, TRUE), b = sample(c(0, 0.5, 2, -1.5, NA), n, TRUE),
    c = sample(c(1:4, 9), n, TRUE), t = sample(c("1", "2.5", "x", "", NA, "-3"), n, TRUE),
    u = sample(c("red", "blue", "Red "), n, TRUE)
  )
})

pick <- function(...) sample(c(...), 1)
number_of <- function(depth) {
  if (depth == 0) return(pick("a", "b", "c", "t", "2", "0.5", "-1", "3"))
  one <- function() number_of(depth - 1)
  two <- function() truth_of(depth - 1)
  switch(sample(9, 1),
    paste0("(", one(), ") ", pick("+", "-", "*", "/", "%%"), " (", one(), ")"),
    paste0(one(), " ", pick("+", "-", "*", "/"), " ", pick("a", "b", "c", "4")),
    paste0(pick("abs", "sqrt", "log", "log1p", "floor", "round", "sign", "exp"), "(", one(), ")"),
    paste0("(", pick("a", "b", "c"), ")^", pick("2", "0.5", "-1", "(a - b)")),
    paste0("if (", two(), ") ", one(), " else ", one()),
    paste0("row_", pick("mean", "sum", "min", "max", "sd", "median"), "(a, b, ", one(),
      ", at_least = ", pick("1", "2"), ")"),
    paste0("first_valid(", one(), ", ", one(), ")"),
    paste0("-", pick("a", "b"), " * ", one()),
    paste0("{ K <- ", one(), "; K * 2 - ", one(), " }") |>
      gsub(pattern = "K", replacement = paste0("k", sample(1e6, 1)), fixed = TRUE)
  )
}
truth_of <- function(depth) {
  one <- function() number_of(max(0, depth - 1))
  switch(sample(7, 1),
    paste(pick("a", "b", "c"), pick("<", ">=", "==", "!="), paste0("(", one(), ")")),
    paste0(pick("a", "c"), " %in% c(1, ", pick("2", "3"), ")"),
    paste0("unanswered(", pick("a", "t", "c, \"Refused\""), ")"),
    paste0("u == \"", pick("red", "blue"), "\""),
    paste0("!(a + ", one(), " > 1)"),
    paste0("(", pick("a", "b"), " > 0) ", pick("&", "|"), " (", one(), " < 2)"),
    "grepl(\"e\", u) | is.na(b)"
  )
}

test_that("random formulas mean the same in memory, as text and as base R", {
  set.seed(11)
  book <- quietly(define(turnbook(survey), c, missing = c("Refused" = 9)))
  formulas <- replicate(160, if (runif(1) < 0.7) number_of(3) else truth_of(3))
  usable <- Filter(function(f) length(core("formula_vars")(core("parse_formula")(f))) > 0, formulas)
  expect_gt(length(usable), 120)
  for (i in seq_along(usable)) {
    name <- paste0("v", i)
    node <- core("parse_formula")(usable[i])
    text <- core("formula_text")(node)
    expect_identical(core("formula_text")(core("parse_formula")(text)), text)
    turn <- core("new_turn")("compute", name, formula = usable[i])
    book <- quietly(core("make_turn")(book, turn))
  }
  given <- run_base_script(book, survey)
  for (i in seq_along(usable)) {
    name <- paste0("v", i)
    off <- core("rows_that_differ")(known_variable(book, name)$x, given[[name]])
    expect_equal(length(off), 0, info = paste(usable[i], "in row", off[1]))
  }
  whole <- Filter(function(name) {
    !core("uses")(core("derived_in")(book, name)$expr, "%%")
  }, core("derived_names")(book))
  for (some in split(whole, seq_along(whole) %% 8)) {
    columns <- core("derived_of")(book)[some]
    same_on_engines(core("with_parts")(book, columns = columns), "random formulas")
  }
})
