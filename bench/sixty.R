# Sixty turns on a million rows and sixty columns in a fresh process, receipts and findings
# included, beside reading the same data from a CSV file; and the memory that the turns take at
# most. Use: Rscript bench/sixty.R [file for the result], ROWS=1000000
library(ableturn)
options(ableturn.quiet = TRUE)
source("bench/sixty-turns.R")
rows <- as.numeric(Sys.getenv("ROWS", "1000000"))
set.seed(2)
kept <- Sys.getenv("SIXTY_DATA")
if (!nzchar(kept)) {
  # The data are made, written and read as CSV in this process; the turns are made in another one,
  # whose memory holds nothing but the data.
  data <- sixty_columns(rows)
  path <- tempfile(fileext = ".csv")
  readr::write_csv(data, path, progress = FALSE)
  read <- system.time(readr::read_csv(path, show_col_types = FALSE, progress = FALSE,
    lazy = FALSE))[["elapsed"]]
  kept <- tempfile(fileext = ".rds")
  saveRDS(data, kept, compress = FALSE)
  Sys.setenv(SIXTY_DATA = kept, SIXTY_READ = read)
  quit(status = system2(file.path(R.home("bin"), "Rscript"), c("bench/sixty.R", commandArgs(TRUE))))
}
data <- readRDS(kept)
book <- turnbook(data)
rm(data)
invisible(gc(full = TRUE))

memory <- function(field) {
  line <- grep(paste0("^", field, ":"), readLines("/proc/self/status"), value = TRUE)
  as.numeric(gsub("[^0-9]", "", line)) / 1024
}
read <- as.numeric(Sys.getenv("SIXTY_READ"))
can_measure <- file.exists("/proc/self/clear_refs") && file.access("/proc/self/clear_refs", 2) == 0
if (can_measure) {
  cat("5", file = "/proc/self/clear_refs")
  before <- memory("VmRSS")
}
took <- system.time(made <- sixty_turns(book))
extra <- if (can_measure) memory("VmHWM") - before else NA
columns <- lapply(ableturn:::derived_of(ableturn:::as_book(made)), mget, x = c("x", "why"))
derived <- sum(vapply(columns, function(x) as.numeric(utils::object.size(x)), 0)) / 1024^2
result <- data.frame(rows = rows, turns = length(columns), seconds = took[["elapsed"]],
  read_csv = read, times_faster = read / took[["elapsed"]], derived_mb = derived, extra_mb = extra,
  ratio = extra / derived)
print(format(result, digits = 3), row.names = FALSE)
if (length(commandArgs(TRUE))) write.csv(result, commandArgs(TRUE)[1], row.names = FALSE)
