#' Prove that the scripts give the same columns
#'
#' Writes each script to a temporary file, runs it in a fresh R process (SQL in SQLite, where
#' the packages DBI and RSQLite are installed), and compares every derived column with that of
#' the book: exactly for whole numbers and text, to 1e-12 relative for other numbers, and always
#' row by row for
#' missing answers.
#'
#' The process gets none of the environment variables of this session but those R needs to start, a
#' temporary folder to work in, and a limit of time. Before it starts the script is read, and
#' refused if it holds any call that the package does not write.
#'
#' Of a book on a table of a database, the SQL runs there on all rows; what it gives for up to 2,000
#' of them, evenly spaced by the identifier, is compared with what the same originals give in
#' memory. Variables in which very many other rows have a part are left out and told.
#'
#' @param book A turnbook.
#' @param dialect Which scripts, see [write_script()]; left out, all.
#' @param seconds How long a script may take; after that it counts as one that stopped.
#' @param ... Not used.
#' @return A data frame with a row for each script and variable: `dialect`,
#'   `variable`, `rows`, `same`, `differ` (rows that differ), `largest` (largest
#'   difference) and `first` (first row that differs). Its attribute `proved` is
#'   TRUE if all rows are the same. A dialect that was not asked for by name and has no words for
#'   something, see [sql_engines()], is left out and told. It prints as a table.
#' @section Errors: `ableturn_error_no_turns`, `ableturn_error_data_changed`,
#'   `ableturn_error_script_foreign` for a script that is not only what the package writes. A
#'   script that stops is a proof that fails, with the message as its `problem`.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"), id = person)
#' book <- turn_reverse(book, c(st_2, st_5), limits = c(1, 5))
#' prove(book, dialect = "base")
#' @export
prove <- function(book, dialect = run_dialects(), seconds = 600, ...) {
  refuse_dots(...)
  asked <- !missing(dialect)
  book <- as_book(book)
  check_number(seconds, "seconds")
  if (!length(derived_names(book))) fail("no-turns")
  if (!site_can(site_of(book), "scripts in R")) {
    return(prove_at_site(book, if (asked) dialect, seconds))
  }
  refuse_changed_file(book)
  for (name in dialect) check_choice(name, "dialect", run_dialects())
  book <- with_whole_paths(book)
  refused <- if (!asked) refused_dialects(dialect, book)
  each <- prove_dialects(setdiff(dialect, names(refused)), book, seconds)
  out <- do.call(rbind, lapply(each, `[[`, "table"))
  problems <- compact(lapply(each, `[[`, "problem"))
  as_table(out,
    "ableturn_proof", problems = problems, refused = refused, changed = changed_finding(book),
    proved = !length(problems) && all(out$differ == 0)
  )
}

# Dialects that nobody asked for by name and that have no words for something, with what is said of
# it.
refused_dialects <- function(names, book) {
  said <- lapply(self_named(names), function(name) {
    tryCatch({
      if (dialects[[name]]$by_engine) script_lines(book, name)
      NULL
    }, ableturn_error_sql_refused = conditionMessage)
  })
  compact(said)
}

refuse_changed_file <- function(book) {
  info <- info_of(book)
  if (is.null(info$file)) return()
  now <- if (file.exists(info$file)) fingerprint(as.list(open_data(info$file, info$stated)$data))
  if (!identical(now, fingerprint_of(book))) fail("data-changed", file = info$file)
}

# The script runs in a folder of its own, so that its files are named from the root.
with_whole_paths <- function(book) {
  info <- info_of(book)
  for (key in c("file", "codebook")) {
    if (!is.null(info[[key]])) info[[key]] <- absolute_path(info[[key]])
  }
  with_parts(book, info = info)
}

# The scripts run side by side, each in a folder of its own, beside the data.
prove_dialects <- function(names, book, seconds) {
  folder <- tempfile("prove-")
  dir.create(folder)
  on.exit(unlink(folder, recursive = TRUE))
  data <- data_for_scripts(book, folder)
  started <- lapply(names, start_dialect, book = book, folder = folder, data = data,
    seconds = seconds)
  on.exit(for (run in started) run$stop(), add = TRUE, after = FALSE)
  Map(function(name, run) judge_dialect(name, run, book), names, started)
}

# Of data that came from no file a copy, handed to all scripts.
data_for_scripts <- function(book, folder) {
  if (!is.null(info_of(book)$file)) return(NULL)
  path <- file.path(folder, "data.rds")
  saveRDS(as.data.frame(originals_of(book), optional = TRUE), path, compress = FALSE)
  path
}

# A script that runs: `folder`; `problem`, a function that waits for it and gives NULL, or why it
# stopped; `stop`, a function that ends it.
start_dialect <- function(name, book, folder, data, seconds) {
  folder <- file.path(folder, name)
  dir.create(folder)
  lines <- tryCatch(script_lines(book, name), ableturn_error_script_cannot_read = identity)
  if (inherits(lines, "error")) {
    return(list(folder = folder, problem = function() conditionMessage(lines),
      stop = function() NULL))
  }
  dialect <- dialects[[name]]
  if (!is.null(dialect$words)) refuse_foreign_code(lines, dialect$words())
  c(list(folder = folder), dialect$run(book, lines, folder, data, seconds))
}

judge_dialect <- function(name, run, book) {
  problem <- run$problem()
  given <- if (is.null(problem)) readRDS(file.path(run$folder, "given.rds"))
  rows <- lapply(derived_names(book), compare_column, book = book, given = given, dialect = name)
  list(table = do.call(rbind, rows), problem = problem)
}

# Starts an R script in a fresh process, see start_dialect().
run_in_r <- function(book, lines, folder, data, seconds) {
  info <- info_of(book)
  at <- function(file) file.path(folder, file)
  write_bytes(lines, at("script.R"))
  write_bytes(c(
    if (!is.null(data)) paste0(info$name, " <- readRDS(", code_text(data), ")"),
    paste0("source(", code_text("script.R"), ", encoding = ", code_text("UTF-8"), ")"),
    paste0("saveRDS(unclass(", info$name, ")[", write_constant(derived_names(book)), "], ",
      code_text("given.rds"), ", compress = FALSE)")
  ), at("run.R"))
  wait_for_r(folder, seconds)
}

# Starts `run.R` of a folder in a fresh process; it is to leave given.rds there.
wait_for_r <- function(folder, seconds) {
  said <- file.path(folder, "said.txt")
  process <- processx::process$new(file.path(R.home("bin"), "Rscript"), c("--vanilla", "run.R"),
    wd = folder, env = child_environment(folder), stdout = said, stderr = said,
    cleanup_tree = TRUE)
  until <- proc.time()[["elapsed"]] + seconds
  list(problem = function() what_stopped(process, until, seconds, folder),
    stop = function() process$kill_tree())
}

# Lines in UTF-8, whatever the locale.
write_bytes <- function(lines, path) {
  writeBin(charToRaw(paste0(enc2utf8(lines), "\n", collapse = "")), path)
}

# Waits for a process; NULL when it went well.
what_stopped <- function(process, until, seconds, folder) {
  process$wait(max(0, until - proc.time()[["elapsed"]]) * 1000)
  if (process$is_alive()) {
    process$kill_tree()
    return(paste("it was still running after", seconds, "seconds"))
  }
  ended_well <- identical(process$get_exit_status(), 0L)
  if (ended_well && file.exists(file.path(folder, "given.rds"))) return(NULL)
  said <- rawToChar(file_bytes(file.path(folder, "said.txt")))
  paste(utils::tail(strsplit(said, "\n")[[1]], 3), collapse = " ")
}

# What a fresh R needs to start and to find this package, and nothing else of this session.
child_environment <- function(folder) {
  kept <- c("PATH", "LD_LIBRARY_PATH", "DYLD_LIBRARY_PATH", "TZ", "SYSTEMROOT", "OPENBLAS_CORETYPE",
    "OPENBLAS_L2_SIZE", "OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS")
  locale <- if (Sys.info()[["sysname"]] == "Darwin") "en_US.UTF-8" else "C.UTF-8"
  own <- c(R_LIBS = paste(.libPaths(), collapse = .Platform$path.sep), HOME = folder,
    TMPDIR = folder, TEMP = folder, LC_ALL = locale, LANGUAGE = "en")
  given <- Sys.getenv(kept, NA, names = TRUE)
  c(given[!is.na(given)], own)
}

compare_column <- function(name, book, given, dialect) {
  compared_columns(name, column_of(variable_in(book, name))$x, given[[name]], dialect)
}
