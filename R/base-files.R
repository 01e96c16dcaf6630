# Files that are read: by their path alone, never as an address, a clipboard or a device that a
# reader makes of a name.

check_readable <- function(path) {
  check_text(path, "path", none = FALSE)
  at <- absolute_path(path)
  if (!file.exists(at)) fail("file-missing", path = path, hint = near_file(at))
  if (dir.exists(at)) fail("file-folder", path = path)
  if (path_kind(at) != "file") fail("file-odd", path = path)
  if (file.access(at, 4) != 0) fail("file-closed", path = path)
  if (file.size(at) == 0) fail("file-empty", path = path)
}

near_file <- function(path) near_hint(basename(path), list.files(dirname(path)))

# The path from the root, links left as they are; such a path is nothing but a path.
absolute_path <- function(path) {
  from_root <- grepl("^(/|~|[A-Za-z]:[/\\\\]|\\\\\\\\)", path)
  if (from_root) path.expand(path) else file.path(getwd(), path)
}

# All bytes of a file, as they stand in it: a packed file is not unpacked.
file_bytes <- function(path) {
  con <- file(absolute_path(path), "rb", raw = TRUE)
  on.exit(close(con))
  readBin(con, "raw", file.size(absolute_path(path)))
}

# The text of a file in UTF-8, with or without a mark at its beginning.
file_text <- function(path) {
  bytes <- file_bytes(path)
  if (has_zero(bytes)) fail("file-binary", path = path)
  if (has_bom(bytes)) bytes <- bytes[-(1:3)]
  text <- rawToChar(bytes)
  Encoding(text) <- "UTF-8"
  if (!validUTF8(text)) fail("file-not-utf8", path = path, line = bad_line(bytes))
  text
}

file_lines <- function(path) strsplit(gsub("\r\n?", "\n", file_text(path)), "\n", fixed = TRUE)[[1]]

bad_line <- function(bytes) {
  lines <- strsplit(rawToChar(bytes), "\n", fixed = TRUE, useBytes = TRUE)[[1]]
  which(!validUTF8(lines))[1]
}

# What a text of JSON holds; an error where it is none. The text is looked at before it is parsed:
# the parser of some versions takes what it says of a broken text for a format, so that signs in
# such a text could end R, or worse.
parsed_json <- function(text, ...) {
  sound <- jsonlite::validate(text)
  if (!sound) stop(gsub("\\s+", " ", attr(sound, "err")))
  jsonlite::parse_json(text, ...)
}

# What a file of a stranger names must lie in its own folder: it opens nothing else.
file_beside <- function(name, folder, id, path) {
  beside <- if (grepl("^(/|~|[A-Za-z]:|\\\\)", name)) name else file.path(folder, name)
  real <- function(path) normalizePath(absolute_path(path), "/", mustWork = FALSE)
  if (!startsWith(real(beside), paste0(sub("/$", "", real(folder)), "/"))) {
    fail(id, name = name, path = path)
  }
  beside
}

# A function that works as if nobody had set a decimal comma, other digits or the like: what it
# gives must not depend on it. How wide a line is, and what is printed at all, is the analyst's own.
plainly <- function(f) {
  body(f) <- bquote({
    options_before <- options(plain_options)
    on.exit(options(options_before), add = TRUE)
    .(body(f))
  })
  f
}

plain_options <- list(OutDec = ".", scipen = 0, digits = 7, digits.secs = NULL, warn = 0,
  useFancyQuotes = FALSE, deparse.max.lines = NULL, stringsAsFactors = FALSE)

# Runs code so, and whatever the width and the encoding that are set.
in_plain_settings <- function(code) {
  withr::local_options(c(plain_options, list(encoding = "native.enc", width = 100)))
  if (Sys.getlocale("LC_NUMERIC") == "C") return(code)
  suppressWarnings(withr::with_locale(c(LC_NUMERIC = "C"), code))
}

# File formats of tables, each stated once by `file_format()`. Reading, writing and the scripts go
# by what stands there.
formats <- new.env(parent = emptyenv())

#   endings  of its files, without the dot; the first is the usual one
#   read     a function of path and how it was stated to be read: a data frame, whose attributes
#            `reading` and `spelling` tell how it was read and how its cells are spelled where their
#            values would be written otherwise
#   write    a function of columns (by name), their number of rows, `put`, which takes pieces of
#            the file, and how it is to be written: `separator`, `decimal`, and `codebook`, a
#            function that gives the table of codes
#   cells    whether its cells are texts, which a spreadsheet that opens the file may run as
#            formulas
#   spells   whether cells are written as they were spelled, rather than as values
#   script   a function of the book and the name of the data: the lines of a base script that read
#            the file
#   words    the R functions of these lines, beside those that unpack it
#   is       a function of the first bytes, and of the path, that tells such a file whatever its
#            ending; NULL where the bytes do not tell
#   with_turns  a function of path and how it was stated to be read, of formats that may hold turns
#            beside their table, see turns_packed()
#   typed    whether the columns have types of their own; else how texts are typed is found out
file_format <- function(name, endings, read, write = NULL, spells = FALSE, script = NULL,
                        words = character(), is = NULL, with_turns = NULL, typed = FALSE,
                        cells = FALSE) {
  assign(name, list(name = name, endings = endings, read = read, write = write, spells = spells,
    script = script, words = c(words, "unzip", "tempdir"), is = is, with_turns = with_turns,
    typed = typed, cells = cells), formats)
}

all_formats <- function() {
  lapply(self_named(sort(names(formats), method = "radix")), function(name) formats[[name]])
}

ending_of <- function(path) {
  if (grepl("[.][A-Za-z][A-Za-z0-9]{0,7}$", basename(path))) {
    tolower(sub("^.*[.]", "", basename(path)))
  } else {
    ""
  }
}

# The format that the ending of a path names. Text without such an ending is a table with
# separators.
format_of <- function(path) {
  known <- Filter(function(format) ending_of(path) %in% format$endings, all_formats())
  if (length(known)) known[[1]] else formats[["csv"]]
}

# The format of a file that is there: told by its bytes where these tell, else by its ending.
format_to_read <- function(path) {
  at <- absolute_path(path)
  start <- first_bytes(at, 8)
  told <- Filter(function(format) !is.null(format$is) && format$is(start, at), all_formats())
  if (length(told)) told[[1]] else format_of(path)
}

first_bytes <- function(at, n) {
  con <- file(at, "rb", raw = TRUE)
  on.exit(close(con))
  readBin(con, "raw", n)
}

begins_with <- function(bytes, ...) {
  start <- as.raw(c(...))
  length(bytes) >= length(start) && all(bytes[seq_along(start)] == start)
}

# The mark of byte order that UTF-8 does not need.
has_bom <- function(bytes) begins_with(bytes, 0xef, 0xbb, 0xbf)

# Whether a text is the name of a table's file rather than a value.
names_a_table <- function(text) {
  is.character(text) && length(text) == 1 && !is.na(text) &&
    ending_of(text) %in% unlist(lapply(all_formats(), `[[`, "endings"))
}

# An ending that promises another format than the one written; no ending at all promises nothing.
check_ending <- function(path, endings, what) {
  if (!is.character(path) || length(path) != 1 || is.na(path)) return(invisible())
  ending <- ending_of(path)
  if (nzchar(ending) && !ending %in% tolower(endings)) fail("file-ending", path = basename(path),
    ending = ending, what = what, known = paste0(".", endings, collapse = " or "))
}

# The format to write a table in; its ending must be one of those that can be written.
format_to_write <- function(path) {
  can <- Filter(function(format) !is.null(format$write), all_formats())
  check_ending(path, unlist(lapply(can, `[[`, "endings"), use.names = FALSE), "A table")
  if (is.character(path) && length(path) == 1) format_of(path) else formats[["csv"]]
}
