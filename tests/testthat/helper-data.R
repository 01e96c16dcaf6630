# Small data and small ways to ask.
quietly <- function(code) {
  old <- options(ableturn.quiet = TRUE)
  on.exit(options(old))
  code
}

# A function of the package. Those of a `book` work with its record: of a data frame that is one
# they are given that.
core <- function(name) {
  found <- getFromNamespace(name, "ableturn")
  own <- is.function(found) && "book" %in% names(formals(found)) &&
    !name %in% getNamespaceExports("ableturn")
  if (!own) return(found)
  function(...) do.call(found, lapply(list(...), inner_book), quote = TRUE)
}

inner_book <- function(x) {
  if (inherits(x, "turnbook")) getFromNamespace("as_book", "ableturn")(x) else x
}

# A variable of a book with its values.
known_variable <- function(book, name) core("column_of")(core("variable_in")(book, name))

refused <- function(code, id) {
  expect_error(code, class = paste0("ableturn_error_", gsub("-", "_", id)))
}

# Where the sources lie, if they are here.
source_folder <- function() {
  folders <- c("../../R", "../../00_pkg_src/ableturn/R", "../../../R")
  found <- folders[file.exists(file.path(folders, "book-open.R"))]
  if (length(found)) found[1]
}

open_demo <- function(file = "ferry-survey.csv") {
  turnbook(demo_file(file), codebook = demo_file("ferry-survey.codebook.json"), id = "person")
}

demo_work <- function(book = open_demo()) {
  quietly(book |>
    define(crossings, missing = c("Don't know" = 98, "Refused" = 99)) |>
    define(age, missing = c("Not given" = 999)) |>
    turn_recode(crossings, as = "rider3", becomes(0, 0, label = "Non-rider"),
      becomes(1, from(1, upto = 4), label = "Occasional"), becomes(2, from(5),
        label = "Regular")) |>
    turn_reverse(c(st_2, st_5)) |>
    turn_composite(c(st_1, st_2_r, st_3, st_4, st_5_r, st_6), as = "strain", at_least = 5) |>
    turn_flag(wait_min > median(wait_min), as = "long_wait") |>
    turn_compute(income / sqrt(household), as = "income_eq"))
}

# Why each missing row of a variable is missing.
why <- function(book, name) core("reasons")(known_variable(book, name))

temporary <- function(lines, ending = ".csv") {
  path <- tempfile(fileext = ending)
  if (is.raw(lines)) writeBin(lines, path) else writeLines(enc2utf8(lines), path, useBytes = TRUE)
  path
}

# Every script gives the same; where long tables are tried whole, the one in SQL as well.
expect_proved <- function(book) {
  proof <- if (tries_all()) prove(book) else prove(book, c("base", "ableturn"))
  testthat::expect_true(attr(proof, "proved"))
}

# Runs the base script of a book of a data frame in this process, as `prove()` does in a fresh one.
run_base_script <- function(book, data) {
  room <- new.env(parent = globalenv())
  name <- core("part_of_book")(book, "info")$name
  assign(name, data, room)
  lines <- core("script_lines")(book, "base")
  suppressWarnings(eval(parse(text = lines), room))
  get(name, room)
}

# The receipts that some code shows, as lines.
receipts <- function(code) {
  lines <- character()
  withCallingHandlers(code, ableturn_receipt = function(receipt) {
    lines <<- c(lines, strsplit(conditionMessage(receipt), "\n", fixed = TRUE)[[1]])
    tryInvokeRestart("muffleMessage")
  })
  lines
}

# The receipt that some code shows, as data.
receipt_of <- function(code) {
  found <- NULL
  withCallingHandlers(code, ableturn_receipt = function(shown) {
    found <<- shown$receipt
    tryInvokeRestart("muffleMessage")
  })
  found
}

# The fields of a table in a file, as texts.
fields_of <- function(path) {
  source <- core("bytes_of_table")(path, list())
  reading <- core("how_to_read")(source)
  read <- core("csv_columns")(source$bytes, reading$sep, reading$several,
    rep("text", reading$shape$fields), reading$shape$rows - 1)
  setNames(lapply(read, identity), reading$shape$names)
}

# The same by a reader that others made.
fields_by_readr <- function(path) {
  reading <- core("how_to_read")(core("bytes_of_table")(path, list()))
  table <- suppressWarnings(readr::read_delim(I(readr::read_file_raw(path)), delim = reading$sep,
    col_types = readr::cols(.default = "c"), name_repair = "minimal", na = "", trim_ws = FALSE,
    locale = readr::locale(encoding = reading$encoding), skip_empty_rows = reading$several))
  lapply(as.list(table), enc2utf8)
}
