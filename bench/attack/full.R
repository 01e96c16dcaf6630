# A small disk that fills up while a live sheet and a table are written on it: the step that does
# not fit is refused in words, what stands on the disk is whole and is what the book holds, and with
# room again the work goes on. Needs the right to mount a disk in memory: without it
# with_small_disk() gives NULL.
with_small_disk <- function(kilobytes, work) {
  folder <- tempfile("full-")
  dir.create(folder)
  on.exit(unlink(folder, recursive = TRUE))
  mount <- c("-t", "tmpfs", "-o", sprintf("size=%dk", kilobytes), "tmpfs", folder)
  if (suppressWarnings(system2("mount", mount, stderr = FALSE)) != 0) return(NULL)
  on.exit(system2("umount", folder), add = TRUE, after = FALSE)
  work(folder)
}

attack_full <- function(times) {
  unlist(lapply(seq_len(times), function(i) {
    kilobytes <- sample(24:400, 1)
    with_small_disk(kilobytes, function(folder) fill_and_look(folder, kilobytes * 500))
  }))
}

# Steps until one does not fit beside what is set apart (bytes), then what is wrong with what is
# left; character(0) if nothing.
fill_and_look <- function(folder, set_apart) {
  before <- setwd(folder)
  on.exit(setwd(before))
  data <- data.frame(x = 1:100, t = "some text")
  book <- quietly(turnbook(data, sheet = "live.turns.yaml"))
  writeBin(raw(set_apart), "room")
  wrong <- character()
  for (i in 1:400) {
    next_book <- filling_step(book, i)
    if (is.character(next_book)) break
    book <- next_book
  }
  if (!identical(next_book, "ableturn_error_file_unwritable")) {
    wrong <- paste("ended by", class(next_book)[1])
  }
  wrong <- c(wrong, unlike_disk(book, data))
  unlink("room")
  book <- filling_step(book, 999, 10)
  c(wrong, if (is.character(book)) paste("with room again:", book) else unlike_disk(book, data))
}

# The book with one variable more, also written as a table; or the class of the error.
filling_step <- function(book, i, long = stats::runif(1, 10, 9000)) {
  tryCatch({
    book <- quietly(turn_compute(book, x + 1, as = paste0("y", i), note = strrep("n", long)))
    if (i %% 5 == 0) tryCatch(quietly(write_data(book, "table.csv", overwrite = TRUE)),
      ableturn_error_file_unwritable = identity)
    book
  }, error = function(e) class(e)[1])
}

# What differs between the disk and the book, in words.
unlike_disk <- function(book, data) {
  names <- core("derived_names")
  again <- tryCatch(quietly(apply_turns(data, "live.turns.yaml")), error = identity)
  table <- if (file.exists("table.csv")) tryCatch(nrow(read_data("table.csv")),
    error = conditionMessage)
  left <- list.files(".", "^[.]ableturn", all.files = TRUE)
  c(
    if (inherits(again, "error")) conditionMessage(again)
    else if (!identical(names(again), names(book))) "the sheet holds other variables than the book",
    if (!is.null(table) && !identical(table, 100L)) paste("table:", table),
    if (length(left)) paste("left:", left)
  )
}
