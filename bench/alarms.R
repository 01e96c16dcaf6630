# How often clean analyses raise each finding, and how often a spoiled one does not raise its own.
# Run from the root of the repository: Rscript bench/alarms.R [clean analyses] [spoiled of each
# finding]
library(ableturn)
for (file in c("helper-data.R", "helper-clean.R", "helper-spoil.R")) {
  source(file.path("tests/testthat", file))
}
asked <- as.integer(c(commandArgs(TRUE), "2000", "100")[1:2])
if (length(commandArgs(TRUE)) == 1) asked[2] <- 100L
set.seed(1)
alarms <- alarm_rates(asked[1])
missed <- miss_rates(asked[2])
table <- data.frame(finding = names(alarms), alarms = as.integer(alarms),
  rate = as.numeric(alarms) / asked[1], missed = missed[names(alarms)])
cat(asked[1], "clean analyses, findings above a note:", sum(table$alarms), "\n")
cat(asked[2], "spoiled analyses of each finding; the share that did not raise it:\n")
print(format(table, digits = 2), row.names = FALSE)
dir.create("bench/results", showWarnings = FALSE)
write.csv(table, "bench/results/alarms.csv", row.names = FALSE)
