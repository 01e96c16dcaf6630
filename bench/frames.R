# What a book costs that is a data frame: opening, a definition, a turn beside many columns, many
# turns, the first touch of a column, keeping it in a file. Run it with the library of each version
# that is to be compared; on a quiet machine.
# Use: R_LIBS=... Rscript bench/frames.R [ROWS] [COLUMNS]
suppressPackageStartupMessages(library(ableturn))
options(ableturn.quiet = TRUE)
sizes <- as.numeric(c(commandArgs(TRUE), c(1e6, 1000)[-seq_along(commandArgs(TRUE))]))[1:2]
if (anyNA(sizes)) sizes <- c(1e6, 1000)
rows <- sizes[1]
set.seed(1)
column <- sample(c(1:7, 99L), rows, TRUE)
wide <- stats::setNames(rep(list(column), sizes[2]), paste0("q", seq_len(sizes[2])))
wide <- structure(wide, class = "data.frame", row.names = .set_row_names(rows))

# Seconds, the least of `runs`, and the megabytes that were taken meanwhile.
measured <- list()
measure <- function(what, code, runs = 3) {
  code <- substitute(code)
  frame <- parent.frame()
  told <- vapply(seq_len(runs), function(i) {
    before <- sum(gc(reset = TRUE)[, 2])
    seconds <- system.time(suppressMessages(eval(code, frame)))[["elapsed"]]
    c(seconds, sum(gc()[, 6]) - before)
  }, c(0, 0))
  measured[[what]] <<- c(seconds = min(told[1, ]), megabytes = min(told[2, ]))
}

measure("open", turnbook(wide))
book <- suppressMessages(turnbook(wide))
measure("define all", define(book, tidyselect::everything(), missing = c("No answer" = 99)))
book <- suppressMessages(define(book, tidyselect::everything(), missing = c("No answer" = 99)))
measure("one flag beside them", turn_flag(book, q1 > 3, as = "f"))
measure("first touch of a column", mean(define(book, q7, label = "Seven")$q7, na.rm = TRUE))
measure("plain data frame", as.data.frame(book))
some <- wide[seq_len(min(60, ncol(wide)))]
measure("60 turns, one after the other", {
  made <- suppressMessages(define(some, tidyselect::everything(), missing = c("No answer" = 99)))
  for (i in seq_along(some)) {
    made <- suppressMessages(eval(bquote(turn_flag(made, .(as.name(names(some)[i])) > 3,
      as = .(paste0("f", i))))))
  }
}, runs = 2)
file <- tempfile(fileext = ".rds")
measure("saveRDS() and readRDS() of 60 columns", {
  saveRDS(suppressMessages(turn_flag(some, q1 > 3, as = "f")), file, compress = FALSE)
  names(suppressMessages(turn_flag(readRDS(file), q1 > 4, as = "g")))
}, runs = 2)
texts <- data.frame(w = sub(".", ",", sprintf("%.1f", seq_len(rows) / 7), fixed = TRUE))
measure("read a column of decimal commas", define(texts, w, read = "decimal comma"), runs = 2)
out <- do.call(rbind, measured)
cat(sprintf("%s rows, %s columns\n", format(rows, big.mark = ","), ncol(wide)))
print(round(out, 3))
