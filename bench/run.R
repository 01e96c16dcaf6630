# Measures the package against base R and against the least that any work must do, in one run on
# one machine; how time grows; memory; and starting. Writes tables and a figure to bench/results.
# Use: make bench, or Rscript bench/run.R [part of a work's name ...]  with ROWS=5000000, RUNS=5
library(ableturn)
options(ableturn.quiet = TRUE)
for (file in c("works.R", "measure.R", "sixty-turns.R", "growth.R", "doors.R", "readers.R",
  "figure.R")) {
  source(file.path("bench", file))
}
Rcpp::sourceCpp("bench/floor.cpp")
rows <- as.numeric(Sys.getenv("ROWS", "5000000"))
runs <- as.numeric(Sys.getenv("RUNS", "5"))
only <- commandArgs(TRUE)
dir.create("bench/results", showWarnings = FALSE)

told <- function(table, title, name) {
  lines <- c("", title, "",
    utils::capture.output(print(format(table, digits = 3), row.names = FALSE)))
  cat(lines, sep = "\n")
  if (!length(only)) {
    utils::write.csv(table, file.path("bench/results", paste0(name, ".csv")), row.names = FALSE)
  }
}

names <- if (length(only)) grep(paste(only, collapse = "|"), names(works),
  value = TRUE) else names(works)
set.seed(1)
data <- survey_data(rows)
book <- turnbook(data)
result <- do.call(rbind, lapply(names, function(name) {
  cat(name, "\n")
  measure_work(name, book, data, runs)
}))
told(result,
  paste("Seconds of the turn whole and alone, and with the first reading of its columns; of base R",
    "and of the floor; how many times faster; floors that the first reading takes"),
  "works")
if (length(only)) quit()
figure_of_works(result, "bench/results/works.png")
rm(data, book)
told(growth_in_rows(), "Growth in rows: seconds", "rows")
told(growth_in_turns(), "Growth in turns on 1,000 rows", "turns")
told(few_rows(), "One turn on 1,000 rows", "few-rows")
told(starting(), "Starting", "starting")
told(reports(c(20, 300)), "Reports on 1,200 rows: seconds", "reports")
told(doors(1e6), "Doors, 1 million rows: seconds, beside the reader or writer alone", "doors")
told(readers(), "Readers, 1 million rows: seconds, beside the library alone", "readers")
cat("\nSixty turns on a million rows, beside reading the same data as CSV\n\n")
system2(file.path(R.home("bin"), "Rscript"), c("bench/sixty.R", "bench/results/sixty.csv"))
cat("\nFifty million rows, 10 columns of whole answers, 20 turns\n\n")
system2(file.path(R.home("bin"), "Rscript"), c("bench/fifty.R", "bench/results/fifty.csv"))
cat("\nTables and the figure are in bench/results.\n")
