# A book of rows in memory as the analyst has it: a data frame, whose columns are the originals,
# declared missing codes NA, and the derived variables. It remembers how it was made in its
# attribute `turnbook`, a keeper (src/keeper.cpp), that holds
#   the book     that the functions of this package work with, see book-parts.R
#   the columns  the very ones of the data frame, by which it is known whether another package has
#                changed a copy, see book-stale.R
# A book of a table in a database has no data frame.
as_frame <- function(book) {
  info <- info_of(book)
  if (!is.null(info$site)) return(book)
  book <- with_shown(book)
  columns <- c(part_of_book(book, "shown")$columns, lapply(derived_of(book), .subset2, "x"))
  structure(columns, names = names(book), class = c("turnbook", info$frame_class, "data.frame"),
    row.names = info$row_names %||% .set_row_names(row_count(book)),
    turnbook = new_keeper(book, columns))
}

# Who gave a book, within this package, gets one; who gave a data frame gets a data frame.
# What was done is told by a receipt: it is not printed where nobody assigns it.
as_given <- function(book, given) {
  invisible(if (inherits(given, "ableturn_book")) book else as_frame(book))
}

# The book with its originals as they are shown: those that were known stay the very objects.
with_shown <- function(book) {
  meanings <- meanings_of(book)
  known <- part_of_book(book, "shown")
  if (is.null(known)) {
    columns <- lapply(self_named(original_names(book)), shown_original, book = book)
  } else {
    moved <- names(meanings)[!same_objects(meanings, known$meanings)]
    if (!length(moved)) return(book)
    columns <- known$columns
    moved <- union(moved, intersect(asked_by(book, moved), names(columns)))
    columns[moved] <- lapply(moved, shown_original, book = book)
  }
  with_parts(book, shown = list(meanings = meanings, columns = columns))
}

# The very object that came where nothing has to be set aside of it. Of numbers the declared codes
# are set aside when the column is first touched.
shown_original <- function(name, book) {
  meaning <- .subset2(meanings_of(book), name)
  if (!is.null(meaning$read)) return(read_late(book, name))
  came <- .subset2(info_of(book)$came, name) # of 64 bits
  if (!length(meaning$missing) && is.null(meaning$asked_if)) {
    return(if (is.null(came)) original_in(book, name) else came)
  }
  face <- if (is.null(came)) face_of(original_in(book, name), meaning)
  if (is.null(face)) original_out(book, name, FALSE) else face
}

# NULL where the column is none of plain numbers, or its codes are not points and closed ranges.
face_of <- function(raw, meaning) {
  plain <- typeof(raw) %in% c("integer", "double") && is.null(names(raw)) &&
    !inherits(raw, c("factor", "POSIXct"))
  if (!plain || !is.null(meaning$asked_if)) return(NULL)
  codes <- missing_points(meaning$missing, plain_values(raw[0]))
  ends <- codes$ranges[, 1:2, drop = FALSE]
  if (!all(codes$ranges[, 3:4] == 1)) return(NULL)
  new_face(raw, codes$points, as.double(t(ends)))
}

#' @rdname as.data.frame.turnbook
#' @export
`$.turnbook` <- function(x, name) {
  column <- .subset2(x, name)
  if (is.null(column) && is_by_hand(parent.frame())) {
    warning("There is no variable `", name, "` here.", near_hint(name, names(x)), call. = FALSE)
  }
  column
}

# What is taken from a book is a plain data frame.
plain_frame <- function(x) {
  attr(x, "turnbook") <- NULL
  class(x) <- setdiff(oldClass(x), "turnbook")
  x
}

#' @rdname as.data.frame.turnbook
#' @export
`[.turnbook` <- function(x, ...) {
  x <- plain_frame(x)
  x[...]
}

#' The columns of a turnbook
#'
#' A book of rows in memory is a data frame that remembers how it was made: whatever takes a data
#' frame takes it. Originals come first and are the very objects that came in, with their class,
#' levels, attributes and row names; only declared missing codes are `NA`, unless asked for, and so
#' is the answer of who was not asked; and what is read from texts (by decimal comma, day first) is
#' a number, a day (`Date`) or a moment (`POSIXct`, UTC). Nothing can be assigned to a book. What is
#' taken from it is a plain data frame, and free: some rows, some columns, what other packages sort,
#' filter and join.
#' Where such a result still calls itself a book, the next call of ours sees that it was changed,
#' says so, and goes on with all its columns as originals.
#'
#' `as.data.frame()` gives the plain data frame. Of a book on a table of a database it fetches all
#' rows, `book$name` one column, and `book[rows, columns]` some rows.
#'
#' @param x A turnbook.
#' @param row.names,optional Not used.
#' @param columns The columns in the order wanted, a tidyselect selection; left out, all.
#' @param values `"codes"`, or `"labels"` for factors where values have labels, or `"typed"` for
#'   the texts of variables that are read, as by decimal comma.
#' @param missing `"na"`, or `"codes"` to leave declared missing codes of the
#'   originals in place, or `"reasons"` for a column beside each derived variable
#'   that has missing answers, named with the ending `_why`, that says why.
#' @param labels Give each column its label and its value labels as the
#'   attributes `label` and `labels`.
#' @param ... Of `book[...]`: rows and columns, as of a data frame.
#' @param name Name of a column.
#' @param stringsAsFactors Not used.
#' @return A data frame, or a column. `summary()` gives a table with a row for each
#'   variable.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' mean(book$wait_min, na.rm = TRUE)
#' head(as.data.frame(book, values = "labels")$island)
#' @export
as.data.frame.turnbook <- function(x, row.names = NULL, optional = FALSE, ..., columns = NULL,
                                   values = "codes", missing = "na", labels = FALSE,
                                   stringsAsFactors = FALSE) {
  chosen <- rlang::enquo(columns)
  plain <- rlang::quo_is_null(chosen) && identical(values, "codes") && identical(missing, "na") &&
    isFALSE(labels) && !...length()
  if (plain) return(plain_frame(x))
  rlang::inject(as.data.frame(as_book(x), ..., columns = !!chosen, values = values,
    missing = missing, labels = labels))
}

#' @export
as.list.turnbook <- function(x, ...) as.list(plain_frame(x), ...)

# The originals stay as they came: assigning is for turns. Code of a package that assigns works on a
# copy of its own, which is a plain data frame from there on.
#' @export
`$<-.turnbook` <- function(x, name, value) {
  refuse_assigning(x, name, parent.frame())
  x <- plain_frame(x)
  x[[name]] <- value
  x
}

#' @export
`[[<-.turnbook` <- function(x, i, value) {
  refuse_assigning(x, i, parent.frame())
  x <- plain_frame(x)
  x[[i]] <- value
  x
}

#' @export
`[<-.turnbook` <- function(x, ..., value) {
  refuse_assigning(x, "cells", parent.frame())
  x <- plain_frame(x)
  x[...] <- value
  x
}

#' @export
`names<-.turnbook` <- function(x, value) {
  refuse_assigning(x, "names", parent.frame())
  x <- plain_frame(x)
  names(x) <- value
  x
}

#' @export
`dimnames<-.turnbook` <- function(x, value) {
  refuse_assigning(x, "names", parent.frame())
  x <- plain_frame(x)
  dimnames(x) <- value
  x
}

refuse_assigning <- function(x, name, caller) {
  if (is_by_hand(caller)) refuse_assignment(as_book(x), name)
}

# Whether code is an analyst's, and not that of another package.
is_by_hand <- function(caller) {
  top <- topenv(caller)
  !isNamespace(top) || getNamespaceName(top) == getNamespaceName(topenv())
}

#' @export
within.turnbook <- function(data, expr, ...) refuse_assignment(as_book(data), "cells")

#' @export
transform.turnbook <- function(`_data`, ...) refuse_assignment(as_book(`_data`), "cells")

# R's own methods would keep the class, and the keeper with it.
#' @export
rbind.turnbook <- function(...) {
  do.call(rbind, lapply(list(...), function(x) if (inherits(x, "turnbook")) plain_frame(x) else x))
}

#' @export
rev.turnbook <- function(x) rev(plain_frame(x))

#' @export
droplevels.turnbook <- function(x, ...) droplevels(plain_frame(x), ...)

#' @importFrom utils str
#' @export
str.turnbook <- function(object, ...) utils::str(plain_frame(object), ...)

#' @export
print.turnbook <- function(x, ...) {
  print(as_book(x), ...)
  invisible(x)
}

#' @rdname as.data.frame.turnbook
#' @param object A turnbook.
#' @export
summary.turnbook <- function(object, ...) summary(as_book(object), ...)
