#' Write the work as a script
#'
#' `r dialect_help()`
#'
#' @param book A turnbook.
#' @param path The file to write, ending in `.R` or `.sql`.
#' @param dialect The name of one of these; left out, `"sql"` for a file that ends so, else
#'   `"base"`.
#' @param engine For dialect `"sql"`: `"sqlite"`, `"duckdb"` or `"postgresql"`; left out, SQLite, or
#'   the engine that holds the data.
#' @param overwrite Replace a file that exists.
#' @param ... Not used.
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
write_script <- function(book, path, dialect = NULL, engine = NULL, overwrite = FALSE, ...) {
  refuse_dots(...)
  need_given(path)
  book <- as_book(book)
  dialect <- dialect %||% dialect_by_ending(path)
  lines <- script_lines(book, dialect, engine)
  check_ending(path, dialects[[dialect]]$ending, paste("A script for", dialects[[dialect]]$title))
  check_not_source(path, book)
  write_lines_whole(lines, path, overwrite)
}

dialect_by_ending <- function(path) {
  if (is.character(path) && length(path) == 1 && ending_of(path) == "sql") "sql" else "base"
}

# The dialects that scripts are written in, each stated once by `script_dialect()` in its own file.
dialects <- new.env(parent = emptyenv())

#   ending of its files
#   title  what it is, in a few words; about: in a sentence
#   lines  a function of the book, and of the engine where it has some: the lines of the script
#   words  of a script in R, a function that gives the R functions it may use beside those of
#          formulas
#   run    a function of the book, its script, a folder, the path of the data and a number of
#          seconds: starts the script there such that the derived columns will be in given.rds, and
#          gives `problem` and `stop`, see start_dialect(); NULL where it cannot be run for a proof
#   ready  whether it can be run here; by_engine: whether it is written for one of several
script_dialect <- function(name, title, about, lines, words = NULL, run = NULL,
                           ready = function() TRUE, by_engine = FALSE, ending = "R") {
  assign(name, list(place = length(dialects), title = title, ending = ending, about = about,
    lines = lines, words = words, run = run, ready = ready, by_engine = by_engine), dialects)
}

# In the order in which they are stated.
dialect_names <- function() {
  names <- names(dialects)
  names[order(vapply(names, function(name) dialects[[name]]$place, 1L))]
}

# The dialects whose scripts a proof can run.
run_dialects <- function() {
  Filter(function(name) !is.null(dialects[[name]]$run) && dialects[[name]]$ready(),
    dialect_names())
}

# The dialects of R.
scripts_in_r <- function() Filter(function(name) !dialects[[name]]$by_engine, dialect_names())

# Those that a report shows: of a table of a database in SQL in place of R.
scripts_told <- function(book) {
  if (site_can(site_of(book), "scripts in R")) scripts_in_r() else
    rev(setdiff(dialect_names(), "base"))
}

dialect_help <- function() {
  paste(code_text(dialect_names()), vapply(dialect_names(),
    function(name) dialects[[name]]$about, ""), collapse = " ")
}

script_lines <- plainly(function(book, dialect, engine = NULL) {
  if (!dialect %in% dialect_names()) {
    fail("bad-dialect", dialect = dialect, known = code_text(dialect_names()))
  }
  if (!length(derived_names(book))) fail("no-turns")
  if (dialects[[dialect]]$by_engine) return(dialects[[dialect]]$lines(book, engine))
  if (!is.null(engine)) fail("engine-dialect", dialect = dialect)
  dialects[[dialect]]$lines(book)
})
