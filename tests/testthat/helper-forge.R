# Zip files as nobody's program writes them: each part of them can be made to lie.

bytes_of <- function(number, size) as.raw(number %/% 256^(seq_len(size) - 1) %% 256)

text_bytes <- function(x) if (is.raw(x)) x else charToRaw(x)

# The bytes between the head and the sum of zlib.
deflated <- function(bytes) {
  packed <- memCompress(bytes, "gzip")
  packed[seq(3, length(packed) - 4)]
}

# A member; what is given as `local`, `listed` or `both` replaces what is true of it there.
forged_member <- function(name, content = "a,b\n1,2\n", method = 0, both = list(), local = list(),
                          listed = list(), packed = NULL, behind = NULL) {
  content <- text_bytes(content)
  packed <- packed %||% if (method == 8) deflated(content) else content
  true <- list(name = name, flags = 2048, method = method, sum = core("checksum_of_bytes")(content),
    packed = length(packed), size = length(content), extra = raw(), disk = 0, made_by = 0, mode = 0)
  true <- utils::modifyList(true, both)
  list(bytes = packed, behind = behind, local = utils::modifyList(true, local),
    listed = utils::modifyList(true, listed))
}

local_head <- function(m) {
  name <- text_bytes(m$name)
  c(as.raw(c(0x50, 0x4b, 3, 4, 20, 0)), bytes_of(m$flags, 2), bytes_of(m$method, 2), raw(4),
    bytes_of(m$sum, 4), bytes_of(m$packed, 4), bytes_of(m$size, 4), bytes_of(length(name), 2),
    bytes_of(length(m$extra), 2), name, m$extra)
}

listed_head <- function(m, at) {
  name <- text_bytes(m$name)
  c(as.raw(c(0x50, 0x4b, 1, 2, 20)), bytes_of(m$made_by, 1), as.raw(c(20, 0)),
    bytes_of(m$flags, 2), bytes_of(m$method, 2), raw(4), bytes_of(m$sum, 4), bytes_of(m$packed, 4),
    bytes_of(m$size, 4), bytes_of(length(name), 2), bytes_of(length(m$extra), 2), raw(2),
    bytes_of(m$disk, 2), raw(2), raw(2), bytes_of(m$mode, 2), bytes_of(m$at %||% at, 4), name,
    m$extra)
}

# `between`, `before`, `after`: bytes at these places; `count`, `comment`: what the end says.
forge_zip <- function(members, before = raw(), after = raw(), between = raw(), count = NULL,
                      comment = raw(), comment_size = length(comment)) {
  body <- before
  list <- raw()
  for (m in members) {
    list <- c(list, listed_head(m$listed, length(body)))
    body <- c(body, local_head(m$local), m$bytes, m$behind, between)
  }
  count <- count %||% length(members)
  path <- tempfile(fileext = ".zip")
  writeBin(c(body, list, as.raw(c(0x50, 0x4b, 5, 6)), raw(4), bytes_of(count, 2),
    bytes_of(count, 2), bytes_of(length(list), 4), bytes_of(length(body), 4),
    bytes_of(comment_size, 2), comment, after), path)
  path
}
