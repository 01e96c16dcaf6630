# A desk in a process of its own, and a browser that is driven line by line, see tools/browser.

driver <- function() file.path("..", "..", "tools", "browser", "drive.mjs")

a_browser <- function() Sys.which(c("chromium", "chromium-browser", "google-chrome"))

# Only where it was set up, which is for `make test-desk`.
skip_without_browser <- function() {
  skip_if(!dir.exists(file.path(dirname(driver()), "node_modules")), "no browser is driven here")
  skip_if(!any(nzchar(a_browser())) || !nzchar(Sys.which("node")), "no browser here")
  skip_if_not_installed("shiny")
}

# A function that says a command to the browser and gives what it answers. It ends with the test.
new_browser <- function(env = parent.frame()) {
  path <- a_browser()
  process <- processx::process$new("node", c(driver(), path[nzchar(path)][1]), stdin = "|",
    stdout = "|", stderr = "|")
  withr::defer(process$kill_tree(), envir = env)
  function(do, ...) {
    said <- jsonlite::toJSON(list(do = do, ...), auto_unbox = TRUE)
    process$write_input(paste0(said, "\n"))
    repeat {
      process$poll_io(40000)
      lines <- process$read_output_lines()
      if (length(lines)) break
      if (!process$is_alive()) stop("the browser ended: ", process$read_error())
    }
    told <- jsonlite::fromJSON(lines[length(lines)], simplifyVector = TRUE)
    if (!is.null(told$failed)) stop(do, " ", paste(list(...), collapse = " "), ": ", told$failed)
    told$value
  }
}

# A desk by an expression of R, in a folder of its own: its `address`, and the process.
new_desk_process <- function(code, folder, env = parent.frame()) {
  lines <- c("library(ableturn)", paste0("book <- ", code), "saveRDS(names(book), \"names.rds\")")
  writeLines(lines, file.path(folder, "open.R"))
  process <- processx::process$new(file.path(R.home("bin"), "Rscript"), "open.R", wd = folder,
    stdout = file.path(folder, "said.txt"), stderr = file.path(folder, "said.txt"))
  withr::defer(process$kill_tree(), envir = env)
  for (try in 1:200) {
    Sys.sleep(0.1)
    said <- if (file.exists(file.path(folder, "said.txt"))) readLines(file.path(folder, "said.txt"),
      warn = FALSE)
    address <- grep("http://", said, value = TRUE)
    if (length(address)) break
    if (!process$is_alive()) stop("the desk did not open: ", paste(said, collapse = "\n"))
  }
  Sys.sleep(0.3)
  list(address = sub(".*(http://\\S+).*", "\\1", address[1]), process = process)
}
