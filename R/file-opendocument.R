#' @include base-files.R
NULL

# Spreadsheets in OpenDocument (ISO/IEC 26300): the part of it that tables are made of. Libraries
# for it give a date as the sheet shows it, in whatever order of day and month; here, each cell has
# the value that stands behind it.
file_format("opendocument spreadsheet", "ods",
  is = function(start, at) {
    is_zip_with(start, at, "content.xml") && !is_zip_with(start, at, "xl/workbook.xml")
  },
  read = function(path, stated) read_opendocument(path, stated),
  script = function(book, name) opendocument_lines(book, name),
  write = function(columns, rows, put, how) {
    need_package("zip", "writing spreadsheets")
    put_sheets(columns, rows, put, how, write_opendocument)
  },
  words = c("ableturn::read_data", "list", "character", "c")
)

read_opendocument <- function(path, stated) {
  refuse_unused(stated, c("table", "range", "skip", "second_line"), path)
  content <- content_of(path)
  names <- document_sheets(content) %||% fail("opendocument-locked", path = path)
  beside <- own_codebook(names, stated$table, path)
  name <- sheet_to_read(names, if (is.null(beside)) stated$table else own_sheets[1], path)
  top <- top_left(stated)
  cells <- cells_in_range(cells_of_sheet(content, match(name, names), path), top, stated$range)
  header <- lapply(cells, `[`, cells$row == 1)
  under <- if (is.null(stated$second_line)) 1 else 2
  second <- lapply(cells, `[`, cells$row == under)
  cells <- lapply(cells, `[`, cells$row > under)
  cells$row <- cells$row - (under - 1)
  found <- replace(rep("", max(0, header$column, cells$column)), header$column, header$text)
  kept <- sort(unique(c(which(nzchar(found)), cells$column)))
  refuse_empty_header(found, kept, top, path, name)
  rows <- max(0, cells$row - 1)
  places <- split(seq_along(cells$row), structure(match(cells$column, kept),
    levels = as.character(kept), class = "factor"))
  data <- lapply(places, function(at) column_in_sheet(lapply(cells, `[`, at), rows))
  names(data) <- found[kept]
  framed(structure(data, class = "data.frame", row.names = .set_row_names(rows)), path,
    list(sheet = name, mixed = mixed_cells(data, kept, top + c(under - 1, 0)), codebook = beside,
      second = if (under == 2) list(texts = setNames(second$text[match(kept, second$column)],
        names(data)))))
}

# The bytes of the part that holds the tables.
content_of <- function(path) {
  if (!is_zipped(path)) fail("opendocument-locked", path = path)
  zip <- checked_zip(path)
  if (!"content.xml" %in% zip$members$name) fail("opendocument-locked", path = path)
  zip_member(zip, "content.xml")
}

# The cells that hold something, by `row`, `column`, `type`, `value`, and `text` as it is shown.
cells_of_sheet <- function(content, sheet, path) {
  cells <- document_cells(content, sheet, most_cells)
  if (is.null(cells)) fail("opendocument-locked", path = path)
  if (isTRUE(cells)) fail("file-bomb", path = path, size = grouped(most_cells / 1e6))
  cells
}

# Rows and columns are counted from the first of the table.
cells_in_range <- function(cells, top, range) {
  cells$row <- cells$row - top[1] + 1
  cells$column <- cells$column - top[2] + 1
  last <- c(Inf, Inf)
  if (!is.null(range)) last <- top_left(list(range = sub("^.*:", "", range))) - top + 1
  inside <- cells$row >= 1 & cells$column >= 1 & cells$row <= last[1] & cells$column <= last[2]
  lapply(cells, `[`, inside)
}

# A column from its cells; where these are of several kinds, all are texts.
column_in_sheet <- function(cells, rows) {
  kind <- c(float = "number", percentage = "number", currency = "number", date = "date",
    boolean = "truth")[cells$type]
  kind <- unname(kind) %|% "text"
  kinds <- unique(kind)
  values <- if (length(kinds) != 1) ifelse(kind == "text", cells$text, cells$value) else
    switch(kinds, number = as_code(as.numeric(cells$value)), truth = cells$value == "true",
      date = times_in_cells(cells$value), cells$text)
  out <- values[NA_integer_][rep(1, rows)]
  out[cells$row - 1] <- values
  out
}

# Days, where no cell has a time.
times_in_cells <- function(texts) {
  days <- as.Date(substr(texts, 1, 10))
  if (all(nchar(texts) <= 10)) return(days)
  clock <- ifelse(nchar(texts) > 10, sub("[.,][0-9]+$", "", substring(texts, 12)), "00:00:00")
  cells_as_dates(as.POSIXct(paste(days, clock), tz = "UTC", format = "%Y-%m-%d %H:%M:%S"))
}

opendocument_lines <- function(book, name) {
  stated <- info_of(book)$stated
  stated$columns <- character() # texts as they stand
  paste0(name, " <- ableturn::read_data(", code_path(info_of(book)), stated_call(stated), ")")
}

word_errors(list(
  "opendocument-locked" = c("{path} is no spreadsheet in OpenDocument that can be opened.",
    "It may be locked by a password, or broken: save it anew, or as CSV.")
), unread = TRUE)
