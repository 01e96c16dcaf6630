# A process writes a live sheet, a table and a codebook again and again until it is killed; what
# stands on disk must then be whole: every file reads, and the sheet holds a record that replays.
kill_worker <- c(
  "library(ableturn); options(ableturn.quiet = TRUE); setwd(commandArgs(TRUE)[1])",
  "unlink('live.turns.yaml'); data <- data.frame(x = 1:400, t = 'some text')",
  "book <- turnbook(data, sheet = 'live.turns.yaml')",
  paste("cat('ready\\n'); i <- 0; repeat { i <- i + 1; book <- turn_compute(book, x + 1, as =",
    "paste0('y', i))"),
  paste("write_data(book, 'table.csv', overwrite = TRUE); write_codebook(book, 'table.json',",
    "overwrite = TRUE) }")
)

attack_kills <- function(times) {
  script <- tempfile(fileext = ".R")
  writeLines(kill_worker, script)
  folder <- tempfile("kills-")
  dir.create(folder)
  told <- character()
  for (i in seq_len(times)) {
    worker <- processx::process$new(file.path(R.home("bin"), "Rscript"),
      c("--vanilla", script, folder), stdout = "|")
    worker$poll_io(20000)
    Sys.sleep(stats::runif(1, 0.02, 0.6))
    worker$kill()
    worker$wait()
    at <- function(name) file.path(folder, name)
    whole <- tryCatch({
      if (file.exists(at("live.turns.yaml"))) {
        quietly(apply_turns(data.frame(x = 1:400), at("live.turns.yaml")))
      }
      if (file.exists(at("table.csv"))) stopifnot(nrow(read_data(at("table.csv"))) == 400)
      if (file.exists(at("table.json"))) read_codebook(at("table.json"))
      ""
    }, error = conditionMessage)
    if (nzchar(whole)) told <- c(told, paste0(i, ": ", whole))
  }
  left <- list.files(folder, "^[.]ableturn", all.files = TRUE)
  if (length(left) > 3) told <- c(told, paste(length(left), "temporary files were left"))
  told
}
