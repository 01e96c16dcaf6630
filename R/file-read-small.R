# A small and regular table, every field as text, without loading more of R than it brings along; NULL
# where anything in it is unusual, and for large files, which are read by readr.
read_small_table <- function(path, reading) {
  if (!is_regular(path, reading)) return(NULL)
  fields <- function(...) {
    scan(whole_path(path), sep = reading$sep, quote = "\"", na.strings = "", strip.white = FALSE, quiet = TRUE,
      encoding = "UTF-8", blank.lines.skip = TRUE, ...)
  }
  tryCatch(
    {
      names <- fields(what = "", nlines = 1)
      columns <- fields(what = rep(list(""), length(names)), skip = 1, multi.line = FALSE)
      if (anyNA(names) || anyDuplicated(names) || !length(columns[[1]])) return(NULL)
      self_numbered(names, lapply(columns, enc2utf8))
    },
    error = function(e) NULL, warning = function(w) NULL
  )
}

# Quotes stand around whole fields without line breaks, lines end alike, and no line is blank or begins or
# ends with a blank.
is_regular <- function(path, reading) {
  shape <- reading$shape
  odd_quotes <- shape$doubled + shape$padded + shape$stray + shape$breaks + shape$lone > 0
  large <- file.size(whole_path(path)) > 2e6
  if (large || reading$bom || reading$encoding != "UTF-8" || !reading$several || odd_quotes) return(FALSE)
  !grepl("\r[^\n]|\n\r?\n|^[ \t\r\n]|\n[ \t]|[ \t]\r?\n|[ \t]$", rawToChar(file_bytes(path)), perl = TRUE,
    useBytes = TRUE)
}
