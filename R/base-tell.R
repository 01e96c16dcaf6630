tell_analyst <- function(class, ...) {
  if (isTRUE(getOption("ableturn.quiet"))) return(invisible())
  message(structure(class = c(class, "message", "condition"), list(message = "", call = NULL, ...)))
}

# Work of many steps tells how far it is: after two seconds, then each time the time spent has
# doubled, or after ten seconds more. Call what this gives with the number of steps done.
# Progress is a condition, worded by layers above.
progress_of <- function(steps, what) {
  started <- seconds_now()
  due <- 2
  function(done) {
    spent <- seconds_now() - started
    if (spent < due || done >= steps) return(invisible())
    due <<- spent + min(spent, 10)
    show_progress(list(done = done, steps = steps, what = what, seconds = spent))
  }
}

seconds_now <- function() proc.time()[["elapsed"]]

# For people who wait: not for a log.
show_progress <- function(progress) {
  shown <- getOption("ableturn.progress", interactive() || isatty(stderr()))
  if (isTRUE(shown)) tell_analyst("ableturn_progress", progress = progress)
}
