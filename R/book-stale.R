# Copies of a book that another package has changed, its class and what it remembers still on it:
# they are noticed by the next function of ours.

#' @export
as_book.turnbook <- function(book) {
  keeper <- attr(book, "turnbook", exact = TRUE)
  if (!is_keeper(keeper)) return(as_book(plain_frame(book)))
  known <- kept_book(keeper)
  if (inherits(known, "ableturn_packed")) return(book_from_file(book, keeper, known))
  if (is_intact(book, known, kept_columns(keeper))) known else noticed_copy(book, known)
}

# A data frame from a file, in whose keeper stands what was written beside it.
book_from_file <- function(frame, keeper, packed) {
  book <- unpack_book(packed, frame)
  if (is.null(book)) return(noticed_saved_copy(frame, packed))
  keep_in(keeper, book, as.list(plain_frame(frame)))
  book
}

# Whether these are the very columns in their order, and as many rows.
is_intact <- function(frame, book, columns) {
  identical(names(frame), names(columns)) && has_very_columns(frame, columns) &&
    .row_names_info(frame, 2L) == row_count(book)
}

# What was changed is told; from here on all that is there counts as originals, with the meanings
# that they had.
noticed_copy <- function(frame, book) {
  changed <- differences(frame, names(book), row_count(book), function(name) {
    hold_the_same(.subset2(frame, name), column_out(book, name))
  })
  if (!length(unlist(changed))) return(book)
  meanings <- lapply(self_named(names(book)), meaning_in, book = book)
  info <- info_of(book)
  start_anew(frame, list(name = info$name, id = info$id, meanings = meanings), changed)
}

# A book of the data frame as it is, with what was known of the one before.
start_anew <- function(frame, before, changed) {
  opened <- open_data(plain_frame(frame))
  opened$name <- before$name
  book <- book_of(opened)
  known <- lapply(before$meanings[intersect(names(before$meanings), names(book))], kept_meaning)
  meanings <- meanings_of(book)
  meanings[names(known)] <- known
  book <- with_parts(book, meanings = meanings)
  show_receipt(new_receipt(c(list(verb = "changed copy"), changed), list(), row_count(book)))
  if (!length(before$id) || !before$id %in% names(book)) return(book)
  tryCatch(with_id(book, before$id), ableturn_error = function(e) book)
}

# One from a file whose columns are no longer those that it was written with.
noticed_saved_copy <- function(frame, packed) {
  meanings <- c(packed$meanings, lapply(packed$derived, `[[`, "meaning"))
  prints <- setNames(packed$prints, packed$names)
  start_anew(frame, list(name = packed$info$name, id = packed$info$id, meanings = meanings),
    differences(frame, packed$names, packed$rows, function(name) {
      column_fingerprint(.subset2(frame, name)) == prints[[name]]
    }))
}

# For whom a question was asked, and how texts are read, was of the data as they were.
kept_meaning <- function(meaning) without_fields(meaning, c("asked_if", "read"))

# How a copy differs from what it was made of, whatever the order of its columns: `is_same` tells of
# a column of both whether it holds the same. Where rows are others, so is every column.
differences <- function(frame, before, rows, is_same) {
  now <- .row_names_info(frame, 2L)
  both <- intersect(before, names(frame))
  list(rows = if (now != rows) c(rows, now),
    changed = if (now == rows) both[!vapply(both, is_same, NA)],
    gone = setdiff(before, names(frame)), new = setdiff(names(frame), before))
}

hold_the_same <- function(a, b) {
  attributes(a) <- attributes(b) <- NULL
  identical(a, b)
}
