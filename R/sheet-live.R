# Live sheets: a book opened with `sheet =` writes its record at every step. One process writes a
# sheet at a time, and what another book has written there is never lost.

#' @export
ready_sheet.character <- function(sheet) {
  if (file.exists(absolute_path(sheet))) fail("sheet-there", path = sheet)
  target <- check_target(sheet, FALSE)
  lock_sheet(target, sheet)
  assign(target, new_live(list(), NULL), live_sheets)
}

#' @export
keep_sheet.character <- function(sheet, book, before) {
  target <- link_end(absolute_path(sheet))
  live <- live_sheets[[target]] %||% new_live(steps_of(before), NULL)
  lock_sheet(target, sheet)
  aside <- if (is_otherwise(live, before, target)) put_aside(target)
  parts <- sheet_parts(book, live$steps)
  check_parts(parts, live$checked)
  write_lines_whole(emit_parts(parts), sheet, overwrite = TRUE)
  now <- new_live(steps_of(book), sum_of_file(target), parts$steps, live$checked)
  assign(target, now, live_sheets)
  if (length(aside)) show_receipt(new_receipt(list(verb = "aside", sheet = sheet, aside = aside),
    list(), row_count(book)))
}

# A sheet that is only kept aside: where it cannot be written, the step counts all the same.
#' @export
keep_sheet.rescue_sheet <- function(sheet, book, before) {
  tryCatch(keep_sheet.character(unclass(sheet), book, before), error = function(e) NULL)
}

# A book whose sheet is there already: made again from the data, and what is done further goes into
# the same sheet. Nobody else may write it from now on. A sheet that holds more than such a book
# would write (remarks of its author) is put aside at the next step, not lost.
go_on_with_sheet <- function(data, sheet, ...) {
  target <- link_end(absolute_path(sheet))
  lock_sheet(target, sheet)
  book <- tryCatch(as_book(apply_turns(data, sheet, ...)), error = function(e) {
    unlock_sheet(target)
    stop(e)
  })
  parts <- sheet_parts(book)
  same <- identical(emit_parts(parts), readLines(target, encoding = "UTF-8", warn = FALSE))
  live <- new_live(steps_of(book), if (same) sum_of_file(target), parts$steps)
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
  !identical(live$log, steps_of(before)) || !identical(live$sum, sum_of_file(target))
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

# One process at a time: the system's own lock on a file beside the sheet, which goes with the
# process that holds it. The file stays when it is released, as another process may be about to lock
# it; who holds it stands in a second file, for the message alone.
lock_sheet <- function(target, sheet) {
  if (!identical(own_locks[[".process"]], Sys.getpid())) forget_locks()
  if (!is.null(own_locks[[target]])) return(invisible())
  held <- tryCatch(filelock::lock(lock_path(target, "lock"), timeout = 0), error = function(e) {
    fail("sheet-no-lock", path = sheet, why = first_sentence(conditionMessage(e)))
  })
  if (is.null(held)) fail("sheet-locked", path = sheet, holder = holder_of(target))
  assign(target, held, own_locks)
  tell_holder(target)
}

lock_path <- function(target, ending) {
  file.path(dirname(target), paste0(".", basename(target), ".", ending))
}

holder_of <- function(target) {
  told <- tryCatch(file_lines(lock_path(target, "holder")), error = function(e) character())
  if (length(told)) show_controls(substr(told[1], 1, 200)) else "another process"
}

tell_holder <- function(target) {
  at <- lock_path(target, "holder")
  unlink(at)
  put_bytes(at, charToRaw(paste0("process ", Sys.getpid(), " on ", Sys.info()[["nodename"]], "\n")),
    TRUE, TRUE, 420L)
}

unlock_sheet <- function(target) {
  if (is.null(own_locks[[target]])) return(invisible())
  unlink(lock_path(target, "holder"))
  filelock::unlock(own_locks[[target]])
  rm(list = target, envir = own_locks)
}

# The locks of this process, by sheet. Those that a process had before it was copied are not those
# of the copy.
own_locks <- new.env()

forget_locks <- function() {
  rm(list = ls(own_locks, all.names = TRUE), envir = own_locks)
  assign(".process", Sys.getpid(), own_locks)
  reg.finalizer(own_locks, function(locks) {
    if (identical(locks[[".process"]], Sys.getpid())) unlink(lock_path(ls(locks), "holder"))
  }, onexit = TRUE)
}
