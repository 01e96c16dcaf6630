# How much of the code the tests reach, by file; the last line is the figure. A process that loads
# the package while it is counted takes half a minute to end, so those that tests start (proofs, the
# command line) load the plain package, installed first; what only they would reach of the command
# line is run here besides. Use: Rscript tools/coverage.R
Sys.setenv(NOT_CRAN = "true")
status <- system2(file.path(R.home("bin"), "R"), c("CMD", "INSTALL", "."), stdout = FALSE,
  stderr = FALSE)
if (status != 0) stop("the package could not be installed")
plain <- paste(deparse(.libPaths()), collapse = "")
start <- sprintf("library(ableturn); .libPaths(%s, include.site = FALSE)
  Sys.setenv(R_LIBS = paste(.libPaths(), collapse = .Platform$path.sep))", plain)
tests <- sprintf("testthat::test_dir('%s', package = 'ableturn', load_package = 'installed',
  reporter = 'silent', stop_on_failure = FALSE)", normalizePath("tests/testthat"))
commands <- "for (command in list(c('--help'), c('look', '--help'), c('look',
  demo_file('ferry-survey.csv'), 'age'), c('demo', '--out', tempfile()))) {
  ableturn:::cli_main(command)
}"
found <- covr::package_coverage(".", type = "none", quiet = TRUE, code = c(start, tests, commands))
lines <- covr::tally_coverage(found, by = "line")
by_file <- tapply(lines$value > 0, lines$filename, function(hit) 100 * mean(hit))
least <- sort(by_file)[seq_len(min(15, length(by_file)))]
cat("The files reached least, percent of their lines:\n")
cat(sprintf("  %5.1f  %s\n", least, names(least)), sep = "")
cat(sprintf("%.1f percent of %d lines are reached\n", covr::percent_coverage(found), nrow(lines)))
