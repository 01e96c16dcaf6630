# The bytes of a table in whatever a file wraps them: packed, in some encoding, below lines that do
# not belong to it.

# The `bytes` of the table in UTF-8, and whether all are `ascii`; and what was around them:
# `packed`, `member` of a zip file, the `encoding`, the `wide` one that was there before, `skipped`
# lines.
bytes_of_table <- function(path, stated) {
  source <- unpacked(path, stated$table)
  source <- with_letters_of_utf8(source, stated$encoding)
  without_top(source, stated$skip)
}

packing_of <- function(at) {
  start <- first_bytes(at, 6)
  if (begins_with(start, 0x1f, 0x8b)) return("gzip")
  if (begins_with(start, 0x50, 0x4b, 3, 4)) return("zip")
  if (begins_with(start, 0x42, 0x5a, 0x68)) return("bzip2")
  if (begins_with(start, 0xfd, 0x37, 0x7a, 0x58, 0x5a, 0)) "xz"
}

unpacked <- function(path, table) {
  at <- absolute_path(path)
  packed <- packing_of(at)
  if (is.null(packed)) return(list(path = path, bytes = file_bytes(at)))
  source <- list(path = path, packed = packed)
  if (packed == "zip") return(unpacked_member(source, table))
  con <- switch(packed, gzip = gzfile(at, "rb"), bzip2 = bzfile(at, "rb"), xz = xzfile(at, "rb"))
  on.exit(close(con))
  source$bytes <- bytes_out_of(con, path, packed)
  source
}

unpacked_member <- function(source, table) {
  zip <- checked_zip(source$path)
  source$member <- member_of_zip(zip$members$name, source$path, table)
  source$bytes <- zip_member(zip, source$member)
  if (!length(source$bytes)) fail("file-empty", path = source$path)
  source
}

# The one table in a zip file, or the one that was named.
member_of_zip <- function(inside, path, table) {
  inside <- inside[!grepl("^__MACOSX/|(^|/)[.]", inside)]
  if (!is.null(table)) {
    if (!table %in% inside) fail("no-such-table", path = path, table = table,
      known = inside, hint = near_hint(table, inside))
    return(table)
  }
  tables <- inside[vapply(inside, ending_of, "") %in% c("csv", "tsv", "txt")]
  if (length(tables) != 1) fail("which-table", path = path, known = inside)
  tables
}

bytes_out_of <- function(con, path, packed) {
  most <- most_unpacked(absolute_path(path))
  pieces <- list()
  size <- 0
  repeat {
    piece <- tryCatch(readBin(con, "raw", 2^26), error = function(e) NULL,
      warning = function(w) NULL)
    if (is.null(piece)) fail("file-packed-broken", path = path, why = not_whole)
    if (!length(piece)) break
    size <- size + length(piece)
    if (size > most) fail("file-bomb", path = path, size = grouped(round(most / 1e6)))
    pieces[[length(pieces) + 1]] <- piece
  }
  if (!size) fail("file-empty", path = path)
  if (packed == "gzip" && size %% 2^32 != size_told(absolute_path(path))) {
    fail("file-packed-broken", path = path, why = not_whole)
  }
  if (length(pieces) == 1) pieces[[1]] else do.call(c, pieces)
}

not_whole <- "it is cut short or damaged"

# The last four bytes of a gzip file tell how much it holds; R does not look whether all is there.
size_told <- function(at) {
  con <- file(at, "rb", raw = TRUE)
  on.exit(close(con))
  seek(con, file.size(at) - 4)
  sum(as.integer(readBin(con, "raw", 4)) * 256^(0:3))
}

# Letters of two bytes are told by the mark at the start or by a zero in every second byte. What is
# no UTF-8 else is the old encoding of Western Europe, with the quotes and the ellipsis of Windows
# where they occur.
with_letters_of_utf8 <- function(source, stated) {
  start <- utils::head(source$bytes, 1000)
  wide <- wide_encoding(start, stated)
  if (!is.null(wide)) {
    # R takes the mark away by this name
    marked <- begins_with(start, 0xff, 0xfe) || begins_with(start, 0xfe, 0xff)
    source$wide <- if (marked) "UTF-16" else wide
    text <- as_utf8_bytes(source, wide, stated)
    source$bytes <- if (has_bom(text)) text[-(1:3)] else text
    stated <- NULL
  }
  if (has_zero(source$bytes)) fail("file-binary", path = source$path)
  source$ascii <- all_ascii_bytes(source$bytes)
  source$encoding <- encodings_known[[stated %||% encoding_of(source)]]
  if (!source$ascii && (source$encoding != "UTF-8" || identical(stated, "UTF-8"))) {
    source$bytes <- as_utf8_bytes(source, source$encoding, stated)
  }
  source
}

# The name of the encoding among those known.
encoding_of <- function(source) {
  if (source$ascii || !first_no_letter(source$bytes)) return("UTF-8")
  used <- as.raw(which(tabulate(as.integer(source$bytes) + 1L, 256) > 0) - 1)
  odd <- as.raw(c(0x81, 0x8d, 0x8f, 0x90, 0x9d))
  if (any(used %in% as.raw(0x80:0x9f)) && !any(used %in% odd)) "Windows-1252" else "Latin-1"
}

# The bytes of a source in UTF-8; `stated` is the encoding that the analyst named. What iconv()
# cannot read it gives back as it was.
as_utf8_bytes <- function(source, encoding, stated) {
  bytes <- source$bytes
  if (encoding != "UTF-8") {
    out <- iconv(list(bytes), encoding, "UTF-8", toRaw = TRUE)[[1]]
    if (!is.null(out) && !identical(out, bytes)) return(out)
    if (is.null(stated)) fail("file-binary", path = source$path)
    fail("no-letters", path = source$path, encoding = stated, where = "")
  }
  bad <- first_no_letter(bytes)
  if (bad) fail("no-letters", path = source$path, encoding = stated,
    where = paste0(", line ", sum(bytes[seq_len(bad)] == as.raw(10)) + 1, ","))
  bytes
}

wide_encoding <- function(start, encoding) {
  if (begins_with(start, 0xff, 0xfe)) return("UTF-16LE")
  if (begins_with(start, 0xfe, 0xff)) return("UTF-16BE")
  even <- seq(2, length.out = length(start) %/% 2, by = 2)
  zeros <- c(first = mean(start[even - 1] == 0), second = mean(start[even] == 0))
  if (isTRUE(zeros[["second"]] > 0.4) && zeros[["first"]] < 0.1) return("UTF-16LE")
  if (isTRUE(zeros[["first"]] > 0.4) && zeros[["second"]] < 0.1) return("UTF-16BE")
  if (identical(encoding, "UTF-16")) fail("not-wide")
}

# Without so many lines at the top, or without those there that begin with a sign.
without_top <- function(source, skip) {
  if (is.null(skip)) return(source)
  top <- utils::head(source$bytes, 1e6)
  ends <- which(top == as.raw(10))
  if (!length(ends)) ends <- which(top == as.raw(13))
  lines <- if (is.character(skip)) lines_marked(source$bytes, ends, skip) else skip
  if (lines > length(ends)) {
    fail("skip-all", path = source$path, lines = counted(lines, "line"))
  }
  if (!lines) return(source)
  source$skipped <- lines
  above <- ends[lines]
  source$bytes <- source$bytes[seq(above + 1, length.out = length(source$bytes) - above)]
  source
}

# Line ends outside of quotes.
line_ends <- function(bytes) {
  ends <- which(bytes == as.raw(0x0a))
  quotes <- which(bytes == as.raw(0x22))
  if (length(quotes)) ends[findInterval(ends, quotes) %% 2 == 0] else ends
}

# How many lines at the top begin with the sign, whatever blanks stand before it.
lines_marked <- function(bytes, ends, sign) {
  starts <- c(if (has_bom(bytes)) 4 else 1, ends + 1)
  for (i in seq_along(starts)) {
    from <- starts[i]
    if (from > length(bytes)) return(i - 1)
    line <- rawToChar(bytes[from:min(length(bytes), from + 999)])
    if (!startsWith(trimws(line, "left"), sign)) return(i - 1)
  }
  length(starts)
}

word_errors(list(
  "file-packed-broken" = c("{path} is packed, and cannot be unpacked: {why}.",
    "Get it anew, or unpack it with a program that you trust and see what is inside."),
  "file-bomb" = c("{path} would unpack to more than {size} MB, far more than its size lets expect.",
    "If you trust it, unpack it with another program and open what is inside."),
  "no-such-table" = c("{path} holds no {table}.{hint}", "It holds {known}."),
  "which-table" = c("{path} holds {known}, so that it is not clear what to open.",
    "Say which: reading = list(table = \"wave1.csv\").",
    sheet = "Say which: --reading \"table: wave1.csv\".",
    desk = "Choose one of them."),
  "no-letters" = c("{path}{where} holds bytes that are no letters in {encoding}.",
    "Leave `encoding` out: it is found out."),
  "not-wide" = c("The file is not written in UTF-16.", "Leave `encoding` out: it is found out."),
  "skip-all" = c("{path} has fewer lines than are to be skipped ({lines}).",
    "Write how many lines stand above the line of names: reading = list(skip = 2).",
    sheet = "Write how many lines stand above the line of names: --reading \"skip: 2\".",
    desk = "Say how many lines stand above the line of names.")
), unread = TRUE)
