# Whatever the data are, a turn is made or refused in words: nothing else ever stops it, and no
# finding, receipt or print does either.
skip_on_cran() # long; make test runs it

made_on <- function(data, step) {
  tryCatch({
    told <- receipts(book <- steps[[step]](turnbook(data)))
    list(told = told, book = book)
  }, error = identity)
}
made_somewhere <- character()
tried <- sampled(frames, every = 5)

test_each("any turn is made and told, or refused in words, on", tried, function(data, n) {
  for (step in names(steps)) {
    made <- made_on(data, step)
    if (inherits(made, "error")) {
      expect_true(inherits(made, "ableturn_error"), info = paste(step, conditionMessage(made)))
      expect_match(conditionMessage(made), "\n", info = step)
      next
    }
    made_somewhere <<- c(made_somewhere, step)
    expect_true(is.character(made$told) && length(made$told) > 0, info = step)
    expect_true(all(nchar(made$told, "width") <= 100), info = step)
    expect_output(print(made$book), "Turnbook")
    expect_output(print(findings(made$book)), ".")
    derived <- core("derived_names")(made$book)
    for (name in derived) {
      x <- known_variable(made$book, name)$x
      expect_length(x, nrow(data))
      expect_false(any(is.infinite(suppressWarnings(as.numeric(x)))), info = step)
    }
    if (length(derived)) expect_output(print(lineage(made$book)), derived[1], fixed = TRUE)
  }
})

test_that("most turns were made on some data", {
  expect_lte(length(setdiff(names(steps), made_somewhere)), 2)
  expect_gt(length(made_somewhere), 250 * length(tried) / length(frames))
})

with_rows <- frames[names(frames) != "no rows"]
some <- sampled(with_rows, every = 6)
test_each("a script and a sheet give the same on", some, function(survey, frame) {
  for (step in names(steps)) {
    made <- made_on(survey, step)
    if (inherits(made, "error") || !length(core("derived_names")(made$book))) next
    given <- run_base_script(made$book, survey)
    for (name in core("derived_names")(made$book)) {
      off <- core("rows_that_differ")(known_variable(made$book, name)$x, given[[name]])
      expect_equal(off, integer(), info = paste(name, "by", step))
    }
    path <- tempfile()
    save_turns(made$book, path)
    again <- quietly(apply_turns(survey, path))
    expect_equal(as.data.frame(again), as.data.frame(made$book), info = step)
  }
})

test_that("what must be given is asked for in words; one variable is not taken out of several", {
  book <- quietly(turn_reverse(open_demo(), c(st_2, st_5), limits = c(1, 5)))
  first <- vapply(getNamespaceExports("ableturn"), function(name) {
    c(names(formals(getExportedValue("ableturn", name))), "")[1]
  }, "")
  asked <- 0
  for (name in setdiff(names(first)[first %in% c("book", "a", "data")], "desk")) {
    withr::local_dir(withr::local_tempdir())
    told <- tryCatch(quietly(getExportedValue("ableturn", name)(book)), error = identity)
    if (!inherits(told, "error")) next
    expect_true(inherits(told, "ableturn_error"), info = paste(name, conditionMessage(told)))
    asked <- asked + inherits(told, "ableturn_error_argument_needed")
  }
  expect_gt(asked, 20)
  refused(amend(book, c(st_2_r, st_5_r), limits = c(1, 6)), "one-variable")
  refused(look(book, age, by = c(island, st_1)), "one-variable")
  refused(turn_bin(book, age, groups = 3, weight = c(weight, age)), "one-variable")
})
