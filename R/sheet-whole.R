# An ending that promises another format than the one written; no ending at all promises nothing.
check_ending <- function(path, endings, what) {
  if (!is.character(path) || length(path) != 1 || is.na(path)) return(invisible())
  ending <- tolower(sub("^.*[.]", "", basename(path)))
  promises <- grepl("[.][A-Za-z][A-Za-z0-9]{0,7}$", basename(path)) && !ending %in% endings
  if (promises) fail("file-ending", path = basename(path), ending = ending, what = what,
    known = paste0(".", endings, collapse = " or "))
}
