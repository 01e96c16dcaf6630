# Before anything is kept in a sheet: it must not be there yet.
ready_sheet <- function(sheet) UseMethod("ready_sheet")

#' @export
ready_sheet.default <- function(sheet) invisible(NULL)

# Keeping the sheet is for the layer that writes sheets.
# `before` is the book as it was before the step.
keep_sheet <- function(sheet, book, before) UseMethod("keep_sheet")

#' @export
keep_sheet.default <- function(sheet, book, before) invisible(NULL)
