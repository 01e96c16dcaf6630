#' Undo the last step, or do it again
#'
#' `undo()` takes back the last step: a turn, a definition, a change or a check. What it had
#' replaced or changed comes back as it was. `redo()` does again what was undone last, as long as
#' nothing else was done since.
#'
#' @param book A turnbook.
#' @return The book without the step, or with it again.
#' @section Errors: `ableturn_error_nothing_to_undo` for an empty record,
#'   `ableturn_error_nothing_to_redo` where no step was undone last.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"), id = person)
#' book <- turn_compute(book, income / household, as = "income_each")
#' book <- undo(book)
#' book <- redo(book)
#' @export
undo <- function(book) {
  came <- book
  book <- as_book(book)
  past <- part_of_book(book, "past")
  if (is.null(past)) fail("nothing-to-undo")
  before <- book_by(book, past)
  undone <- difference(before, book, past$step)
  before <- with_parts(before, past = past$past,
    undone = c(list(undone), part_of_book(book, "undone")))
  as_given(show_change(before, book, "undo", past$step), came)
}

#' @rdname undo
#' @export
redo <- function(book) {
  came <- book
  book <- as_book(book)
  undone <- part_of_book(book, "undone")
  if (!length(undone)) fail("nothing-to-redo")
  step <- undone[[1]]$step
  after <- book_by(book, undone[[1]])
  after <- with_parts(after, past = past_of(after, book, step), undone = undone[-1])
  as_given(show_change(after, book, "redo", step), came)
}

# The book that a difference leads to from this one.
book_by <- function(book, to) {
  columns <- derived_of(book)
  columns[names(to$columns)] <- to$columns
  meanings <- meanings_of(book)
  meanings[names(to$meanings)] <- to$meanings
  other <- with_parts(book, log = to$log %||% utils::head(steps_of(book), -1),
    columns = columns[to$names], meanings = meanings)
  stale <- c(names(to$meanings), asked_by(book, names(to$meanings)),
    asked_by(other, names(to$meanings)))
  with_parts(other, cache = cache_without(other, stale))
}

show_change <- function(after, before, verb, step) {
  keep_sheet(info_of(after)$sheet, after, before)
  show_receipt(new_receipt(list(verb = verb, step = step), list(), row_count(after)))
  after
}

# The end of every step: it can be undone, it is kept in the sheet, and its receipt is shown.
finish_step <- function(after, before, step, receipt) {
  past <- past_of(after, before, step)
  after <- with_parts(with_followed(after, NULL), past = past, undone = NULL)
  keep_sheet(info_of(after)$sheet, after, before)
  let_go_of_copies(after)
  show_receipt(receipt)
  after
}

# What undo() needs: the way back from `after` to `before`, and the ways from there.
past_of <- function(after, before, step) {
  c(difference(after, before, step), list(past = part_of_book(before, "past")))
}

# The parts of a book `to` by which another leads to it: those that differ. `log` is not kept where
# it is that of `from` without its last step.
difference <- function(from, to, step) {
  differing <- function(part) {
    wanted <- part_of_book(to, part)
    there <- part_of_book(from, part)[names(wanted)]
    moved <- which(!same_objects(wanted, there))
    wanted[moved[!vapply(moved, function(i) same_parts(wanted[[i]], there[[i]]), NA)]]
  }
  grown <- identical(utils::head(steps_of(from), -1), steps_of(to))
  list(step = step, log = if (!grown) steps_of(to), names = derived_names(to),
    columns = differing("columns"), meanings = differing("meanings"))
}

# Two variables are the same that are made in the same way of the same sources.
same_parts <- function(a, b) {
  if (!is.environment(a) || !is.environment(b)) return(identical(a, b))
  same <- function(field) identical(a[[field]], b[[field]])
  all(vapply(c("name", "expr", "meaning", "rules", "learned", "found", "facts", "verb"), same,
    NA)) && all(unlist(same_objects(unname(a$sources), unname(b$sources))))
}

# Keeping the sheet is for the room that writes sheets; `before` is the book as it was before the
# step.
keep_sheet <- function(sheet, book, before) UseMethod("keep_sheet")

#' @export
keep_sheet.default <- function(sheet, book, before) invisible(NULL)
