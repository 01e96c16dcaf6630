# A table of text, some of its rows at a time: each piece is read like a file of its own that begins
# with the line of names.

#' @export
read_in_blocks.default <- function(path, each) {
  format <- format_to_read(path)
  from <- gzfile(absolute_path(path), "rb") # reads files that are not packed as well
  on.exit(close(from))
  progress <- progress_of(file.size(absolute_path(path)), "byte")
  head <- first_lines(from)
  rest <- head$rest
  blocks <- 0
  done <- 0
  repeat {
    piece <- c(rest, readBin(from, "raw", block_bytes))
    # of names alone there is one block without rows
    if (!length(piece) && blocks) break
    blocks <- blocks + 1
    end <- if (length(piece) < block_bytes) length(piece) else last_line_end(piece, path)
    read_block(c(head$names, piece[seq_len(end)]), path, format, each)
    rest <- piece[-seq_len(end)]
    done <- done + end
    progress(done)
  }
}

block_bytes <- 2^24

# The line of names, and what was read beyond it.
first_lines <- function(from) {
  start <- readBin(from, "raw", 1e6)
  end <- line_ends(start)[1]
  if (is.na(end)) list(names = start, rest = raw()) else
    list(names = start[seq_len(end)], rest = start[-seq_len(end)])
}

last_line_end <- function(piece, path) {
  ends <- line_ends(piece)
  if (!length(ends)) fail("line-endless", path = path)
  ends[length(ends)]
}

read_block <- function(bytes, path, format, each) {
  at <- tempfile(fileext = paste0(".", format$endings[1]))
  on.exit(unlink(at))
  writeBin(bytes, at)
  read <- in_plain_settings(read_settled(at, list(values = TRUE), format))
  each(as.list(read$data), read$texts)
}
