# Whatever the data are, a turn is made or refused in words: nothing else ever stops it, and no
# finding, receipt or print does either.
skip_on_cran() # long; make test runs it

test_that("any turn on any data is made and told, or refused in words", {
  made <- 0
  for (frame in names(frames)) {
    for (step in names(steps)) {
      info <- paste(step, "on", frame)
      told <- tryCatch(receipts(book <- steps[[step]](turnbook(frames[[frame]]))), error = identity)
      if (inherits(told, "error")) {
        expect_s3_class(told, "ableturn_error")
        expect_true(inherits(told, "ableturn_error"), info = paste(info, conditionMessage(told)))
        expect_match(conditionMessage(told), "\n", info = info)
        next
      }
      made <- made + 1
      expect_true(is.character(told) && length(told) > 0, info = info)
      expect_true(all(nchar(told, "width") <= 100), info = info)
      expect_output(print(book), "Turnbook")
      expect_output(print(findings(book)), ".")
      derived <- core("derived_names")(book)
      column <- core("column_in")
      for (name in derived) {
        expect_length(column(book, name)$x, nrow(frames[[frame]]))
        expect_false(any(is.infinite(suppressWarnings(as.numeric(column(book, name)$x)))),
          info = info)
      }
      if (length(derived)) expect_output(print(lineage(book)), derived[1], fixed = TRUE)
    }
  }
  expect_gt(made, 250)
})

test_that("what is made on any data is the same in a script and by sheet", {
  for (frame in setdiff(names(frames), "no rows")) {
    survey <- frames[[frame]]
    for (step in names(steps)) {
      book <- tryCatch(quietly(steps[[step]](turnbook(survey))), ableturn_error = function(e) NULL)
      if (is.null(book) || !length(core("derived_names")(book))) next
      given <- run_base_script(book, survey)
      for (name in core("derived_names")(book)) {
        off <- core("rows_that_differ")(core("column_in")(book, name)$x, given[[name]])
        expect_equal(off, integer(), info = paste(name, "by", step, "on", frame))
      }
      path <- tempfile()
      save_turns(book, path)
      again <- quietly(apply_turns(survey, path))
      expect_equal(as.data.frame(again), as.data.frame(book), info = paste(step, "on", frame))
    }
  }
})
