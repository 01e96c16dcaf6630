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
  came <- held(book, "info")$name
  name <- data_in_script(book)
  lines <- unlist(lapply(derived_names(book), function(v) c("", variable_lines_base(book, v, name))))
  checks <- check_lines(book, name)
  c(
    script_heading(book), "", data_lines(book, came), if (name != came) paste0(name, " <- ", came),
    case_lines(book), "", number_text_lines(c(lines, checks)), valid_lines(book, name), lines, checks, "",
    remark("The derived variables join the originals, which are as they came."),
    paste0(name, "[names(clean)[-seq_along(", name, ")]] <- clean[-seq_along(", name, ")]"),
    if (name != came) paste0(came, " <- ", name)
  )
}

# What the data are called in a script: another name where theirs is one that the script needs for
# something else, or that a variable has.
data_in_script <- function(book) {
  name <- held(book, "info")$name
  taken <- c(names(book), "clean", "holds")
  if (!name %in% taken) return(name)
  setdiff(c("survey", "survey_data", paste0("survey_", seq_along(taken))), taken)[1]
}

# In a Turkish locale R turns i into another letter.
case_lines <- function(book) {
  turns_case <- vapply(held(book, "columns"), function(made) uses(made$expr, words_with("changes case")), NA)
  if (any(turns_case)) c("", remark("Letters change their case as in most languages, not as in Turkish."),
    paste0("stopifnot(toupper(", code_text("i"), ") == ", code_text("I"), ")"))
}

script_heading <- function(book) {
  info <- held(book, "info")
  c(
    remark(counted_text(length(derived_names(book)), "variable"), " derived from ",
      if (is.null(info$file)) "a data frame" else basename(info$file), " (", info$rows, " rows)."),
    remark("Plain R: no package is needed. The original columns are not changed.")
  )
}

counted_text <- function(n, one) paste0(n, " ", one, if (n != 1) "s")
