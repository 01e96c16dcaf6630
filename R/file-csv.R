#' @include base-files.R
NULL

# Tables with separators. When they are read, the separator is found out, whatever the ending says.
separated_format <- function(name, endings, sep) {
  file_format(name, endings,
    read = function(path, stated) read_checked(path, stated),
    write = function(columns, rows, put, how) {
      write_fields(columns, rows, put, how$separator %||% sep, how$decimal, how$came)
    },
    spells = TRUE, cells = TRUE,
    script = function(book, name) csv_lines(book, name), words = c("read.csv", "unz")
  )
}

separated_format("csv", c("csv", "txt"), ",")
separated_format("tsv", "tsv", "\t")

read_checked <- function(path, stated = list()) {
  refuse_unused(stated, c("separator", "encoding", "skip", "table", "texts"), path)
  source <- laid_bare(path, stated, withr::local_tempdir())
  reading <- how_to_read(source, stated)
  blank <- stated$blank
  forms <- reading$shape$forms
  reading$shape$forms <- NULL
  small <- read_small_table(source$at, reading)
  plain <- plain_columns(forms, blank) & is.null(small)
  if (any(plain) && length(stated$texts)) {
    plain <- plain & !names(read_large_table(source$at, reading, most = 0)) %in% stated$texts
  }
  with_na <- plain & vapply(forms, function(form) form$na > 0, NA)
  table <- small %||% read_in_parts(source$at, reading, forms, plain)
  reading$unnamed <- is_unnamed(names(table)[1])
  table <- check_table(table, reading, path)
  typed <- typed_columns(table, plain, any(with_na), blank, stated$texts)
  reading[c("na", "kept_na")] <- typed[c("na", "kept_na")]
  data <- lapply(typed$columns, `[[`, "x")
  spelling <- c(compact(lapply(typed$columns, `[[`, "spelling")),
    lapply(setNames(nm = names(table)[with_na]), function(name) list(na = "NA")))
  structure(data,
    class = "data.frame", row.names = .set_row_names(length(data[[1]])),
    reading = reading, spelling = spelling
  )
}

# Each column with its type, and as it is spelled where that is otherwise than the package writes
# it; and which texts stand for blank answers, and in which columns NA does not.
typed_columns <- function(table, plain, with_na, blank, texts) {
  text <- table[!plain]
  na <- unique(c("", if (!is.null(blank)) blank else if (with_na || says_na(text)) "NA"))
  kept_na <- if (is.null(blank) && "NA" %in% na) names(text)[vapply(text, holds_code_na, NA)]
  columns <- Map(function(column, name, plain) {
    if (plain) return(list(x = column))
    guess <- guess_column(column, setdiff(na, if (name %in% kept_na) "NA"),
      if (name %in% texts) identity else guess_type)
    list(x = guess$x, spelling = if (guess$differs) column)
  }, table, names(table), plain)
  list(columns = columns, na = na, kept_na = kept_na)
}

# The columns that hold nothing but numbers as the package writes them, and blanks or NA but not
# both: nothing of these needs to be judged. NA counts for that only where no text is called so, and
# nothing was stated to be `blank`.
plain_columns <- function(forms, blank) {
  has <- function(what) vapply(forms, function(form) form[[what]] > 0, NA)
  numbers <- has("numbers") & !has("other") & !(has("na") & has("blank"))
  if (any(grepl(plain_number, blank))) return(numbers & FALSE)
  if (!is.null(blank) || any(has("na") & !numbers)) numbers & !has("na") else numbers
}

# Plain numbers from the bytes, all else as text by the reader. Of numbers with a fraction R makes
# one now and then that differs in its last digit from that of the reader, and constants of formulas
# and scripts are R's.
read_in_parts <- function(at, reading, forms, plain) {
  if (!any(plain)) return(read_large_table(at, reading))
  table <- as.list(read_large_table(at, reading, most = 0))
  if (any(!plain)) {
    table[!plain] <- read_large_table(at, reading, ifelse(plain, "-", "c"))
  }
  whole <- vapply(forms[plain], `[[`, NA, "whole")
  numbers <- csv_numbers(file_bytes(at), reading$sep, reading$several, which(plain), whole,
    reading$shape$rows - 1)
  numbers[!whole] <- lapply(numbers[!whole], as_code)
  table[plain] <- numbers
  table
}

# Encoding, separator and form, from the file's own bytes, as far as they are not stated; and what
# is around these bytes.
how_to_read <- function(source, stated = list()) {
  bytes <- file_bytes(source$at)
  if (has_zero(bytes)) fail("file-binary", path = source$path)
  header <- first_line(bytes)
  likely <- stated$separator %||% likely_separators(header)
  several <- any(vapply(likely, grepl, NA, x = header, fixed = TRUE, useBytes = TRUE))
  shapes <- lapply(likely, function(sep) csv_shape(bytes, sep, several))
  fits <- which(!vapply(shapes, is_broken, NA))
  sep <- likely[c(fits, 1)[1]]
  shape <- shapes[[c(fits, 1)[1]]]
  refuse_broken(shape, source$path, source$skipped %||% 0)
  encoding <- if (is.null(stated$encoding) || !is.null(source$wide)) encoding_of(bytes) else
    encodings_known[[stated$encoding]]
  c(list(encoding = encoding, bom = has_mark(bytes), sep = sep, several = several, shape = shape),
    source[intersect(names(source), c("packed", "member", "wide", "skipped"))])
}

# What is no UTF-8 is the old encoding of Western Europe, with the quotes and the ellipsis of
# Windows where they occur.
encoding_of <- function(bytes) {
  if (is_plain_ascii(bytes) || validUTF8(rawToChar(bytes))) return("UTF-8")
  windows <- as.raw(setdiff(0x80:0x9f, c(0x81, 0x8d, 0x8f, 0x90, 0x9d)))
  odd <- as.raw(c(0x81, 0x8d, 0x8f, 0x90, 0x9d))
  if (any(bytes %in% windows) && !any(bytes %in% odd)) "windows-1252" else "latin1"
}

# A quote that is never closed would swallow the rest of the file; rows of another length would be
# filled up or cut; both are told with their line.
refuse_broken <- function(shape, path, above) {
  if (shape$unclosed) fail("open-quote", path = path, line = shape$unclosed + above)
  if (shape$after_line) fail("after-quote", path = path, line = shape$after_line + above,
    begun = shape$after_begun + above)
  if (shape$ragged) fail("ragged", path = path, line = shape$ragged_line + above,
    expected = fields_in_words(shape$fields),
    actual = fields_in_words(shape$ragged_fields), lines = shape$ragged)
}

fields_in_words <- function(n) paste(n, if (n == 1) "column" else "columns")

# The line of names; where its names are in quotes, with the line ends inside these.
first_line <- function(bytes) {
  for (reach in c(1e4, 1e6)) {
    start <- utils::head(bytes, reach)
    quotes <- cumsum(start == as.raw(0x22)) %% 2
    ends <- which(start %in% as.raw(c(10, 13)))
    outside <- ends[quotes[ends] == 0]
    if (length(outside)) break
  }
  end <- c(if (length(outside)) outside else ends, length(start) + 1)[1]
  rawToChar(bytes[seq_len(end - 1)])
}

# The separators that the header holds, the most frequent first.
likely_separators <- function(header) {
  bare <- gsub('"([^"]|"")*"', "", header, useBytes = TRUE)
  counts <- vapply(separators_known, function(s) {
    lengths(regmatches(bare, gregexpr(s, bare, fixed = TRUE, useBytes = TRUE)))
  }, 1L)
  order <- order(-counts)
  names(counts)[order][seq_len(max(1, sum(counts > 0)))]
}

is_broken <- function(shape) shape$unclosed > 0 || shape$after_line > 0 || shape$ragged > 0

# The columns as text ("c") or not at all ("-"); readr knows the format, we judge what it found.
read_large_table <- function(path, reading, types = rep("c", reading$shape$fields), most = Inf) {
  at <- whole_path(path)
  # By the path alone: readr would take some names for content, or for files to be unpacked.
  if (grepl("[\r\n]|[.](gz|bz2|xz|zip|zst)$", at, ignore.case = TRUE)) {
    at <- file(at, "rb", raw = TRUE)
  }
  table <- withCallingHandlers(
    readr::read_delim(at,
      delim = reading$sep, col_types = paste(types, collapse = ""),
      locale = readr::locale(encoding = reading$encoding), name_repair = "minimal",
      na = "", trim_ws = FALSE, n_max = most, progress = readr::show_progress(),
      show_col_types = FALSE,
      lazy = FALSE, skip_empty_rows = reading$several
    ),
    warning = function(w) tryInvokeRestart("muffleWarning")
  )
  lapply(as.list(table), enc2utf8)
}

# Names that tell the columns apart, and as many rows as the file has.
check_table <- function(text, reading, path) {
  if (reading$unnamed) names(text)[1] <- row_name(names(text)[-1])
  refuse_odd_names(names(text))
  shape <- reading$shape
  if (length(text) != shape$fields || length(text[[1]]) != shape$rows - 1) fail("misread",
    path = path, rows = length(text[[1]]), lines = shape$rows - 1)
  text
}

# The first column may have no name, where a program has written the names of its rows there.
is_unnamed <- function(name) is.na(name) || !nzchar(name)

row_name <- function(others) setdiff(c("row", "row_name", "row_0"), others)[1]

# A small and regular table, every field as text, without loading more of R than it brings along;
# NULL where anything in it is unusual, and for large files, which are read by readr.
read_small_table <- function(path, reading) {
  if (!is_regular(path, reading)) return(NULL)
  fields <- function(...) {
    scan(whole_path(path), sep = reading$sep, quote = "\"", na.strings = "", strip.white = FALSE,
      quiet = TRUE, encoding = "UTF-8", blank.lines.skip = TRUE, ...)
  }
  tryCatch(
    {
      names <- fields(what = "", nlines = 1)
      columns <- fields(what = rep(list(""), length(names)), skip = 1, multi.line = FALSE)
      if (anyNA(names) || anyDuplicated(names) || !length(columns[[1]])) return(NULL)
      setNames(lapply(columns, enc2utf8), names)
    },
    error = function(e) NULL, warning = function(w) NULL
  )
}

# Quotes stand around whole fields without line breaks, lines end alike, and no line is blank or
# begins or ends with a blank.
is_regular <- function(path, reading) {
  shape <- reading$shape
  odd_quotes <- shape$doubled + shape$padded + shape$stray + shape$breaks + shape$lone > 0
  large <- file.size(whole_path(path)) > 2e6
  if (large || reading$bom || reading$encoding != "UTF-8" || !reading$several || odd_quotes) {
    return(FALSE)
  }
  !grepl("\r[^\n]|\n\r?\n|^[ \t\r\n]|\n[ \t]|[ \t]\r?\n|[ \t]$",
    rawToChar(file_bytes(path)), perl = TRUE, useBytes = TRUE)
}

# A stretch of rows at a time, so that each piece can be checked as it is written. `came`: the names
# of columns whose numbers came from such a table, and are spelled as R reads them.
write_fields <- function(fields, rows, put, sep, decimal = ".", came = NULL) {
  put(csv_bytes(as.list(enc2utf8(names(fields))), 1, 1, sep))
  fields <- Map(field_column, unname(fields), decimal = decimal, exact = !names(fields) %in% came)
  for (from in seq(1, by = 50000, length.out = ceiling(rows / 50000))) {
    put(csv_bytes(fields, from, min(rows, from + 49999), sep))
  }
}

# Numbers are written as they are, whatever else as text; where values are few, each is put into
# words once. `exact`: with so many figures that every program reads the same number.
field_column <- function(column, decimal = ".", exact = FALSE) {
  number <- is.numeric(column) && !is.object(column)
  if (number && is.integer(column)) return(as.vector(column))
  if (number && decimal == ".") return(structure(as.vector(column), exact = exact))
  as_text <- function(x) {
    if (!number) return(enc2utf8(write_field(x)))
    sub(".", decimal, if (exact) exact_figures(x) else show_number(x), fixed = TRUE)
  }
  index <- if (is.atomic(column)) index_column(column, integer(), 1L)
  if (is.null(index)) return(as_text(column))
  indexed_values(index$codes, as_text(like_column(index$values, column)))
}

# Numbers as texts that R and every other program read back the same.
exact_figures <- function(x) {
  lines <- rawToChar(csv_bytes(list(structure(as.double(x), exact = TRUE)), 1, length(x), ","))
  out <- strsplit(lines, "\n", fixed = TRUE)[[1]]
  c(out, rep("", length(x) - length(out))) # empty ones at the end
}
