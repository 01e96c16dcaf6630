# How often clean work raises a finding, and how often spoiled work raises none.
# Run from the root of the repository: Rscript bench/alarms.R [columns]
library(ableturn)
quietly <- function(code) {
  old <- options(ableturn.quiet = TRUE)
  on.exit(options(old))
  code
}
source("tests/testthat/helper-clean.R")
columns <- as.integer(c(commandArgs(TRUE), "1000")[1])
set.seed(1)
rates <- alarm_rates(columns)
cat(columns, "clean columns; findings above a note:", sum(rates$alarms), "\n")
print(rates$alarms)
cat("Spoiled columns without a finding:", 100 * rates$missed, "%\n")
