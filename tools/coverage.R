# How much of the code the tests reach, by file; the last line is the figure. Use: Rscript
# tools/coverage.R
Sys.setenv(NOT_CRAN = "true")
found <- covr::package_coverage(".", type = "tests", quiet = TRUE)
lines <- covr::tally_coverage(found, by = "line")
by_file <- tapply(lines$value > 0, lines$filename, function(hit) 100 * mean(hit))
least <- sort(by_file)[seq_len(min(15, length(by_file)))]
cat("The files reached least, percent of their lines:\n")
cat(sprintf("  %5.1f  %s\n", least, names(least)), sep = "")
cat(sprintf("%.1f percent of %d lines are reached\n", covr::percent_coverage(found), nrow(lines)))
