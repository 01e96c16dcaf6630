#' Open a survey as a turnbook
#'
#' A turnbook holds the original columns, which no call can change, and the
#' record of everything made from them. Labels, missing codes and levels come
#' from the codebook, or with the columns of a data frame (factor levels and
#' the attributes `label`, `labels`, `na_values` and `na_range`).
#'
#' @param data A data frame, or the path of a file, see [read_data()]. What [write_package()] wrote
#'   is opened with all its turns.
#' @param codebook The path of a codebook file, see [read_codebook()].
#' @param id The row identifier: a variable without missing or double values.
#' @param sheet The path of a new turn sheet to which every turn is written as
#'   it is made, see [save_turns()].
#' @param reading For a file: how it is to be read, where that is not plain to see, such as
#'   `list(decimal = ",", dates = "day first", blank = c("NA", "-"))`, see [read_data()]. It is kept
#'   in the turn sheet. What was found out is told, and kept as `read` of [define()].
#' @param table Where `data` is a connection to a database: the name of the table, or the names of
#'   its schema and the table. Of a variable with more than 65,535 different answers these are not
#'   fetched but asked about there; `options(ableturn.answers = )` sets another number.
#' @param engine `"duckdb"` reads a Parquet file or a table of text where it lies, so that it may be
#'   larger than the memory; it needs the package duckdb. Types are those that DuckDB finds.
#'   `"sqlite"` loads a table of text into a file of its own beside it (`survey.csv.sqlite`), which
#'   is used again while the text stays as it is; it needs the package RSQLite.
#' @param ... Not used.
#' @return A turnbook: a value, so that every verb gives a new one.
#' @section Errors: `ableturn_error_file` and others of class `ableturn_error`
#'   for a file that cannot be read as a table.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book
#' @export
turnbook <- function(data, codebook = NULL, id = NULL, sheet = NULL, reading = NULL,
                     table = NULL, engine = NULL, ...) {
  refuse_dots(...)
  name <- substitute(data)
  ready_sheet(sheet)
  at <- data_at(data, table, engine)
  opened <- open_data(at$data, reading, at$table)
  opened$name <- opened$name %||% data_name(name, names(opened$data))
  book <- opened$finish(book_of(opened, codebook, sheet))
  # rlang takes longer to load than most files to open
  if (missing(id)) return(as_frame(book))
  identifier <- rlang::enquo(id)
  as_frame(if (rlang::quo_is_null(identifier)) book else
    with_id(book, select_vars(book, identifier, "id")))
}

# The book of what was opened, before any turn is made.
book_of <- plainly(function(opened, codebook = NULL, sheet = NULL) {
  known <- check_columns(opened$data, ascii = isTRUE(opened$ascii))
  columns <- known$columns
  meanings <- lapply(columns, meaning_from_column)
  meanings <- add_codebook(meanings, open_codebook(codebook %||% opened$reading$codebook))
  meanings <- add_ways(meanings, opened$ways)
  info <- list(
    name = opened$name, file = opened$file,
    rows = opened$site$rows %||% NROW(opened$data), site = opened$site, spelling = opened$spelling,
    reading = opened$reading, codebook = if (is.character(codebook)) codebook,
    stated = opened$stated, shown = opened$shown, asked = opened$asked, sheet = sheet,
    odd = known$odd, came = known$came, row_names = named_rows(opened$data),
    frame_class = intersect(oldClass(opened$data), c("tbl_df", "tbl")),
    sources = take_opened()
  )
  book <- settle_asked(new_turnbook(columns, meanings, info))
  tell_opening(row_count(book), ways = opened$shown, asked = opened$asked,
    mixed = opened$reading$mixed, signs = opened$reading$signs,
    odd = odd_in_words(known$odd, opened$data),
    own = if (!is.null(opened$reading$codebook) && is.null(opened$reading$second)) {
      opened$reading$sheet
    },
    second = opened$reading$likely_labels, aside = opened$reading$second$texts,
    altered = opened$altered, passing = opened$passing, beyond = opened$beyond)
  book
})

# Stops where a file to be written is one that the book came from, or the sheet that it keeps.
check_not_source <- function(path, book, sheet = TRUE) {
  info <- info_of(book)
  refuse_sources(path, c(info$sources, if (sheet) info$sheet))
}

# What is to be seen of data on opening: how columns are read (`ways`) or not (`asked`), texts among
# numbers (`mixed`), `signs` that may stand for no answer, what was left out (`odd`), files
# `altered` since they were packed, the
# servers of a table whose rows all pass through another one (`passing`), and of a table that is
# none of rows alone what it is (`beyond`); the sheet of a spreadsheet that has its codebook
# beside it (`own`); and of a `second` line under the names its texts, or those that were read or
# put `aside`.
tell_opening <- function(rows, ...) {
  told <- list(verb = "open", ...)
  if (any(lengths(told[-1]))) show_receipt(new_receipt(told, list(), rows))
}

# The data and the name of the table: where an engine reads a file, those that it makes of it.
data_at <- function(data, table, engine) {
  if (is.null(engine)) list(data = data, table = table) else open_in_place(data, engine)
}

# A connection to a database that reads a file, `data`, and the name of the `table` there.
open_in_place <- function(path, engine) UseMethod("open_in_place")

#' @export
open_in_place.default <- function(path, engine) fail("engine-file", got = describe_type(path))

# Before anything is kept in a sheet: it must not be there yet.
ready_sheet <- function(sheet) UseMethod("ready_sheet")

#' @export
ready_sheet.default <- function(sheet) invisible(NULL)

# The table behind what the analyst names; files are opened by the layer that knows them. Of a
# package that was handed on, `finish` makes the turns that it holds.
open_data <- function(data, reading = NULL, table = NULL) UseMethod("open_data")

#' @export
open_data.data.frame <- function(data, reading = NULL, table = NULL) {
  if (!is.null(reading)) fail("reading-frame")
  if (!is.null(table)) fail("table-frame")
  check_given(data)
  list(data = data, finish = identity)
}

#' @export
open_data.turnbook <- function(data, reading = NULL, table = NULL) fail("open-book")

#' @export
open_data.default <- function(data, reading = NULL, table = NULL) {
  fail("not-data", got = describe_type(data))
}

open_codebook <- function(codebook) UseMethod("open_codebook")

#' @export
open_codebook.NULL <- function(codebook) list()

#' @export
open_codebook.default <- function(codebook) fail("not-a-codebook", got = describe_type(codebook))

data_name <- function(expr, taken) {
  name <- if (is.symbol(expr)) as.character(expr) else "survey"
  if (name %in% taken || !is_plain_name(name)) "survey_data" else name
}

# The columns that a book can hold, and those that are left out, with what they are. `ascii`: no
# texts need to be looked at.
check_columns <- function(data, ascii = FALSE) {
  data <- as.list(as.data.frame(data, stringsAsFactors = FALSE))
  refuse_odd_names(names(data))
  came <- data
  data <- lapply(data, known_column)
  odd <- vapply(data, is.null, NA)
  for (name in names(data)[!odd & !ascii]) check_letters(letters_of(data[[name]]), name)
  check_letters(names(data), "the names of the columns")
  list(columns = data[!odd], odd = names(data)[odd],
    came = came[vapply(came, inherits, NA, "integer64")])
}

# Every column has a name of its own.
refuse_odd_names <- function(names) {
  empty <- which(is.na(names) | !nzchar(trimws(names)))
  if (length(empty)) fail("column-unnamed", place = empty)
  twice <- unique(names[duplicated(names)])
  if (length(twice)) fail("column-twice", name = twice)
}

# A column as a book holds it: the very object, but for whole numbers of 64 bits, which R itself
# cannot read; NULL for a kind that it does not know.
known_column <- function(x) {
  if (inherits(x, "integer64")) return(numbers_of_bits(unclass(x)))
  if (!is.null(dim(x)) || !has_known_class(x)) return(NULL)
  known <- vapply(list(is.numeric, is.character, is.logical, is.factor),
    function(is_kind) is_kind(x), NA)
  if (any(known) || inherits(x, c("Date", "POSIXct", "difftime"))) x
}

# Whether it is known what the numbers of a column stand for: its class is one of R's own, or it
# carries labels.
has_known_class <- function(x) {
  if (!is.object(x)) return(TRUE)
  labelled <- any(c("label", "labels", "na_values", "na_range") %in% names(attributes(x)))
  inherits(x, c("factor", "Date", "POSIXct", "difftime", "AsIs")) ||
    (labelled && typeof(x) %in% c("integer", "double", "character", "logical"))
}

# Names of the rows where somebody gave them; NULL for mere numbers.
named_rows <- function(data) {
  if (.row_names_info(data) <= 0) return(NULL)
  rows <- attr(data, "row.names")
  if (is.character(rows) || !identical(as.integer(rows), seq_along(rows))) rows
}

letters_of <- function(x) {
  if (is.factor(x)) levels(x) else if (is.character(x)) index_column(x, integer(), 1L)$values %||% x
}

odd_in_words <- function(names, data) {
  if (length(names)) paste0(names, " (", vapply(names, function(n) class(data[[n]])[1], ""), ")")
}

# How texts are read that are typed in a way of their own; a codebook says it for sure.
add_ways <- function(meanings, ways) {
  for (name in intersect(names(ways), names(meanings))) {
    meanings[[name]] <- merge_meaning(new_meaning(read = ways[[name]]), meanings[[name]])
  }
  meanings
}

add_codebook <- function(meanings, codebook) {
  for (name in intersect(names(codebook), names(meanings))) {
    meanings[[name]] <- merge_meaning(meanings[[name]], codebook[[name]])
  }
  meanings
}

with_id <- function(book, id) {
  if (length(id) > 1) fail("id-one", name = id)
  check_id(site_of(book), id)
  info <- info_of(book)
  info$id <- id
  # a table chooses some of its rows by it
  if (!is.null(info$site)) info$site$id <- id
  with_parts(book, info = info)
}

# Whether a column tells the rows apart: an error where it does not.
check_id <- function(site, id) UseMethod("check_id")

#' @export
check_id.ableturn_memory <- function(site, id) {
  values <- site$variable(id)$raw
  if (anyNA(values)) fail("id-missing", name = id, rows = counted(sum(is.na(values)), "row"))
  twice <- unique(values[duplicated(values)])
  if (length(twice)) fail("id-twice", name = id, values = show_value(utils::head(twice, 3)))
}

# The fingerprint of the originals, taken when it is first needed.
fingerprint_of <- function(book) {
  came <- part_of_book(book, "came")
  if (is.null(came$fingerprint)) {
    came$fingerprint <- fingerprint(originals_of(book), came$prints)
  }
  came$fingerprint
}

is_fingerprinted <- function(book) !is.null(part_of_book(book, "came")$fingerprint)

# That of one more original, so that all are there when they are needed; TRUE where none is left.
fingerprint_ahead <- function(book) {
  came <- part_of_book(book, "came")
  left <- setdiff(original_names(book), names(came$prints))
  if (length(left)) came$prints[[left[1]]] <- column_fingerprint(original_in(book, left[1]))
  length(left) < 2
}

# SHA-256 of the content, whatever the order of the columns and the way they are stored: of the
# names and of each column, which is that of its blocks. Those of the columns may be `known`.
fingerprint <- function(columns, known = NULL) {
  columns <- columns[sort_points(names(columns))]
  names <- vapply(enc2utf8(names(columns)), function(name) sha256(charToRaw(name)), "")
  prints <- vapply(names(columns), function(name) {
    known[[name, exact = TRUE]] %||% column_fingerprint(columns[[name, exact = TRUE]])
  }, "")
  sha256(charToRaw(paste(names, prints, collapse = " ")))
}

# A block of rows at a time, so that no second copy of the data is made.
column_fingerprint <- function(x) {
  if (inherits(x, "POSIXct")) x <- plain_values(x) # whose form is that of all rows together
  starts <- seq(1, by = 131072, length.out = ceiling(length(x) / 131072))
  blocks <- vapply(starts, function(from) {
    sha256(canonical_bytes(plain_values(x[from:min(length(x), from + 131071)])))
  }, "")
  sha256(charToRaw(paste(c(if (is_text_like(x)) "text" else "numbers", blocks), collapse = " ")))
}

# Numbers as doubles, with one pattern of bits for all that is missing and one for 0 and -0; texts
# in UTF-8, each with its end, and where they are missing.
canonical_bytes <- function(x) {
  if (!is.character(x)) {
    if (anyNA(x)) x <- replace(as.double(x), is.na(x), NA)
    return(writeBin(as.double(x) + 0, raw(), endian = "little"))
  }
  c(writeBin(enc2utf8(x %|% ""), raw(), useBytes = TRUE), as.raw(is.na(x)))
}

#' @export
as_book.ableturn_book <- function(book) book

#' @export
as_book.data.frame <- function(book) as_book(turnbook(book))
