# The bytes of a table in whatever a file wraps them: packed, in an encoding of two bytes a letter,
# below lines that do not belong to it. Such a file is copied, plain, into the folder `room`, which
# is there for as long as it is read.

# Where the plain bytes are (`at`), and what was around them: `packed`, `member` of a zip file,
# `wide` encoding, `skipped` lines.
laid_bare <- function(path, stated, room) {
  source <- unpacked(list(at = whole_path(path), path = path, room = room), stated$table)
  source <- with_narrow_letters(source, stated$encoding)
  without_top(source, stated$skip)
}

packing_of <- function(at) {
  start <- first_bytes(at, 6)
  if (begins_with(start, 0x1f, 0x8b)) return("gzip")
  if (begins_with(start, 0x50, 0x4b, 3, 4)) return("zip")
  if (begins_with(start, 0x42, 0x5a, 0x68)) return("bzip2")
  if (begins_with(start, 0xfd, 0x37, 0x7a, 0x58, 0x5a, 0)) "xz"
}

unpacked <- function(source, table) {
  packed <- packing_of(source$at)
  if (is.null(packed)) return(source)
  source$packed <- packed
  if (packed == "zip") source$member <- member_of_zip(source, table)
  con <- switch(packed, zip = unz(source$at, source$member, "rb"), gzip = gzfile(source$at, "rb"),
    bzip2 = bzfile(source$at, "rb"), xz = xzfile(source$at, "rb"))
  on.exit(close(con))
  source$at <- copied_from(con, source)
  source
}

# The one table in a zip file, or the one that was named.
member_of_zip <- function(source, table) {
  inside <- tryCatch(utils::unzip(source$at, list = TRUE)$Name, error = function(e) NULL,
    warning = function(w) NULL)
  if (is.null(inside)) fail("file-packed-broken", path = source$path)
  inside <- inside[!grepl("/$|^__MACOSX/|(^|/)[.]", inside)]
  if (!is.null(table)) {
    if (!table %in% inside) fail("no-such-table", path = source$path, table = table,
      known = inside, hint = near_hint(table, inside))
    return(table)
  }
  tables <- inside[vapply(inside, ending_of, "") %in% c("csv", "tsv", "txt")]
  if (length(tables) != 1) fail("which-table", path = source$path, known = inside)
  tables
}

# At most 300 times what is packed, or 100 MB: a file that grows beyond that was made to fill the
# disk.
most_unpacked <- function(at) max(1e8, 300 * file.size(at))

copied_from <- function(con, source) {
  most <- most_unpacked(source$at)
  to <- new_copy(source)
  out <- file(to, "wb")
  on.exit(close(out))
  size <- 0
  repeat {
    piece <- tryCatch(readBin(con, "raw", 2^23), error = function(e) NULL,
      warning = function(w) NULL)
    if (is.null(piece)) fail("file-packed-broken", path = source$path)
    if (!length(piece)) break
    size <- size + length(piece)
    if (size > most) fail("file-bomb", path = source$path, size = grouped(round(most / 1e6)))
    writeBin(piece, out)
  }
  if (!size) fail("file-empty", path = source$path)
  if (source$packed == "gzip" && size %% 2^32 != size_told(source$at)) {
    fail("file-packed-broken", path = source$path)
  }
  to
}

# The last four bytes of a gzip file tell how much it holds; R does not look whether all is there.
size_told <- function(at) {
  con <- file(at, "rb", raw = TRUE)
  on.exit(close(con))
  seek(con, file.size(at) - 4)
  sum(as.integer(readBin(con, "raw", 4)) * 256^(0:3))
}

new_copy <- function(source) tempfile("copy-", source$room, ".txt")

# Letters of two bytes, told by the mark at the start or by a zero in every second byte.
with_narrow_letters <- function(source, encoding) {
  start <- first_bytes(source$at, 1000)
  wide <- wide_encoding(start, encoding)
  if (is.null(wide)) return(source)
  text <- iconv(list(file_bytes(source$at)), wide, "UTF-8", toRaw = TRUE)[[1]]
  if (is.null(text)) fail("file-binary", path = source$path)
  if (has_mark(text)) text <- text[-(1:3)]
  source$at <- written_copy(text, source)
  # R takes the mark away by this name
  source$wide <- if (begins_with(start, 0xff, 0xfe) || begins_with(start, 0xfe, 0xff)) "UTF-16" else
    wide
  source
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

written_copy <- function(bytes, source) {
  to <- new_copy(source)
  writeBin(bytes, to)
  to
}

# Without so many lines at the top, or without those there that begin with a sign.
without_top <- function(source, skip) {
  if (is.null(skip)) return(source)
  bytes <- file_bytes(source$at)
  top <- utils::head(bytes, 1e6)
  ends <- which(top == as.raw(10))
  if (!length(ends)) ends <- which(top == as.raw(13))
  lines <- if (is.character(skip)) lines_marked(bytes, ends, skip) else skip
  if (lines > length(ends)) {
    fail("skip-all", path = source$path, lines = counted(lines, "line"))
  }
  if (!lines) return(source)
  source$skipped <- lines
  source$at <- written_copy(bytes[-seq_len(ends[lines])], source)
  source
}

# How many lines at the top begin with the sign, whatever blanks stand before it.
lines_marked <- function(bytes, ends, sign) {
  starts <- c(1, ends + 1)
  for (i in seq_along(starts)) {
    from <- starts[i]
    if (from > length(bytes)) return(i - 1)
    line <- rawToChar(bytes[from:min(length(bytes), from + 999)])
    if (!startsWith(trimws(line, "left"), sign)) return(i - 1)
  }
  length(starts)
}

word_errors(list(
  "file-packed-broken" = c("{path} is packed, and cannot be unpacked.",
    "It may be cut short or locked by a password: unpack it with another program, or get it anew."),
  "file-bomb" = c("{path} would unpack to more than {size} MB, far more than its size lets expect.",
    "If you trust it, unpack it with another program and open what is inside."),
  "no-such-table" = c("{path} holds no {table}.{hint}", "It holds {known}."),
  "which-table" = c("{path} holds {known}, so that it is not clear what to open.",
    "Say which: reading = list(table = \"wave1.csv\").",
    sheet = "Say which: --reading \"table: wave1.csv\"."),
  "not-wide" = c("The file is not written in UTF-16.", "Leave `encoding` out: it is found out."),
  "skip-all" = c("{path} has fewer lines than are to be skipped ({lines}).",
    "Write how many lines stand above the line of names: reading = list(skip = 2).",
    sheet = "Write how many lines stand above the line of names: --reading \"skip: 2\".")
), unread = TRUE)
