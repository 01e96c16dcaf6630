# Fifty million rows of ten columns of whole answers in a fresh process: opening them, twenty turns,
# receipts; and the memory of the process at its peak. Use: Rscript bench/fifty.R [file for the
# result], ROWS=50000000
library(ableturn)
rows <- as.numeric(Sys.getenv("ROWS", "50000000"))
set.seed(8)
data <- stats::setNames(replicate(10, sample(c(1:5, NA), rows, TRUE), simplify = FALSE),
  paste0("q", 1:10))
data <- as.data.frame(data)
invisible(gc(full = TRUE))

twenty_turns <- function(book) {
  book <- turn_reverse(book, q1:q10, limits = c(1, 5))
  for (i in 1:4) {
    name <- as.name(paste0("q", i))
    book <- turn_recode(book, !!name, as = paste0("r", i), becomes(1, upto(2)), the_rest(2))
    book <- turn_flag(book, !!name >= 4, as = paste0("f", i))
  }
  book <- turn_composite(book, q1:q10, as = "s", at_least = 7)
  turn_standardize(book, s, as = "z")
}

said <- 0
took <- system.time(withCallingHandlers(made <- twenty_turns(turnbook(data)),
  message = function(m) {
    said <<- said + nchar(conditionMessage(m))
    invokeRestart("muffleMessage")
  }))[["elapsed"]]
stopifnot(said > 0)
again <- system.time(suppressMessages(twenty_turns(turnbook(data))))[["elapsed"]]
peak <- grep("^VmHWM:", readLines("/proc/self/status"), value = TRUE)
result <- data.frame(rows = rows, turns = length(names(made)) - 10, seconds = took, again = again,
  peak_gib = as.numeric(gsub("[^0-9]", "", peak)) / 1024^2)
print(format(result, digits = 3), row.names = FALSE)
if (length(commandArgs(TRUE))) write.csv(result, commandArgs(TRUE)[1], row.names = FALSE)
