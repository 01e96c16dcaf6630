#' Prove that the scripts give the same columns
#'
#' Writes each script to a temporary file, runs it in a fresh R process, and
#' compares every derived column with that of the book: exactly for whole numbers
#' and text, to 1e-12 relative for other numbers, and always row by row for
#' missing answers.
#'
#' @param book A turnbook.
#' @param dialect Which scripts: `"base"`, `"ableturn"` or both.
#' @return A data frame with a row for each script and variable: `dialect`,
#'   `variable`, `rows`, `same`, `differ` (rows that differ), `largest` (largest
#'   difference) and `first` (first row that differs). Its attribute `proved` is
#'   TRUE if all rows are the same. It prints as a table.
#' @section Errors: `ableturn_error_no_turns`, `ableturn_error_data_changed`. A
#'   script that stops is a proof that fails, with the message as its `problem`.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"), id = person)
#' book <- turn_reverse(book, c(st_2, st_5), limits = c(1, 5))
#' prove(book, dialect = "base")
#' @export
prove <- function(book, dialect = script_dialects) {
  book <- as_book(book)
  if (!length(derived_names(book))) fail("no-turns")
  refuse_changed_file(book)
  each <- lapply(dialect, prove_dialect, book = book)
  out <- do.call(rbind, lapply(each, `[[`, "table"))
  problems <- Filter(Negate(is.null), lapply(each, `[[`, "problem"))
  structure(out,
    class = c("ableturn_proof", "data.frame"), problems = problems,
    proved = !length(problems) && all(out$differ == 0)
  )
}

refuse_changed_file <- function(book) {
  info <- held(book, "info")
  if (is.null(info$file)) return()
  now <- if (file.exists(info$file)) fingerprint(as.list(open_data(info$file)$data))
  if (!identical(now, info$fingerprint)) fail("data-changed", file = info$file)
}

prove_dialect <- function(dialect, book) {
  folder <- tempfile("prove-")
  dir.create(folder)
  on.exit(unlink(folder, recursive = TRUE))
  writeLines(enc2utf8(script_lines(book, dialect)), file.path(folder, "script.R"), useBytes = TRUE)
  problem <- run_script(book, folder)
  given <- if (is.null(problem)) readRDS(file.path(folder, "given.rds"))
  rows <- lapply(derived_names(book), compare_column, book = book, given = given, dialect = dialect)
  list(table = do.call(rbind, rows), problem = problem)
}

# Runs the script where the analyst works, so that relative paths hold; NULL when it went well.
run_script <- function(book, folder) {
  info <- held(book, "info")
  quoted <- function(file) quote_text(file.path(folder, file))
  runner <- c(
    if (is.null(info$file)) paste0(info$name, " <- readRDS(", quoted("data.rds"), ")"),
    paste0("source(", quoted("script.R"), ", encoding = \"UTF-8\")"),
    paste0("saveRDS(", info$name, ", ", quoted("given.rds"), ")")
  )
  if (is.null(info$file)) saveRDS(as.data.frame(held(book, "data"), optional = TRUE), file.path(folder, "data.rds"))
  writeLines(enc2utf8(runner), file.path(folder, "run.R"), useBytes = TRUE)
  said <- file.path(folder, "said.txt")
  code <- with_library(system2(file.path(R.home("bin"), "Rscript"),
    c("--vanilla", shQuote(file.path(folder, "run.R"))), stdout = said, stderr = said))
  if (code == 0 && file.exists(file.path(folder, "given.rds"))) return(NULL)
  paste(utils::tail(readLines(said, warn = FALSE), 3), collapse = " ")
}

# The fresh process must find this package where this one did.
with_library <- function(code) {
  old <- Sys.getenv("R_LIBS", NA)
  on.exit(if (is.na(old)) Sys.unsetenv("R_LIBS") else Sys.setenv(R_LIBS = old))
  Sys.setenv(R_LIBS = paste(.libPaths(), collapse = .Platform$path.sep))
  code
}

compare_column <- function(name, book, given, dialect) {
  ours <- column_in(book, name)$x
  theirs <- given[[name]]
  off <- if (length(theirs) != length(ours)) seq_along(ours) else rows_that_differ(ours, theirs)
  data.frame(
    dialect = dialect, variable = name, rows = length(ours), same = length(ours) - length(off),
    differ = length(off), largest = largest_difference(ours, theirs),
    first = if (length(off)) off[1] else NA_integer_
  )
}

largest_difference <- function(ours, theirs) {
  if (is.character(ours) || length(theirs) != length(ours) || is.character(theirs)) return(NA_real_)
  gaps <- abs(as.numeric(ours) - as.numeric(theirs))
  if (all(is.na(gaps))) 0 else max(gaps, na.rm = TRUE)
}
