#' @include desk-leave.R
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

# Begins a way out in a process; `screen$work` knows it. What cannot be right is told at once.
begin_work <- function(screen, way, typed) {
  if (!is.null(screen$work)) fail("desk-working", what = ways_out[[screen$work$way]]$title)
  folder <- tempfile("work-")
  dir.create(folder, mode = "0700")
  job <- list(book = as_frame(without_sheet(screen$state$book)), way = way, typed = typed)
  saveRDS(job, file.path(folder, "job.rds"), compress = FALSE)
  process <- callr::r_bg(function(folder) {
    worker <- get("work_away", asNamespace("ableturn"))
    worker(folder)
  }, list(folder), wd = getwd(), supervise = TRUE)
  screen$work <- list(process = process, folder = folder, way = way,
    path = one_typed(typed$path %||% ""), started = seconds_now())
  screen
}

# In that process: what comes of it is written beside the job, and so is how far it is.
work_away <- function(folder) {
  job <- readRDS(file.path(folder, "job.rds"))
  options(ableturn.progress = TRUE, ableturn.reader = "desk")
  told <- withCallingHandlers(leave_by(as_book(job$book), job$way, job$typed),
    ableturn_progress = function(condition) {
      writeLines(conditionMessage(condition), file.path(folder, "progress.txt"))
      rlang::cnd_muffle(condition)
    })
  if (!is.null(told$error)) told$words <- error_words_of(told$error, way_fields(job$way))
  saveRDS(told[c("says", "words", "argument")], file.path(folder, "done.rds"))
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
  told <- if (file.exists(path)) readRDS(path) else list(words =
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

# What the page is told of work that is under way or done.
work_messages <- function(screen, told) {
  if (told$is == "working") return(list(list(do = "working", way = screen$work$way, words =
    paste0(ways_out[[screen$work$way]]$title, ": ", if (nzchar(told$said)) told$said else
      "under way", " (", round(told$seconds), " s)"))))
  html <- if (is.null(told$words)) said_html(told$says, "What was written") else
    error_lines_html(told$words)
  list(list(do = "left", html = as_html(html), argument = told$argument, way = screen$work$way,
    error = if (!is.null(told$words)) as.list(told$words)))
}

word_errors(list(
  "desk-working" = c("The desk is still at this: {what}.", "Wait for it, or stop it.")
))
