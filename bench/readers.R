# Each reader of files beside its library alone, on a million rows (a spreadsheet: 200,000).

reader_rows <- function(rows) {
  set.seed(9)
  data.frame(id = seq_len(rows), q = sample(c(1:5, 9), rows, TRUE),
    cost = round(stats::runif(rows, 0, 9999), 2), z = stats::rnorm(rows),
    land = sample(c("Northholm", "Eastray", "Sallow"), rows, TRUE),
    day = as.Date("2031-01-01") + sample(0:364, rows, TRUE))
}

readers <- function(rows = 1e6, few = 2e5) {
  room <- tempfile("readers-")
  dir.create(room)
  on.exit(unlink(room, recursive = TRUE))
  book <- turnbook(reader_rows(rows))
  small <- turnbook(reader_rows(few))
  at <- function(name) file.path(room, name)
  alone <- function(...) {
    readr::read_delim(..., show_col_types = FALSE, progress = FALSE, lazy = FALSE)
  }
  write_data(book, at("a.csv"))
  write_data(book, at("comma.csv"), separator = ";", decimal = ",")
  packed_copy(at("a.csv"), at("a.csv.gz"))
  comma <- readr::locale(decimal_mark = ",", grouping_mark = ".")
  as_text <- function() alone(at("comma.csv"), ";", col_types = "ddcccD")
  out <- list(
    door("CSV", function() turnbook(at("a.csv")), function() alone(at("a.csv"), ",")),
    door("CSV, decimal comma", function() read_data(at("comma.csv")), function() {
      alone(at("comma.csv"), ";", locale = comma)
    }),
    door("CSV, decimal comma, texts", function() turnbook(at("comma.csv")), as_text),
    door("CSV, gzip", function() turnbook(at("a.csv.gz")), function() alone(at("a.csv.gz"), ","))
  )
  if (rlang::is_installed("nanoparquet")) {
    write_data(book, at("a.parquet"))
    out <- c(out, list(door("Parquet", function() turnbook(at("a.parquet")), function() {
      nanoparquet::read_parquet(at("a.parquet"))
    })))
  }
  write_data(book, at("a.rds"))
  write_data(small, at("a.jsonl"))
  out <- c(out, list(
    door("rds", function() turnbook(at("a.rds")), function() readRDS(at("a.rds"))),
    door("JSON lines, 200,000 rows", function() turnbook(at("a.jsonl")), function() {
      jsonlite::stream_in(file(at("a.jsonl")), verbose = FALSE)
    })
  ))
  for (ending in c("xlsx", "ods")) out <- c(out, list(spreadsheet_door(ending, small, at)))
  do.call(rbind, out)
}

spreadsheet_door <- function(ending, book, at) {
  library <- c(xlsx = "readxl", ods = "readODS")[[ending]]
  if (ending == "xlsx" && !rlang::is_installed(c("readxl", "writexl"))) return(NULL)
  path <- at(paste0("a.", ending))
  write_data(book, path)
  alone <- if (rlang::is_installed(library)) switch(ending,
    xlsx = function() readxl::read_excel(path, sheet = "data", guess_max = 1048576),
    ods = function() readODS::read_ods(path, sheet = "data", progress = FALSE))
  door(paste0(".", ending, ", 200,000 rows"),
    function() turnbook(path, reading = list(table = "data")), alone)
}

# The same bytes, packed.
packed_copy <- function(from, to) {
  out <- gzfile(to, "wb")
  on.exit(close(out))
  writeBin(readBin(from, "raw", file.size(from)), out)
}
