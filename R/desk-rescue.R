# What is done on a desk without a sheet is kept aside: from the first step on in a live sheet of
# its own in the analyst's folder for such data, until it is saved, or thrown away when the desk is
# closed. After a lost process, a quit browser or Ctrl-C it is offered at the next opening.

rescue_folder <- function() file.path(tools::R_user_dir("ableturn", "data"), "rescue")

# The book with a sheet aside, where it has none; as it is, where none can be kept.
with_rescue <- function(book) {
  if (!is.null(info_of(book)$sheet)) return(book)
  path <- tryCatch(free_rescue(book), error = function(e) NULL, warning = function(w) NULL)
  if (is.null(path)) return(book)
  assign(link_end(path), new_live(steps_of(book), NULL), live_sheets)
  keeping_in(book, as_rescue(path))
}

keeping_in <- function(book, sheet) {
  info <- info_of(book)
  info["sheet"] <- list(sheet)
  with_parts(book, info = info)
}

as_rescue <- function(path) structure(path, class = c("rescue_sheet", "character"))

is_rescued <- function(book) inherits(info_of(book)$sheet, "rescue_sheet")

# Only she can look into the folder.
free_rescue <- function(book) {
  dir.create(rescue_folder(), recursive = TRUE, showWarnings = FALSE, mode = "0700")
  for (path in rescue_paths(book)) {
    if (!file.exists(path) && can_be_locked(path)) return(path)
  }
}

can_be_locked <- function(path) {
  tryCatch({
    lock_sheet(path, path)
    TRUE
  }, ableturn_error = function(e) FALSE)
}

# Named by the data: by the path of their file, else by the names of the columns.
rescue_paths <- function(book) {
  info <- info_of(book)
  of <- if (!is.null(info$file)) normalizePath(absolute_path(info$file), "/", mustWork = FALSE) else
    paste(c(paste(info$site$place), original_names(book)), collapse = "\n")
  sum <- substr(sha256(charToRaw(enc2utf8(of))), 1, 16)
  file.path(rescue_folder(), paste0(sum, c("", paste0("-", 2:50)), ".turns.yaml"))
}

# What was kept aside of the same data by a desk that is gone: its `path`, how many `steps` it holds
# and since `when`; NULL where there is nothing, or the book has steps of its own.
found_rescue <- function(book) {
  if (length(steps_of(book))) return(NULL)
  paths <- Filter(file.exists, rescue_paths(book))
  for (path in paths[order(file.mtime(paths), decreasing = TRUE)]) {
    if (can_be_locked(path)) return(list(path = path, steps = steps_in_sheet(path),
      when = file.mtime(path), sure = FALSE))
  }
}

# Of definitions it is not known there which came with the codebook: they are not counted.
steps_in_sheet <- function(path) {
  tryCatch(length(read_sheet(path)$turns), error = function(e) 0)
}

# What may be done with it, by its name: the screen afterwards.
rescue_ways <- list(
  go_on = function(screen) {
    was <- info_of(screen$state$book)$sheet
    book <- gone_on_with_rescue(screen$state$book, screen$rescue$path)
    if (!is.null(was)) unlock_sheet(was)
    screen$state <- new_desk(book)
    without_rescue(screen)
  },
  leave = function(screen) {
    unlock_sheet(screen$rescue$path)
    without_rescue(screen)
  },
  ask = function(screen) {
    screen$rescue$sure <- TRUE
    screen
  },
  keep = function(screen) {
    screen$rescue$sure <- FALSE
    screen
  },
  throw = function(screen) {
    drop_rescue_file(screen$rescue$path)
    without_rescue(screen)
  }
)

without_rescue <- function(screen) {
  screen["rescue"] <- list(NULL)
  screen
}

# The steps made again; what is done further goes into the same file.
gone_on_with_rescue <- function(book, path) {
  sheet <- read_sheet(path)
  book <- keeping_in(book, NULL)
  book <- collect_receipts(replay(book, with_columns_there(sheet, names(book), FALSE), TRUE))$value
  parts <- sheet_parts(book)
  path <- link_end(path)
  assign(path, new_live(steps_of(book), sum_of_file(path), parts$steps), live_sheets)
  keeping_in(book, as_rescue(path))
}

drop_rescue_file <- function(path) {
  unlink(path)
  unlock_sheet(path)
}

# When the desk is left: closed properly, what was kept aside goes; else it is told where it is. R
# gets the book without it.
leave_rescue <- function(book, closed) {
  if (!is_rescued(book)) return(book)
  path <- unclass(info_of(book)$sheet)
  if (closed || !file.exists(path)) {
    drop_rescue_file(path)
  } else {
    message("What was done on the desk is kept aside (", counted(length(steps_of(book)), "step"),
      ") in\n  ", show_controls(path), "\nOpen the same data at the desk, and it is offered.")
    unlock_sheet(path)
  }
  keeping_in(book, NULL)
}

rescue_html <- function(rescue) {
  if (is.null(rescue)) return(NULL)
  tags <- htmltools::tags
  button <- function(words, what) button_html(words, "rescue", what = what)
  when <- format(rescue$when, "%d %B, %H:%M")
  told <- if (rescue$steps == 0) "Work" else counted(rescue$steps, "step")
  tags$div(class = "lesson", role = "status",
    tags$p(tags$strong(paste0("Kept aside of these data: ", lower_ascii(told))), paste0("(", when,
      "), as a desk ended without being closed. What was done is in no sheet of yours.")),
    tags$p(class = "buttons", if (!rescue$sure) list(button("Go on with it", "go_on"),
      button("Leave it for now", "leave"), button("Throw it away", "ask")) else
      list(tags$span("It cannot be got back then. "), button("Yes, throw it away", "throw"),
        button("No, keep it", "keep"))))
}

# Where the work is safe, for the header and for a page that R has left: "nothing" where nothing was
# done yet; in a "sheet", "saved" as it stands, kept "aside", or in no file ("none").
kept_state <- function(screen) {
  book <- screen$state$book
  steps <- steps_of(book)
  sheet <- info_of(book)$sheet
  # not where the last step could not be written
  aside <- is_rescued(book) && file.exists(sheet) &&
    identical(live_sheets[[link_end(unclass(sheet))]]$log, steps)
  if (!is.null(sheet) && !is_rescued(book)) return(list(kept = "sheet", where = sheet))
  if (!length(steps)) return(list(kept = "nothing"))
  if (identical(steps, screen$saved)) return(list(kept = "saved", where = screen$saved_as))
  list(kept = if (aside) "aside" else "none", where = if (aside) unclass(sheet),
    steps = length(steps), saved = screen$saved_as)
}

kept_html <- function(screen) {
  now <- kept_state(screen)
  steps <- if (!is.null(now$steps)) counted(now$steps, "step")
  short <- function(path) show_controls(basename(path))
  words <- switch(now$kept, nothing = "Nothing is to be kept yet.",
    sheet = paste("Each step is kept at once in", short(now$where)),
    saved = paste("Saved in", short(now$where)),
    aside = paste0(if (is.null(now$saved)) "Kept aside: " else paste0("Changed since ",
      short(now$saved), "; kept aside: "), steps, ". Save the sheet before you close."),
    none = paste0("Kept here only: ", steps, ". Save the sheet before you close."))
  htmltools::tags$span(`data-kept` = now$kept, `data-where` = if (!is.null(now$where))
    show_controls(absolute_path(now$where)), `data-steps` = steps, words)
}
