#' Undo the last step
#'
#' Takes back the last step: a turn, a definition, a change or a check. What it
#' had replaced or changed comes back as it was.
#'
#' @param book A turnbook.
#' @return The book without it.
#' @section Errors: `ableturn_error_nothing_to_undo` for an empty record.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"), id = person)
#' book <- turn_compute(book, income / household, as = "income_each")
#' book <- undo(book)
#' @export
undo <- function(book) {
  book <- as_book(book)
  past <- part_of_book(book, "past")
  if (is.null(past)) fail("nothing-to-undo")
  columns <- derived_of(book)
  columns[names(past$columns)] <- past$columns
  meanings <- meanings_of(book)
  meanings[names(past$meanings)] <- past$meanings
  before <- with_parts(book,
    log = past$log %||% utils::head(steps_of(book), -1), columns = columns[past$names],
    meanings = meanings, past = past$past
  )
  stale <- c(names(past$meanings), asked_by(book, names(past$meanings)),
    asked_by(before, names(past$meanings)))
  before <- with_parts(before, cache = cache_without(book, stale))
  keep_sheet(info_of(before)$sheet, before, book)
  show_receipt(new_receipt(list(verb = "undo", step = past$step), list(), row_count(before)))
  before
}

# The end of every step: it can be undone, it is kept in the sheet, and its receipt is shown.
finish_step <- function(after, before, step, receipt) {
  after <- with_parts(after, past = past_of(after, before, step))
  keep_sheet(info_of(after)$sheet, after, before)
  let_go_of_copies(after)
  show_receipt(receipt)
  after
}

# What undo() needs: the parts of the book before the step that differ from those after it.
past_of <- function(after, before, step) {
  changed <- function(part) {
    old <- part_of_book(before, part)
    new <- part_of_book(after, part)
    now <- new[names(old)]
    moved <- which(!same_objects(old, now))
    old[moved[!vapply(moved, function(i) identical(old[[i]], now[[i]]), NA)]]
  }
  grown <- identical(utils::head(steps_of(after), -1), steps_of(before))
  list(
    step = step, log = if (!grown) steps_of(before), names = derived_names(before),
    columns = changed("columns"), meanings = changed("meanings"),
    past = part_of_book(before, "past")
  )
}

# Keeping the sheet is for the room that writes sheets; `before` is the book as it was before the
# step.
keep_sheet <- function(sheet, book, before) UseMethod("keep_sheet")

#' @export
keep_sheet.default <- function(sheet, book, before) invisible(NULL)
