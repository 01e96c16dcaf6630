# Every promise of SECURITY.md has a test, and the table there is made from the tests.

test_that("each promise is held by a test, and the page says which", {
  root <- c("../..", "../../00_pkg_src/ableturn")
  root <- root[file.exists(file.path(root, "tools", "promises.R"))][1]
  skip_if(is.na(root), "the sources are not here")
  run <- processx::run(file.path(R.home("bin"), "Rscript"), c("tools/promises.R", "check"),
    wd = root, error_on_status = FALSE)
  expect_equal(run$status, 0, info = run$stderr)
})
