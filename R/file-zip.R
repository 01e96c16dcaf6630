# Zip files, as packages, packed tables and spreadsheets are (APPNOTE.TXT of the format). Programs
# read a damaged or forged one each in its own way: one takes the first of two members with the same
# name, another the last; most look at no sum. So all of it is checked once, in memory, and what
# passes can be read in one way only.

# A zip file whose list of members is right; an error in words, if it is not.
#   bytes    all of it
#   members  a table of its members: `name`, `method` (0 stored, 8 deflated), `size`, `packed`
#            (bytes in the file), `sum` and `at` (where these begin)
checked_zip <- function(path) {
  bytes <- file_bytes(path)
  broken <- function(...) fail("file-packed-broken", path = path, why = paste0(...))
  members <- listed_members(bytes, broken)
  check_member_kinds(members, broken)
  check_member_names(members$name, path)
  members <- placed_members(bytes, members, broken)
  most <- most_unpacked(absolute_path(path))
  if (sum(members$size) > most) {
    fail("file-bomb", path = path, size = grouped(round(most / 1e6)))
  }
  list(path = path, bytes = bytes, members = members[!members$folder, ])
}

# The bytes of a member, whose size and sum must be those that the list tells.
zip_member <- function(zip, name) {
  member <- zip$members[match(name, zip$members$name), ]
  packed <- bytes_from(zip$bytes, member$at, member$packed)
  content <- if (member$method == 0) packed else inflated(packed, member)
  if (length(content) != member$size || checksum_of_bytes(content) != member$sum) {
    fail("file-packed-broken", path = zip$path, why = paste(name, "is not what its sum says"))
  }
  content
}

# At most one byte more than stated, so that nothing grows beyond the size that was checked. R reads
# no bare deflated bytes; with a head and a tail they are a gzip file.
inflated <- function(packed, member) {
  head <- as.raw(c(0x1f, 0x8b, 8, 0, 0, 0, 0, 0, 0, 255))
  from <- gzcon(rawConnection(c(head, packed, four_bytes(member$sum), four_bytes(member$size))))
  on.exit(close(from))
  without_remarks(tryCatch(readBin(from, "raw", member$size + 1), error = function(e) raw(),
    warning = function(w) raw()))
}

# R writes a remark of its own about a sum that is wrong, which is no message that can be caught.
without_remarks <- function(code) {
  shown <- sink.number(type = "message")
  aside <- rawConnection(raw(), "w")
  sink(aside, type = "message")
  on.exit({
    sink(if (shown == 2) NULL else getConnection(shown), type = "message")
    close(aside)
  })
  code
}

# All members as files of a folder that is empty; nothing is written unless all are right.
unzip_into <- function(zip, folder) {
  contents <- lapply(self_named(zip$members$name), zip_member, zip = zip)
  for (name in names(contents)) {
    at <- file.path(folder, name)
    dir.create(dirname(at), recursive = TRUE, showWarnings = FALSE)
    writeBin(contents[[name]], at)
  }
}

# A copy of its own for a library that reads zip files by itself: what was checked is what it reads.
# Files that a library would not open are checked as well.
private_copy <- function(zip, ending, room) {
  for (name in zip$members$name) zip_member(zip, name)
  at <- file.path(room, paste0("table.", ending))
  writeBin(zip$bytes, at)
  at
}

# The list of members at the end of the file.
listed_members <- function(bytes, broken) {
  end <- end_record(bytes, broken)
  if (!end$count) broken("it is empty")
  at <- end$list_at
  rows <- vector("list", end$count)
  for (i in seq_len(end$count)) {
    if (at + 46 > end$at || !has_mark_at(bytes, at, c(0x50, 0x4b, 1, 2))) {
      broken("its list of members is cut short")
    }
    lengths <- number_at(bytes, at + c(28, 30, 32), 2)
    rows[[i]] <- c(at, lengths)
    at <- at + 46 + sum(lengths)
  }
  if (at != end$at) broken("something stands behind its list of members")
  place <- do.call(rbind, rows)
  at <- place[, 1]
  names <- vapply(seq_along(at), function(i) member_name(bytes, at[i] + 46, place[i, 2]), "")
  quick_table(name = names, made_by = number_at(bytes, at + 5, 1), flags = number_at(bytes, at + 8,
    2), method = number_at(bytes, at + 10, 2), sum = number_at(bytes, at + 16, 4),
  packed = number_at(bytes, at + 20, 4), size = number_at(bytes, at + 24, 4),
  disk = number_at(bytes, at + 34, 2), mode = number_at(bytes, at + 40, 2),
  head = number_at(bytes, at + 42, 4), folder = grepl("/$", names),
  renamed = mapply(has_other_name, at + 46 + place[, 2], place[, 3],
    MoreArgs = list(bytes = bytes)),
  list_at = rep(end$list_at, length(at)))
}

# Where the list begins, and how many members it has. Its mark must stand once behind the members:
# some programs search for it from the end, others by where its remark would end.
end_record <- function(bytes, broken) {
  size <- length(bytes)
  at <- end_marks(bytes)
  if (!length(at)) broken("it is cut short")
  last <- at[length(at)]
  if (last + 22 + number_at(bytes, last + 20, 2) != size) broken("something stands behind its end")
  here <- number_at(bytes, last + c(4, 6, 8, 10), 2)
  list_size <- number_at(bytes, last + 12, 4)
  list_at <- number_at(bytes, last + 16, 4)
  longer <- last >= 20 && has_mark_at(bytes, last - 20, c(0x50, 0x4b, 6, 7))
  if (longer || any(here == 65535) || list_at == 2^32 - 1 || list_size == 2^32 - 1) {
    broken("it is of a kind for more than 4 GB")
  }
  if (any(here[1:2] != 0) || here[3] != here[4]) broken("it is one part of several")
  if (list_at + list_size != last) broken("its list of members is not where its end says")
  if (any(at >= list_at & at < last)) broken("it has two ends")
  if (here[4] > most_members) broken("it holds more than 10,000 files")
  list(at = last, list_at = list_at, count = here[4])
}

# Where such a mark stands, as far from the end as a remark may be long.
end_marks <- function(bytes) {
  size <- length(bytes)
  if (size < 22) return(integer())
  tail <- max(0, size - 65557):(size - 22)
  tail[has_mark_at(bytes, tail, c(0x50, 0x4b, 5, 6))]
}

most_members <- 10000

# How members may be packed.
check_member_kinds <- function(members, broken) {
  refuse <- function(which, ...) if (any(which)) broken(members$name[which][1], " ", ...)
  refuse(bitwAnd(members$flags, 0x2041L) != 0, "is locked by a password")
  refuse(!members$method %in% c(0, 8), "is packed in a way that is not read here")
  refuse(members$disk != 0, "lies in another part")
  refuse(members$made_by == 3 & bitwAnd(members$mode, 0xf000L) == 0xa000L, "is a link")
  refuse(members$folder & members$size > 0, "is a folder with content")
  refuse(members$renamed, "has two names")
}

# Each member begins where the one before it ends, and says of itself what the list says of it: so
# no program that reads the members one after the other meets others than one that goes by the list.
placed_members <- function(bytes, members, broken) {
  members <- members[order(members$head), ]
  head <- members$head
  next_at <- c(head[-1], members$list_at[1])
  bad <- function(which, ...) if (any(which)) broken(members$name[which][1], " ", ...)
  if (head[1] != 0) broken("something stands before its first file")
  bad(!has_mark_at(bytes, head, c(0x50, 0x4b, 3, 4)) | head + 30 > members$list_at,
    "is not where the list says")
  lengths <- cbind(number_at(bytes, head + 26, 2), number_at(bytes, head + 28, 2))
  members$at <- head + 30 + rowSums(lengths) + 1
  bad(members$at - 1 + members$packed > next_at, "is cut short, or lies over another")
  own <- vapply(seq_along(head), function(i) member_name(bytes, head[i] + 30, lengths[i, 1]), "")
  extra <- mapply(has_other_name, head + 30 + lengths[, 1], lengths[, 2],
    MoreArgs = list(bytes = bytes))
  bad(own != members$name | extra, "has two names")
  bad(number_at(bytes, head + 6, 2) != members$flags | number_at(bytes, head + 8, 2) !=
    members$method, "says another thing of itself than the list")
  bad(!same_sums(bytes, members, next_at), "says another thing of itself than the list")
  members
}

# Size and sum stand before a member or, where they were not known then, behind it.
same_sums <- function(bytes, members, next_at) {
  told <- three_numbers(bytes)
  as_listed <- cbind(members$sum, members$packed, members$size)
  same <- function(at) rowSums(told(at) == as_listed) == 3
  later <- bitwAnd(members$flags, 8L) != 0
  before <- members$head + 14
  unknown <- rowSums(told(before) == 0) == 3
  ends <- members$at - 1 + members$packed
  gap <- next_at - ends
  marked <- gap == 16 & has_mark_at(bytes, pmin(ends, length(bytes) - 4), c(0x50, 0x4b, 7, 8))
  at <- ifelse(marked, ends + 4, ends)
  behind <- (gap == 12 | marked) & same(pmin(at, length(bytes) - 12))
  ifelse(later, (unknown | same(before)) & behind, same(before) & gap == 0)
}

# The name of a member, whose letters must be those of UTF-8.
member_name <- function(bytes, at, length) {
  if (at + length > length(bytes) || !length) return("")
  name <- bytes[at + seq_len(length)]
  if (has_zero(name)) return("")
  name <- rawToChar(name)
  Encoding(name) <- "UTF-8"
  if (validUTF8(name)) name else ""
}

# Whether a further field (of a list of them: kind, length, content) gives a member another name, as
# some programs have it for letters beyond ASCII.
has_other_name <- function(bytes, at, length) {
  end <- at + length
  while (at + 4 <= end) {
    kind <- number_at(bytes, at, 2)
    size <- number_at(bytes, at + 2, 2)
    if (kind == 0x7075) return(TRUE)
    at <- at + 4 + size
  }
  FALSE
}

# Names of files on every system, each another one whatever the system takes for the same.
check_member_names <- function(names, path) {
  broken <- function(name, ...) {
    fail("file-packed-broken", path = path, why = paste0(quote_text(name), " ", ...))
  }
  if (!all(nzchar(names))) {
    fail("file-packed-broken", path = path, why = "a name in it is not in UTF-8")
  }
  outside <- grepl("^(/|~|[A-Za-z]:)|(^|[/\\\\])[.][.]?([/\\\\]|$)", names)
  if (any(outside)) fail("file-outside", name = names[outside][1], path = path)
  bare <- sub("/$", "", names)
  odd <- grepl("[\\\\:*?\"<>|[:cntrl:]\u0080-\u009f\u200e\u200f\u2028-\u202e\u2066-\u2069]", bare) |
    grepl("//|[. ](/|$)", bare) | grepl(device_name, bare, ignore.case = TRUE)
  if (any(odd)) broken(names[odd][1], "is no name that every system knows")
  alike <- stringi::stri_trans_nfkc_casefold(bare)
  if (anyDuplicated(alike)) broken(names[anyDuplicated(alike)], "is in it twice")
  above <- unique(unlist(lapply(strsplit(alike, "/", fixed = TRUE), folders_above)))
  clash <- alike %in% above & !grepl("/$", names)
  if (any(clash)) broken(names[clash][1], "is a file and a folder")
}

# Names that some systems keep for devices, whatever their ending.
device_name <- "(^|/)(con|prn|aux|nul|(com|lpt)[0-9])([.][^/]*)?(/|$)"

# The folders that a file lies in, from its path in parts.
folders_above <- function(parts) {
  if (length(parts) < 2) return(character())
  Reduce(function(a, b) paste0(a, "/", b), parts[-length(parts)], accumulate = TRUE)
}

# Whole numbers of so many bytes, the lowest first, at places counted from 0.
number_at <- function(bytes, at, size) {
  out <- 0
  for (i in seq_len(size)) out <- out + as.integer(bytes[at + i]) * 256^(i - 1)
  out
}

# A function that gives three numbers of four bytes each at every place, as a row.
three_numbers <- function(bytes) {
  function(at) {
    cbind(number_at(bytes, at, 4), number_at(bytes, at + 4, 4), number_at(bytes, at + 8, 4))
  }
}

four_bytes <- function(number) as.raw(number %/% 256^(0:3) %% 256)

has_mark_at <- function(bytes, at, mark) {
  same <- lapply(seq_along(mark), function(i) bytes[at + i] == as.raw(mark[i]))
  Reduce(`&`, same)
}

# At most 300 times what is packed, or 100 MB: a file that grows beyond that was made to fill the
# memory or the disk.
most_unpacked <- function(at) max(1e8, 300 * file.size(at))
