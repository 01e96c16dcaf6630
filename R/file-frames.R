#' @include base-files.R
NULL

# Formats whose columns have types of their own, read by a library: Parquet, JSON; and R's own.

# Only written: reading one can load packages and run code before anything of it can be checked.
file_format("rds", "rds", typed = TRUE,
  read = function(path, stated) fail("file-rds", path = path, name = quote_text(path)),
  write = function(columns, rows, put, how) {
    put_by_library(put, function(path) saveRDS(frame_of(columns, rows), path))
  }
)

file_format("parquet", "parquet", typed = TRUE,
  is = function(start, at) begins_with(start, 0x50, 0x41, 0x52, 0x31),
  read = function(path, stated) {
    refuse_unused(stated, character(), path)
    need_package("nanoparquet", "Parquet files")
    framed(by_library(path, nanoparquet::read_parquet(absolute_path(path))), path)
  },
  script = function(book, name) {
    paste0(name, " <- as.data.frame(nanoparquet::read_parquet(", code_path(info_of(book)),
      "))")
  },
  write = function(columns, rows, put, how) {
    need_package("nanoparquet", "Parquet files")
    put_by_library(put, function(path) nanoparquet::write_parquet(frame_of(columns, rows), path))
  },
  words = c("nanoparquet::read_parquet", "as.data.frame")
)

file_format("json", "json", typed = TRUE,
  read = function(path, stated) {
    refuse_unused(stated, character(), path)
    framed(by_library(path, parsed_json(file_text(path), simplifyVector = TRUE)), path)
  },
  script = function(book, name) {
    paste0(name, " <- jsonlite::fromJSON(file(", code_path(info_of(book)), "))")
  },
  words = c("jsonlite::fromJSON", "file")
)

# A record on each line.
file_format("json lines", c("jsonl", "ndjson"), typed = TRUE,
  read = function(path, stated) {
    refuse_unused(stated, character(), path)
    texts <- file_lines(path)
    for (text in texts[grepl("%", texts, fixed = TRUE)]) by_library(path, parsed_json(text))
    lines <- textConnection(texts, encoding = "UTF-8")
    on.exit(close(lines))
    framed(by_library(path, jsonlite::stream_in(lines, verbose = FALSE)), path)
  },
  script = function(book, name) {
    paste0(name, " <- jsonlite::stream_in(file(", code_path(info_of(book)),
      "), verbose = FALSE)")
  },
  write = function(columns, rows, put, how) {
    columns <- lapply(columns, json_values)
    names <- paste0(json_texts(names(columns)), ":")
    for (from in seq(1, by = 50000, length.out = ceiling(rows / 50000))) {
      some <- from:min(rows, from + 49999)
      records <- do.call(paste, c(unname(Map(paste0, names, lapply(columns, `[`, some))),
        list(sep = ",")))
      put(paste0("{", records, "}\n", collapse = ""))
    }
  },
  words = c("jsonlite::stream_in", "file")
)

# Values as JSON; numbers with all their figures, which the library cuts after the fifteenth.
json_values <- function(x) {
  out <- if (is.logical(x)) tolower(x) else
    if (is.numeric(x) && !is.object(x)) json_numbers(x) else json_texts(write_field(x))
  replace(out, is.na(x), "null")
}

json_numbers <- function(x) ifelse(is.infinite(x), paste0("\"", x, "\""), exact_figures(x))

json_texts <- function(texts) {
  met <- unique(texts)
  out <- gsub("([\\\\\"])", "\\\\\\1", enc2utf8(met))
  for (sign in unlist(regmatches(out, gregexpr("[\001-\037]", out)))) {
    out <- gsub(sign, sprintf("\\u%04x", utf8ToInt(sign)), out, fixed = TRUE)
  }
  paste0("\"", out, "\"")[match(texts, met)]
}

frame_of <- function(columns, rows) {
  structure(columns, class = "data.frame", row.names = .set_row_names(rows))
}

# A library writes a file of its own, whose bytes are put.
put_by_library <- function(put, write) {
  path <- tempfile("ableturn-")
  on.exit(unlink(path))
  write(path)
  from <- file(path, "rb", raw = TRUE)
  on.exit(close(from), add = TRUE, after = FALSE)
  while (length(piece <- readBin(from, "raw", 2^24))) put(piece)
}

# What a library says of a file that it cannot read, as an error of ours.
by_library <- function(path, code) {
  tryCatch(
    withCallingHandlers(code, warning = function(w) tryInvokeRestart("muffleWarning")),
    ableturn_error = function(e) stop(e),
    error = function(e) {
      fail("file-unreadable", path = path, why = first_sentence(conditionMessage(e)))
    }
  )
}

# A plain data frame of what was read.
framed <- function(x, path, reading = list()) {
  if (!is.data.frame(x)) fail("file-no-table", path = path, got = describe_type(x))
  data <- as.list(x)
  structure(data, class = "data.frame", row.names = .set_row_names(NROW(x)), reading = reading)
}

word_errors(list(
  "file-rds" = c("{path} was not opened: an .rds file can run code when it is opened.",
    paste("If you trust where it comes from, open it yourself and give the data frame:",
      "turnbook(readRDS({name})); else ask for CSV or Parquet."),
    sheet = paste("Ask for CSV or Parquet; or, if you trust where it comes from, write it as CSV",
      "in R: ableturn::write_data(readRDS({name}), \"data.csv\")."),
    desk = "Save it as CSV or Parquet, and choose that."),
  "file-unreadable" = c("{path} cannot be read: {why}.",
    "It may be cut short, or be another kind of file than its ending says."),
  "file-no-table" = c("{path} holds {got} and no table.",
    "It must hold rows with the same columns: a data frame, or records with the same names."),
  "file-changed" = c("{path} was changed while it was read. Nothing was opened.",
    "Open it again when whoever writes it is done.")
), unread = TRUE)
