#' Save the turns as a sheet
#'
#' Writes the record as a turn sheet: plain YAML that can be read, amended and
#' replayed with [apply_turns()]. It holds what the originals mean as far as the
#' turns read them, so that it needs no codebook. The same book always gives the
#' same bytes, and the file appears whole or not at all.
#'
#' @param book A turnbook.
#' @param path The file to write, by custom ending in `.turns.yaml`.
#' @param overwrite Replace a file that exists.
#' @param ... Not used.
#' @return The path, invisibly.
#' @section Errors: `ableturn_error_file_exists`, `ableturn_error_file_unwritable`,
#'   `ableturn_error_file_ending`, `ableturn_error_file_is_source`.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"), id = person)
#' book <- turn_reverse(book, c(st_2, st_5), limits = c(1, 5))
#' path <- tempfile(fileext = ".turns.yaml")
#' save_turns(book, path)
#' cat(readLines(path), sep = "\n")
#' @export
save_turns <- function(book, path, overwrite = FALSE, ...) {
  refuse_dots(...)
  book <- as_book(book)
  parts <- sheet_parts(book)
  need_given(path)
  check_ending(path, c("yaml", "yml"), "A turn sheet")
  check_not_source(path, book, sheet = FALSE)
  check_parts(parts)
  write_lines_whole(emit_parts(parts), path, overwrite)
}

# What is to be written is read back before it takes the place of anything: a sheet that would not
# come back the same is an error, and what stands on disk stays. `checked` holds, by part, what
# has come back.
check_parts <- plainly(function(parts, checked = new.env()) {
  check_part("head", parts$head, emit_lines(parts$head), checked)
  for (of in c("seen", "define")) check_named_parts(of, parts[[of]], checked)
  for (i in seq_along(parts$steps)) {
    lines <- parts$steps[[i]]$lines
    check_part(paste("step", i), lines, c(head_line(), "turns:", lines), checked)
  }
})

check_named_parts <- function(of, entries, checked) {
  for (name in names(entries)) {
    lines <- function() c(head_line(), emit_lines(setNames(list(entries[name]), of)))
    check_part(paste(of, name), entries[[name]], lines(), checked)
  }
}

head_line <- function() paste0("able_turn: ", sheet_version)

# A part made `from` the same as when it was found right is right; its `lines` are not even made.
check_part <- function(part, from, lines, checked) {
  if (identical(checked[[part]], from)) return(invisible())
  again <- tryCatch(read_again(lines), error = identity)
  if (!identical(again, lines)) {
    fail("sheet-unlike", where = utils::tail(lines, 1),
      why = if (inherits(again, "error")) conditionMessage(again) else
        paste0("it would come back as ", again[which(again != lines)[1]] %|% "less"))
  }
  assign(part, from, checked)
}

# The lines that a book with what these lines say would write.
read_again <- function(lines) {
  text <- paste(lines, collapse = "\n")
  read <- read_parts(parse_yaml(text, function(why) {
    fail("sheet-yaml", path = "the sheet",
      why = why)
  }), "the sheet")
  read$data$id <- if (!is.null(read$data$id)) bare(read$data$id)
  read$data$accept <- if (length(read$accept)) sheet_value(read$accept, "accepts")
  c(
    emit_lines(c(list(able_turn = sheet_version), if (length(read$data)) list(data = read$data))),
    if (length(read$seen)) emit_lines(list(seen = lapply(read$seen, flow))),
    if (length(read$define)) emit_lines(list(define = lapply(read$define, sheet_meaning))),
    if (length(read$turns)) c("turns:",
      unlist(lapply(read$turns, function(turn) emit_item(sheet_step(turn), 2))))
  )
}
