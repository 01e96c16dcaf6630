#' Write the work as a script
#'
#' `"base"` gives plain R that a colleague without this package can read and
#' run: one commented block for each variable. `"ableturn"` gives the same work
#' as calls of this package.
#'
#' @param book A turnbook.
#' @param path The file to write, by custom ending in `.R`.
#' @param dialect `"base"` or `"ableturn"`.
#' @param overwrite Replace a file that exists.
#' @return The path, invisibly.
#' @section Errors: `ableturn_error_no_turns` if nothing has been made;
#'   `ableturn_error_file_exists`, `ableturn_error_file_unwritable`.
#' @seealso [prove()]
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"), id = person)
#' book <- turn_reverse(book, c(st_2, st_5), limits = c(1, 5))
#' path <- tempfile(fileext = ".R")
#' write_script(book, path)
#' cat(readLines(path), sep = "\n")
#' @export
write_script <- function(book, path, dialect = "base", overwrite = FALSE) {
  write_lines_whole(script_lines(as_book(book), dialect), path, overwrite)
}

script_dialects <- c("base", "ableturn")

script_lines <- function(book, dialect) {
  if (!dialect %in% script_dialects) fail("bad-dialect", dialect = dialect)
  if (!length(derived_names(book))) fail("no-turns")
  if (dialect == "base") base_lines(book) else own_lines(book)
}

base_lines <- function(book) {
  name <- held(book, "info")$name
  made <- derived_names(book)
  c(
    script_heading(book), "", data_lines(book, name), "", valid_lines(book, name),
    unlist(lapply(made, function(v) c("", variable_lines_base(book, v, name)))),
    check_lines(book, name), "", "# The derived variables join the originals, which are as they came.",
    paste0(name, "[names(clean)[-seq_along(", name, ")]] <- clean[-seq_along(", name, ")]")
  )
}

script_heading <- function(book) {
  info <- held(book, "info")
  c(
    paste0("# ", counted_text(length(derived_names(book)), "variable"), " derived from ",
      if (is.null(info$file)) "a data frame" else basename(info$file),
      " (", info$rows, " rows)."),
    "# Plain R: no package is needed. The original columns are not changed."
  )
}

counted_text <- function(n, one) paste0(n, " ", one, if (n != 1) "s")
