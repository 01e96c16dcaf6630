#' SQL, and the engines it is written for
#'
#' [write_script()] with `dialect = "sql"` writes the work as one statement for
#' SQLite, DuckDB or PostgreSQL. It makes a table of the originals, as they are, and
#' the derived variables, and reads the data from a table that is named in its
#' heading. [prove()] runs the script for SQLite on the data where the packages DBI
#' and RSQLite are installed.
#'
#' Whole numbers and texts are the same as in memory, other numbers to 1e-12
#' relative. What an engine cannot do so is refused rather than done otherwise:
#'
#' `r sql_help()`
#'
#' Letters beyond ASCII change their case, and texts with declared ways of reading
#' (`read`), patterns (`regex = TRUE`) or unusual forms of letters are written out,
#' one by one as they are met in the data: a text that was not met then is missing.
#'
#' @return A data frame with a row for each construct and engine that refuses it:
#'   `engine`, `what`, `why` and `todo`.
#'   It prints as a list.
#' @seealso [write_script()]
#' @examples
#' sql_engines()
#' @export
sql_engines <- function() {
  rows <- lapply(sql_refusals, function(r) {
    data.frame(engine = vapply(r$engines, function(name) engines[[name]]$title, ""),
      what = squeeze(r$what), why = squeeze(r$why), todo = r$todo, row.names = NULL)
  })
  as_table(do.call(rbind, unname(rows)), "ableturn_refusals")
}

sql_help <- function() {
  items <- vapply(sql_refusals, function(r) {
    titles <- vapply(r$engines, function(name) engines[[name]]$title, "")
    where <- if (length(titles) == length(engine_names())) "all" else paste(titles, collapse = ", ")
    text <- paste0(squeeze(r$what), " (", where, "): ", squeeze(r$why), ". ", r$todo)
    gsub("%", "\\\\%", gsub("`([^`]*)`", "\\\\code{\\1}", text))
  }, "")
  paste0("\\itemize{\n", paste0("\\item ", items, collapse = "\n"), "\n}")
}
