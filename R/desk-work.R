#' @include desk-acts.R desk-leave.R
NULL

# Work that takes long is done beside the desk: a process of its own gets the book as it stands and
# what was asked, tells how far it is, and can be stopped; the desk goes on meanwhile. A book on a
# table of a database cannot leave its connection: there the page says that it waits.

long_ways <- c("report", "codebook", "package", "prove", "data")

is_long_way <- function(way, book) {
  few <- way == "data" && as.double(row_count(book)) * length(names(book)) < 2e6
  way %in% long_ways && !few && site_can(site_of(book), "values") &&
    requireNamespace("callr", quietly = TRUE)
}

# Each kind of such work by its name: its `title`; `run`, a function of the job that is called in
# the process and gives what there is to tell; `end`, a function of the screen and of that, which
# gives the screen and what it says to the page; and what is said where it is `stopped`.
work_kinds <- new.env(parent = emptyenv())

way_out_work <- function(way) {
  list(title = ways_out[[way]]$title, stopped = "Stopped. Nothing was written.",
    run = function(job) {
      told <- leave_by(as_book(job$book), job$way, job$typed)
      if (!is.null(told$error)) told$words <- error_words_of(told$error, way_fields(job$way))
      told[c("says", "words", "argument")]
    },
    end = function(screen, told) with_message(screen, left_message(told, screen$work$way)))
}

list2env(lapply(self_named(long_ways), way_out_work), work_kinds)

# Begins it in a process; `screen$work` knows it. What cannot be right is told at once.
begin_work <- function(screen, way, job, path = "") {
  if (!is.null(screen$work)) fail("desk-working", what = work_kinds[[screen$work$way]]$title)
  folder <- tempfile("work-")
  dir.create(folder, mode = "0700")
  saveRDS(c(job, list(way = way)), file.path(folder, "job.rds"), compress = FALSE)
  process <- callr::r_bg(function(folder) {
    worker <- get("work_away", asNamespace("ableturn"))
    worker(folder)
  }, list(folder), wd = getwd(), supervise = TRUE)
  screen$work <- list(process = process, folder = folder, way = way, path = path,
    started = seconds_now())
  screen
}

# In that process: what comes of it is written beside the job, and so is how far it is.
work_away <- function(folder) {
  job <- readRDS(file.path(folder, "job.rds"))
  options(ableturn.progress = TRUE, ableturn.reader = "desk")
  told <- withCallingHandlers(work_kinds[[job$way]]$run(job), ableturn_progress = function(c) {
    writeLines(conditionMessage(c), file.path(folder, "progress.txt"))
    rlang::cnd_muffle(c)
  })
  saveRDS(told, file.path(folder, "done.rds"), compress = FALSE)
}

# How the work stands: "working" with what it said last, or "done" with what came of it.
look_at_work <- function(work) {
  if (work$process$is_alive()) {
    path <- file.path(work$folder, "progress.txt")
    said <- if (file.exists(path)) tryCatch(readLines(path, warn = FALSE), error = function(e) "")
    return(list(is = "working", said = paste(said, collapse = " "),
      seconds = seconds_now() - work$started))
  }
  path <- file.path(work$folder, "done.rds")
  told <- if (file.exists(path)) readRDS(path) else list(failed =
    c("This ended without a result.", "Nothing was written. Try it again."))
  unlink(work$folder, recursive = TRUE)
  c(list(is = "done"), told)
}

# Stopped: what is half written goes.
stop_work <- function(work) {
  work$process$kill_tree()
  work$process$wait(2000)
  if (nzchar(work$path)) clear_leftovers(absolute_path(work$path))
  unlink(work$folder, recursive = TRUE)
}

# The screen, and what the page is told of work that is under way or done.
after_work <- function(screen, told) {
  if (told$is == "working") return(with_message(screen, working_message(screen, told)))
  end <- if (is.null(told$failed)) work_kinds[[screen$work$way]]$end else function(screen, told) {
    with_message(screen, left_message(list(words = told$failed), screen$work$way))
  }
  after <- end(screen, told)
  after$screen["work"] <- list(NULL)
  after
}

working_message <- function(screen, told = list(said = "", seconds = 0)) {
  list(do = "working", way = screen$work$way, words = paste0(work_kinds[[screen$work$way]]$title,
    ": ", if (nzchar(told$said)) told$said else "under way", " (", round(told$seconds), " s)"))
}

left_message <- function(told, way) {
  html <- if (is.null(told$words)) said_html(told$says, "What was written") else
    error_lines_html(told$words)
  list(do = "left", html = as_html(html), argument = told$argument, way = way,
    error = if (!is.null(told$words)) as.list(told$words))
}

word_errors(list(
  "desk-working" = c("The desk is still at this: {what}.", "Wait for it, or stop it.")
))
