#' One file that explains every derived variable
#'
#' Writes a report for a supervisor, a colleague or a journal: what was done, what is open, and for
#' each derived variable its meaning, how it is made (in words, as a formula, as rules), what became
#' of the values of its source, a figure, its missing answers by reason, findings with the reasons
#' they were accepted, the arithmetic of one row and its lines of the script; at the end a methods
#' paragraph, the whole scripts and the codebook. An HTML report is one file that works offline, can
#' be searched and prints well.
#'
#' @param book A turnbook in which something was made.
#' @param path Where the report goes.
#' @param ... Not used; the arguments after it are written in full.
#' @param format `"html"` or `"md"` (Markdown, without figures); left out, what the ending of `path`
#'   says.
#' @param title Its heading; left out, the name of the data.
#' @param overwrite Replace the file if it exists.
#' @return The book, invisibly.
#' @section Errors: Class `ableturn_error`: `ableturn_error_no_turns` if nothing was made yet,
#'   `ableturn_error_file_exists` if the file is there already, `ableturn_error_package_needed` if
#'   ggplot2, svglite or htmltools is not installed.
#' @examplesIf rlang::is_installed(c("ggplot2", "svglite", "htmltools"))
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_bin(book, wait_min, as = "wait3", at = c(10, 30), accept = "boundary")
#' report(book, tempfile(fileext = ".html"))
#' @export
report <- function(book, path, ..., format = NULL, title = NULL, overwrite = FALSE) {
  refuse_dots(...)
  book <- as_book(book)
  need_given(path)
  format <- check_choice(format %||% if (grepl("[.]md$", path)) "md" else "html", "format",
    c("html", "md"))
  check_ending(path, c("html", "md", "htm"), "A report")
  check_not_source(path, book)
  if (!length(derived_names(book))) fail("no-turns")
  check_text(title, "title")
  if (format == "html") need_report()
  title <- title %||% paste("Derived variables of", data_title(book))
  lines <- in_plain_settings(if (format == "html") report_html(book,
    title) else report_markdown(book, title))
  write_lines_whole(lines, path, overwrite)
  invisible(book)
}

need_report <- function() {
  for (package in c("ggplot2", "svglite", "htmltools")) need_package(package, "a report")
}
