# Writes the table of promises into SECURITY.md: each with the tests that say that they hold it. The
# promises stand in tests/testthat/helper-promises.R.
# Use: Rscript tools/promises.R [check], which writes nothing and fails where the table is another.
source("tests/testthat/helper-promises.R")

# The names that stand in the calls of promise() in a file.
promised_in <- function(file) {
  calls <- list()
  walk <- function(e) {
    if (!is.call(e)) return()
    if (identical(e[[1]], as.name("promise"))) calls <<- c(calls, list(e[[2]]))
    for (i in seq_along(e)) if (is.call(e[[i]])) walk(e[[i]])
  }
  for (e in parse(file)) walk(e)
  unlist(lapply(calls, eval, baseenv()))
}

files <- c(list.files("tests/testthat", "^test-.*[.]R$", full.names = TRUE),
  list.files("bench/attack", "[.]R$", full.names = TRUE))
held <- lapply(setNames(files, basename(files)), promised_in)
unknown <- setdiff(unlist(held), names(promises))
if (length(unknown)) stop("No such promise: ", paste(unknown, collapse = ", "))
by <- lapply(names(promises), function(name) {
  names(held)[vapply(held, function(h) name %in% h, NA)]
})
bare <- promises[lengths(by) == 0]
if (length(bare)) stop("These promises have no test:\n  ", paste(bare, collapse = "\n  "))

rows <- sprintf("| %s | %s |", promises, vapply(by, function(files) {
  paste0("`", files, "`", collapse = ", ")
}, ""))
lines <- readLines("SECURITY.md", encoding = "UTF-8")
ends <- match(c("<!-- promises -->", "<!-- end of promises -->"), lines)
made <- c(lines[seq_len(ends[1])], "| promise | held by |", "| --- | --- |", rows,
  lines[seq(ends[2], length(lines))])
if (identical(commandArgs(TRUE), "check")) {
  if (!identical(made, lines)) stop("SECURITY.md is not up to date: Rscript tools/promises.R")
} else {
  writeLines(enc2utf8(made), "SECURITY.md", useBytes = TRUE)
}
