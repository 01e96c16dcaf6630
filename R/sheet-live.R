# Live sheets: a book opened with `sheet =` writes its record at every step. One process writes a
# sheet at a time, and what another book has written there is never lost.

#' @export
ready_sheet.character <- function(sheet) {
  if (file.exists(whole_path(sheet))) fail("sheet-there", path = sheet)
  target <- check_target(sheet, FALSE)
  lock_sheet(target, sheet)
  assign(target, new_live(list(), NULL), live_sheets)
}

#' @export
keep_sheet.character <- function(sheet, book, before) {
  target <- link_end(whole_path(sheet))
  live <- live_sheets[[target]] %||% new_live(steps_of(before), NULL)
  lock_sheet(target, sheet)
  aside <- if (is_otherwise(live, before, target)) put_aside(target)
  parts <- sheet_parts(book, live$steps)
  check_parts(parts, live$checked)
  write_lines_whole(emit_parts(parts), sheet, overwrite = TRUE)
  now <- new_live(steps_of(book), tools::md5sum(target), parts$steps, live$checked)
  assign(target, now, live_sheets)
  if (length(aside)) show_receipt(new_receipt(list(verb = "aside", sheet = sheet, aside = aside),
    list(), row_count(book)))
}

# A book whose sheet is there already: made again from the data, and what is done further goes into
# the same sheet. Nobody else may write it from now on. A sheet that holds more than such a book
# would write (remarks of its author) is put aside at the next step, not lost.
go_on_with_sheet <- function(data, sheet, ...) {
  target <- link_end(whole_path(sheet))
  lock_sheet(target, sheet)
  book <- tryCatch(apply_turns(data, sheet, ...), error = function(e) {
    unlock_sheet(target)
    stop(e)
  })
  parts <- sheet_parts(book)
  same <- identical(emit_parts(parts), readLines(target, encoding = "UTF-8", warn = FALSE))
  live <- new_live(steps_of(book), if (same) tools::md5sum(target), parts$steps)
  assign(target, live, live_sheets)
  with_parts(book, info = replace(info_of(book), "sheet", sheet))
}

# What this process knows of each sheet that it writes: the record that stands in it, its
# fingerprint, the lines of its steps, and what is known to read back the same.
live_sheets <- new.env()

new_live <- function(log, sum, steps = NULL, checked = new.env()) {
  list(log = log, sum = sum, steps = steps, checked = checked)
}

# Whether the sheet holds something else than the record that the step began with.
is_otherwise <- function(live, before, target) {
  if (path_kind(target) != "file") return(FALSE)
  !identical(live$log, steps_of(before)) || !identical(live$sum, tools::md5sum(target))
}

# The sheet as it stands gets another name.
put_aside <- function(target) {
  names <- paste0(sub("([.]turns)?[.]ya?ml$", "", target), ".aside-", seq_len(1000), ".turns.yaml")
  free <- names[!file.exists(names)][1]
  if (!file.copy(target, free)) {
    fail("file-unwritable", path = free, why = "the sheet could not be kept aside")
  }
  free
}

# One process at a time: a file beside the sheet says which. That of a process that is gone is taken
# over.
lock_sheet <- function(target, sheet) {
  lock <- paste0(target, ".lock")
  own <- paste0(process_name(), "\n")
  for (try in 1:2) {
    if (!nzchar(put_bytes(lock, charToRaw(own), TRUE, TRUE, 384L))) {
      release_at_end()
      assign(target, lock, own_locks)
      return(invisible())
    }
    holder <- if (file.exists(lock)) rawToChar(file_bytes(lock)) else ""
    if (identical(holder, own)) return(invisible(assign(target, lock, own_locks)))
    if (!is_stale(holder)) fail("sheet-locked", path = sheet, holder = trimws(holder), lock = lock)
    unlink(lock)
  }
  fail("file-unwritable", path = lock, why = "it cannot be made")
}

is_stale <- function(holder) {
  host <- sub("-[0-9]+\\s*$", "", holder)
  process <- as.integer(sub("^.*-([0-9]+)\\s*$", "\\1", holder))
  !nzchar(holder) || (identical(host, sub("-[0-9]+$", "", process_name())) && !is_running(process))
}

unlock_sheet <- function(target) {
  unlink(own_locks[[target]])
  rm(list = target, envir = own_locks)
}

own_locks <- new.env()

# Locks go with the session.
release_at_end <- function() {
  if (!is.null(own_locks[[".process"]])) return()
  assign(".process", Sys.getpid(), own_locks)
  reg.finalizer(own_locks, function(locks) {
    if (identical(locks[[".process"]], Sys.getpid())) unlink(unlist(mget(ls(locks), locks)))
  }, onexit = TRUE)
}
