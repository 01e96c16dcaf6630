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
  # what is kept aside lies in the folder, too
  process <- processx::process$new(file.path(R.home("bin"), "Rscript"), "open.R", wd = folder,
    stdout = file.path(folder, "said.txt"), stderr = file.path(folder, "said.txt"),
    env = c("current", R_USER_DATA_DIR = file.path(folder, "aside")))
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

# A desk and a browser on it: `say` drives the browser, `room` is the folder of the desk.
open_desk <- function(code = "desk(open = FALSE)", env = parent.frame()) {
  room <- withr::local_tempdir(.local_envir = env)
  served <- new_desk_process(code, room, env)
  say <- new_browser(env)
  expect_equal(say("open", url = served$address), 200)
  say("until", code = "document.querySelectorAll('[role=option]').length > 0")
  list(say = say, room = room, address = served$address, process = served$process)
}

choose <- function(say, names) {
  say("click", at = paste0("[data-name='", names[1], "'] .name"))
  for (name in names[-1]) say("click", at = paste0("[data-name='", name, "'] .tick"))
}

answer_with <- function(say, verb) say("click", at = paste0("[data-do=ask][data-verb=", verb, "]"))

# Waits until what was asked in a dialogue is done, also where it is done beside the desk.
until_left <- function(say) {
  say("until", code = paste("document.getElementById('work').hidden &&",
    "!/^(Working|Under way)/.test(document.getElementById('left').textContent)"))
}

keep <- function(say) say("click", at = "#form button.main")

# What looks like missing codes of the variable that is looked at, by its button.
define_crossings <- function(say) {
  say("click", at = "[data-suspects]")
  say("type", at = ".line input >> nth=0", text = "Don't know")
  say("type", at = ".line input >> nth=1", text = "98")
  say("type", at = ".line input >> nth=2", text = "Refused")
  say("type", at = ".line input >> nth=3", text = "99")
  keep(say)
}

# Rules for it: 0 becomes 0, 1 to 4 become 1; then 5 and more become 2.
begin_rules <- function(say) {
  answer_with(say, "recode")
  say("type", at = "tr[data-value='0'] input", text = "0")
  say("type", at = ".range .when", text = "1 .. 4")
  say("type", at = ".range .becomes", text = "1")
}

end_rules <- function(say) {
  say("type", at = ".range:nth-child(2) .when", text = "5 ..")
  say("type", at = ".range:nth-child(2) .becomes", text = "2")
}

# Two items turned round, with the limits of their scale.
reverse_items <- function(say) {
  choose(say, c("st_2", "st_5"))
  answer_with(say, "reverse")
  say("type", at = "#f-limits", text = "1 5")
  keep(say)
}

# A first session on these data: what is done on the page, and the calls it stands for.
a_session <- function(say) {
  choose(say, "crossings")
  define_crossings(say)
  begin_rules(say)
  expect_match(say("text", at = "tr[data-value='7'] .now"), "not yet taken")
  end_rules(say)
  for (i in 0:2) say("type", at = paste0("#new-label-", i), text = c("None", "Some", "Many")[i + 1])
  say("type", at = "#f-as", text = "rider3")
  expect_match(say("text", at = "tr[data-value='7'] .now"), "2 Many")
  keep(say)
  choose(say, c("gender_code", "age"))
  answer_with(say, "recode")
  say("check", at = "input[value=case]")
  for (i in 1:2) {
    row <- paste0("tr.case:nth-child(", i, ") ")
    say("type", at = paste0(row, "[data-name=gender_code]"), text = "1; 2")
    say("type", at = paste0(row, "[data-name=age]"), text = c("< 40", "40 ..")[i])
  }
  say("type", at = "tr.case:nth-child(2) .becomes", text = "5")
  say("type", at = "#f-as", text = "gender_age")
  keep(say)
  reverse_items(say)
  choose(say, c("st_1", "st_3", "st_4", "st_6", "st_2_r", "st_5_r"))
  answer_with(say, "composite")
  say("type", at = "#f-at_least", text = "4")
  say("type", at = "#f-as", text = "strain")
  keep(say)
  say("click", at = ".card:first-of-type [data-do=amend]")
  say("type", at = "#f-at_least", text = "5")
  keep(say)
  for (do in c("undo", "redo")) say("click", at = paste0("[data-do=", do, "]"))
}

# What an independent checker finds on the page as it stands, wide and narrow, and of its colours in
# the dark; and whether it is wider than the window.
expect_open_to_all <- function(say, page) {
  for (width in c(1280, 400)) {
    say("size", width = width, height = 800)
    for (dark in c(FALSE, TRUE)) {
      say("dark", on = dark)
      expect_equal(unlist(say("axe", colours = dark)), NULL, info = paste(page, width, dark))
    }
    over <- "document.documentElement.scrollWidth - document.documentElement.clientWidth"
    expect_lte(say("ask", code = over), 0)
  }
  say("size", width = 1280, height = 800)
  say("dark", on = FALSE)
}
