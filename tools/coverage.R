# How much of the code the tests reach, by file; the last line is the figure. The tests of the
# command line run processes, whose end takes half a minute each while it is counted: in their place
# each command is run here. Use: Rscript tools/coverage.R
Sys.setenv(NOT_CRAN = "true")
tests <- "testthat::test_dir('%s', package = 'ableturn', load_package = 'installed',
  filter = '^cli$', invert = TRUE, reporter = 'silent', stop_on_failure = FALSE)"
commands <- "for (command in list(c('--help'), c('look', '--help'), c('look',
  demo_file('ferry-survey.csv'), 'age'), c('demo', '--out', tempfile()))) {
  ableturn:::cli_main(command)
}"
found <- covr::package_coverage(".", type = "none", quiet = TRUE,
  code = c(sprintf(tests, normalizePath("tests/testthat")), commands))
lines <- covr::tally_coverage(found, by = "line")
by_file <- tapply(lines$value > 0, lines$filename, function(hit) 100 * mean(hit))
least <- sort(by_file)[seq_len(min(15, length(by_file)))]
cat("The files reached least, percent of their lines:\n")
cat(sprintf("  %5.1f  %s\n", least, names(least)), sep = "")
cat(sprintf("%.1f percent of %d lines are reached\n", covr::percent_coverage(found), nrow(lines)))
