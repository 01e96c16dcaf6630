# Runs the tests against the installed package. The last line is: N passed, N failed
Sys.setenv(NOT_CRAN = "true")
results <- as.data.frame(testthat::test_dir("tests/testthat", package = "ableturn", load_package = "installed",
  reporter = "summary", stop_on_failure = FALSE))
failed <- sum(results$failed) + sum(results$error)
skipped <- sum(results$skipped)
line <- sprintf("%d passed, %d failed", sum(results$passed), failed)
if (skipped) line <- sprintf("%s, %d skipped", line, skipped)
cat(line, "\n", sep = "")
if (nzchar(Sys.getenv("TEST_COUNT"))) writeLines(line, Sys.getenv("TEST_COUNT"))
quit(status = as.integer(failed > 0 || sum(results$passed) == 0))
