# File formats of tables, each stated once by `file_format()`. Reading, writing and the scripts go by what stands there.
formats <- new.env(parent = emptyenv())

#   endings  of its files, without the dot; the first is the usual one
#   read     a function of path and `blank`: a data frame, whose attributes `reading` and `spelling` tell how it was
#            read and how its cells are spelled where their values would be written otherwise
#   write    a function of columns (by name), their number of rows, and `put`, which takes pieces of the file
#   spells   whether cells are written as they were spelled, rather than as values
#   script   a function of the book and the name of the data: the lines of a base script that read the file
#   words    the R functions of these lines
file_format <- function(name, endings, read, write = NULL, spells = FALSE, script = NULL, words = character()) {
  assign(name, list(endings = endings, read = read, write = write, spells = spells,
    script = script, words = words), formats)
}

all_formats <- function() lapply(self_named(sort(names(formats), method = "radix")), function(name) formats[[name]])

ending_of <- function(path) {
  if (grepl("[.][A-Za-z][A-Za-z0-9]{0,7}$", basename(path))) tolower(sub("^.*[.]", "", basename(path))) else ""
}

# The format that the ending of a path names. Text without such an ending is a table with separators.
format_of <- function(path) {
  known <- Filter(function(format) ending_of(path) %in% format$endings, all_formats())
  if (length(known)) known[[1]] else formats[["csv"]]
}

# Whether a text is the name of a table's file rather than a value.
names_a_table <- function(text) {
  is.character(text) && length(text) == 1 && !is.na(text) &&
    ending_of(text) %in% unlist(lapply(all_formats(), `[[`, "endings"))
}

# An ending that promises another format than the one written; no ending at all promises nothing.
check_ending <- function(path, endings, what) {
  if (!is.character(path) || length(path) != 1 || is.na(path)) return(invisible())
  ending <- ending_of(path)
  if (nzchar(ending) && !ending %in% endings) fail("file-ending", path = basename(path), ending = ending, what = what,
    known = paste0(".", endings, collapse = " or "))
}

# The format to write a table in; its ending must be one of those that can be written.
format_to_write <- function(path) {
  can <- Filter(function(format) !is.null(format$write), all_formats())
  check_ending(path, unlist(lapply(can, `[[`, "endings"), use.names = FALSE), "A table")
  if (is.character(path) && length(path) == 1) format_of(path) else formats[["csv"]]
}
