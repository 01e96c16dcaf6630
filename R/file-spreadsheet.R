#' @include base-files.R
NULL

# Spreadsheets: Office Open XML. One sheet is a table, whose names stand in its first row or where
# it was said.
file_format("spreadsheet", "xlsx",
  is = function(start, at) is_zip_with(start, at, "xl/workbook.xml"),
  read = function(path, stated) read_spreadsheet(path, stated),
  script = function(book, name) spreadsheet_lines(book, name),
  write = function(columns, rows, put, how) {
    need_package("writexl", "writing spreadsheets")
    put_sheets(columns, rows, put, how, writexl::write_xlsx)
  },
  words = c("readxl::read_excel", "readxl::cell_limits", "as.data.frame", "c", "as.Date")
)

is_zip_with <- function(start, at, member) {
  begins_with(start, 0x50, 0x4b, 3, 4) &&
    member %in% tryCatch(utils::unzip(at, list = TRUE)$Name, error = function(e) NULL,
      warning = function(w) NULL)
}

# Cells are what they are in the sheet: numbers, texts, truth values, dates. A column of which some
# cells are texts is text; where most are numbers, it is told which are not.
read_spreadsheet <- function(path, stated) {
  refuse_unused(stated, c("table", "range", "skip", "second_line"), path)
  need_package("readxl", "spreadsheets")
  if (!is_zipped(path)) fail("spreadsheet-locked", path = path)
  zip <- checked_zip(path)
  at <- private_copy(zip, "xlsx", withr::local_tempdir())
  if (is.null(stated$range)) refuse_far_cells(zip, path)
  sheets <- by_library(path, readxl::excel_sheets(at))
  beside <- own_codebook(sheets, stated$table, path)
  sheet <- sheet_to_read(sheets, if (is.null(beside)) stated$table else own_sheets[1], path)
  top <- top_left(stated)
  read <- function(range, names = TRUE) {
    by_library(path, readxl::read_excel(at, sheet = sheet, range = range, col_names = names,
      guess_max = 1048576, trim_ws = FALSE, .name_repair = "minimal", progress = FALSE))
  }
  limits <- limits_of_sheet(stated, top)
  second <- if (!is.null(stated$second_line)) read(limits$two)
  cells <- if (is.null(second)) read(limits$all) else read(limits$below, names(second))
  empty <- vapply(cells, function(x) all(is.na(x)), NA) & !nzchar(names(cells))
  kept <- which(!empty)
  refuse_empty_header(names(cells), kept, top, path, sheet)
  data <- lapply(cells[kept], cells_as_dates)
  reading <- list(sheet = sheet, range = stated$range, top = top, kept = if (any(empty)) kept,
    dates = names(data)[vapply(data, inherits, NA, "Date")],
    mixed = mixed_cells(data, kept, top + c(length(second) > 0, 0)), codebook = beside,
    second = if (length(second)) list(texts = vapply(second[kept], function(x) {
      show_value(x[1])
    }, ""), below = limits$below))
  framed(structure(data, class = "data.frame", row.names = .set_row_names(nrow(cells))), path,
    reading)
}

# A small file can name a cell so far away that room for all before it would fill the memory.
refuse_far_cells <- function(zip, path) {
  for (name in grep("^xl/worksheets/.*[.]xml$", zip$members$name, value = TRUE)) {
    extent <- sheet_extent(zip_member(zip, name))
    if (prod(extent) > most_cells) fail("sheet-far", path = path, row = grouped(extent[1]),
      column = grouped(extent[2]))
  }
}

# Row and column of the first cell.
top_left <- function(stated) {
  if (is.null(stated$range)) return(c(1 + (stated$skip %||% 0), 1))
  first <- sub(":.*", "", stated$range)
  c(as.integer(gsub("[^0-9]", "", first)), column_number(gsub("[^A-Za-z]", "", first)))
}

# Where the whole table stands, its first two rows, and what is below these.
limits_of_sheet <- function(stated, top) {
  last <- c(NA, NA)
  if (!is.null(stated$range)) last <- top_left(list(range = sub("^.*:", "", stated$range)))
  from <- function(first, last) readxl::cell_limits(c(first, top[2]), last)
  list(all = stated$range %||% from(top[1], last), two = from(top[1], c(top[1] + 1, last[2])),
    below = from(top[1] + 2, last))
}

column_number <- function(letters) {
  places <- utf8ToInt(toupper(letters)) - 64
  sum(places * 26^(rev(seq_along(places)) - 1))
}

column_letters <- function(number) {
  out <- ""
  while (number > 0) {
    out <- paste0(LETTERS[(number - 1) %% 26 + 1], out)
    number <- (number - 1) %/% 26
  }
  out
}

sheet_to_read <- function(sheets, table, path) {
  if (is.null(table) && length(sheets) == 1) return(sheets)
  if (is.null(table)) fail("which-sheet", path = path, known = sheets)
  if (!table %in% sheets) {
    fail("no-such-table", path = path, table = table, known = sheets,
      hint = near_hint(table, sheets))
  }
  table
}

# What write_data() writes.
own_sheets <- c("data", "codebook")

# The codebook beside the data; NULL where the sheets are others, or one of them is no codebook.
own_codebook <- function(sheets, table, path) {
  if (!is.null(table) || !identical(sheets, own_sheets)) return(NULL)
  read <- tryCatch(read_codebook_table(path, own_sheets[2]), ableturn_error = function(e) NULL)
  if (!is.null(read)) structure(read, class = "codebook_file", unused = NULL)
}

refuse_empty_header <- function(names, kept, top, path, sheet) {
  if (!length(kept)) fail("sheet-empty", path = path, sheet = sheet)
  unnamed <- kept[!nzchar(names[kept])]
  if (length(unnamed)) {
    fail("header-empty", path = path, cell = cell_name(top[1], top[2] + unnamed[1] - 1))
  }
}

cell_name <- function(row, column) paste0(column_letters(column), row)

# Days, where no cell has a time.
cells_as_dates <- function(x) {
  if (!inherits(x, "POSIXct")) return(x)
  seconds <- unclass(x)[!is.na(x)]
  if (length(seconds) && all(seconds %% 86400 == 0)) as.Date(x) else x
}

# By column of texts that are numbers for the most part: the cells of the others, and their texts.
mixed_cells <- function(data, kept, top) {
  found <- Map(function(x, place) {
    if (!is.character(x)) return(NULL)
    number <- grepl(plain_number, x)
    odd <- which(!number & !is.na(x))
    if (!length(odd) || sum(number) < length(odd)) return(NULL)
    list(cells = vapply(top[1] + odd, cell_name, "", column = top[2] + place - 1), texts = x[odd])
  }, data, kept)
  compact(found)
}

# One sheet for the data and one for the codebook; `write` is a function of sheets and a path.
put_sheets <- function(columns, rows, put, how, write) {
  refuse_too_long(columns, rows)
  sheets <- setNames(list(frame_of(columns, rows), how$codebook()), own_sheets)
  put_by_library(put, function(path) write(sheets, path))
}

# A sheet holds no more rows or columns, and no longer text.
refuse_too_long <- function(columns, rows) {
  texts <- vapply(columns, function(x) is.character(x) && any(nchar(x) > 32767, na.rm = TRUE), NA)
  if (rows > 1048575 || length(columns) > 16384 || any(texts)) fail("sheet-too-long")
}

spreadsheet_lines <- function(book, name) {
  info <- info_of(book)
  reading <- info$reading
  range <- if (!is.null(reading$range)) code_text(reading$range) else
    paste0("readxl::cell_limits(c(", reading$top[1], ", 1), c(NA, NA))")
  sheet <- paste0(code_path(info), ", sheet = ", code_text(reading$sheet))
  dates <- intersect(reading$dates, originals_in_script(book))
  x <- code_column(name, dates)
  c(
    paste0(name, " <- as.data.frame(readxl::read_excel(", sheet, ","),
    if (is.null(reading$second)) paste0("  range = ", range, ",") else
      paste0("  ", c(paste0("range = ", limits_code(reading$second$below), ","),
        paste0("col_names = names(readxl::read_excel(", sheet, ", n_max = 1,"),
        paste0("  range = ", range, ", .name_repair = ", code_text("minimal"), ")),"))),
    paste0("  guess_max = 1048576, trim_ws = FALSE, .name_repair = ", code_text("minimal"), "))"),
    if (!is.null(reading$kept)) paste0(name, " <- ", name, "[c(",
      paste(reading$kept, collapse = ", "), ")]"),
    if (length(dates)) paste0(x, " <- as.Date(", x, ")")
  )
}

limits_code <- function(limits) {
  corner <- function(x) paste0("c(", paste(x, collapse = ", "), ")")
  paste0("readxl::cell_limits(", corner(limits$ul), ", ", corner(limits$lr), ")")
}

word_errors(list(
  "sheet-too-long" = c(
    "A spreadsheet holds 1,048,575 rows below the names, 16,384 columns, 32,767 letters a cell.",
    "Write a .parquet or .csv file, or fewer columns: columns = ...",
    desk = "Write a .parquet or .csv file, or fewer columns.")
))

word_errors(list(
  "spreadsheet-locked" = c("{path} is no spreadsheet in Office Open XML.",
    "It may be locked by a password, or of an older kind: save it anew as .xlsx, or as CSV."),
  "which-sheet" = c("{path} has the sheets {known}, so that it is not clear which to open.",
    "Say which: reading = list(table = \"Answers\").",
    sheet = "Say which: --reading \"table: Answers\".",
    desk = "Choose one of them."),
  "sheet-far" = c(paste("{path} names cells as far as row {row} and column {column}: room for all",
    "before them would fill the memory."),
    "Say where the table stands: reading = list(range = \"A1:H200\").",
    sheet = "Say where the table stands: --reading \"range: A1:H200\".",
    desk = "Save the table anew."),
  "sheet-empty" = c("The sheet {sheet} of {path} holds no table.",
    "Say where it stands: reading = list(table = , range = \"B3:H200\").",
    desk = "Choose another table of the file."),
  "header-empty" = c("{path}: the cell {cell} should name a column and is empty.",
    paste("Where a heading is merged over several columns, give each its name; where the names",
      "stand further down, say so: reading = list(skip = 2), or range = \"B3:H200\"."),
    desk = "Give each column a name in the file; rows above the names can be left out.")
), unread = TRUE)

most_cells <- 1e8
