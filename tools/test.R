# Runs the tests against the installed package, two files at a time, each in a process of its own.
# The last line is: N passed, N failed
# Use: Rscript tools/test.R [only NAME ... | set NAME], see tools/sets.R, or FILE RESULT for one
# file in this process.
source("tools/sets.R")
Sys.setenv(NOT_CRAN = "true")

# What one file gave: numbers of expectations, as a table. A name that matches another in part
# counts as a failure.
test_one <- function(file, result) {
  options(warnPartialMatchDollar = TRUE, warnPartialMatchArgs = TRUE, warnPartialMatchAttr = TRUE)
  tests <- testthat::test_file(file, package = "ableturn", load_package = "installed",
    reporter = "check", stop_on_failure = FALSE)
  given <- as.data.frame(tests)
  given$failed <- given$failed +
    vapply(tests, function(test) sum(vapply(test$results, matches_in_part, NA)), 1)
  given$why <- vapply(tests, what_failed, "")
  saveRDS(given, result)
}

# What the first expectation of a test that failed says, in one line; "" when none did.
what_failed <- function(test) {
  failed <- Filter(has_failed, test$results)
  if (!length(failed)) return("")
  substr(gsub("[[:space:]]+", " ", conditionMessage(failed[[1]])), 1, 300)
}

has_failed <- function(result) {
  inherits(result, c("expectation_failure", "expectation_error")) || matches_in_part(result)
}

matches_in_part <- function(result) {
  inherits(result, "expectation_warning") && grepl("partial (argument )?match",
    conditionMessage(result))
}

# The same in a process of its own, and what it printed, shown at once. The process is a copy of
# this one, so that the packages below are loaded once and not for every file.
test_apart <- function(file) {
  result <- tempfile(fileext = ".rds")
  began <- proc.time()[["elapsed"]]
  said <- printed_by(test_one(file, result))
  took <- proc.time()[["elapsed"]] - began
  cat(c(sprintf("\n%s, %.0f s", basename(file), took), said[nzchar(said)]), sep = "\n")
  if (!file.exists(result)) {
    return(data.frame(file = basename(file), test = "", passed = 0, failed = 1, error = FALSE,
      skipped = FALSE, why = utils::tail(said, 1)))
  }
  readRDS(result)[c("file", "test", "passed", "failed", "error", "skipped", "why")]
}

# The lines that a piece of code prints, with what stopped it, if anything did.
printed_by <- function(code) {
  lines <- tempfile(fileext = ".txt")
  kept <- file(lines, "w")
  sink(kept)
  sink(kept, type = "message")
  stopped <- tryCatch({
    code
    NULL
  }, error = function(e) paste("This file did not come to its end:", conditionMessage(e)))
  sink(type = "message")
  sink()
  close(kept)
  c(readLines(lines, warn = FALSE), stopped)
}

passed_as_arguments <- commandArgs(TRUE)
only <- switch(passed_as_arguments[1] %in% c("only", "set") + 1, NULL, passed_as_arguments[-1])
if (identical(passed_as_arguments[1], "set")) only <- test_sets[[passed_as_arguments[2]]]
if (length(passed_as_arguments) && is.null(only)) {
  test_one(passed_as_arguments[1], passed_as_arguments[2])
  quit()
}
# Those that take longest come first, so that no core waits for one at the end.
longest <- c("cli", "src", "all-worked-cases", "desk-screen", "sql-table", "find", "all-robust",
  "file-source", "file-formats", "all-attack", "figure", "report")
longest <- file.path("tests/testthat", paste0("test-", longest, ".R"))
files <- unique(c(longest, list.files("tests/testthat", "^test-.*[.]R$", full.names = TRUE)))
file_of <- function(name) file.path("tests/testthat", paste0("test-", name, ".R"))
if (length(only)) files <- file_of(only) else if (nzchar(Sys.getenv("ABLETURN_ONCE"))) {
  files <- setdiff(files, file_of(unlist(test_sets)))
}
for (package in c("testthat", "ableturn", "tidyselect", "stringi", "ggplot2")) {
  requireNamespace(package, quietly = TRUE)
}
# Two, also on one core: with a single one no copy would be made.
cores <- if (.Platform$OS.type == "unix") 2 else 1
given <- parallel::mclapply(files, test_apart, mc.cores = cores, mc.preschedule = FALSE)
told <- vapply(given, is.data.frame, NA)
for (file in files[!told]) cat("\n", basename(file), " ended its process\n", sep = "")
results <- do.call(rbind, given[told])
failed <- sum(results$failed) + sum(results$error) + sum(!told)
skipped <- sum(results$skipped)
line <- sprintf("%d passed, %d failed", sum(results$passed), failed)
# Once more at the end what failed, for those who see the last lines alone.
bad <- results[results$failed | results$error, ]
why <- sprintf("Failed: %s, \"%s\": %s", bad$file, bad$test, bad$why)
cat(sprintf("%s\n", why), sep = "")
if (nzchar(Sys.getenv("TEST_FAILED"))) {
  cat(why, sep = "\n", file = Sys.getenv("TEST_FAILED"), append = TRUE)
}
if (skipped) cat(skipped, " skipped, as what they need is not here\n", sep = "")
cat(line, "\n", sep = "")
if (nzchar(Sys.getenv("TEST_COUNT"))) {
  cat(line, "\n", sep = "", file = Sys.getenv("TEST_COUNT"), append = TRUE)
}
quit(status = as.integer(failed > 0 || sum(results$passed) == 0))
