# Counts shown as text but set to the right, under headings of several lines; more columns than
# fit go into blocks below each other, each with the labels.
right_aligned <- function(table, headings, labels) {
  blank <- which(!vapply(table[seq_len(labels)], function(x) any(nzchar(x)), NA))
  if (length(blank)) return(right_aligned(table[-blank], headings[-blank], labels - length(blank)))
  counts <- seq_along(table) > labels
  table[!counts] <- lapply(table[!counts], shorten, 28)
  heads <- lapply(headings, function(h) if (nzchar(h)) strwrap(h, 13) else "")
  deep <- max(lengths(heads))
  padded <- Map(function(cells, head, right) {
    cells <- c(rep("", deep - length(head)), head, cells)
    pad_column(cells[-1], cells[1], right)
  }, table, heads, counts)
  block_lines(padded, labels)
}

block_lines <- function(padded, labels) {
  wide <- vapply(padded, function(p) nchar(p[1], "width") + 2L, 1L)
  block <- blocks_of(wide[-seq_len(labels)], page_width() - 2 - sum(wide[seq_len(labels)]))
  unlist(lapply(seq_len(max(block)), function(b) {
    lines <- do.call(paste, c(unname(padded[c(seq_len(labels), labels + which(block == b))]), sep = "  "))
    lines <- sub("\\s+$", "", paste0("  ", lines))
    c(if (b > 1) "", lines[cumsum(nzchar(lines)) > 0])
  }))
}

# Which block each column goes into, filling one after the other.
blocks_of <- function(wide, room) {
  block <- integer(length(wide))
  now <- 1
  used <- 0
  for (i in seq_along(wide)) {
    if (used > 0 && used + wide[i] > room) {
      now <- now + 1
      used <- 0
    }
    used <- used + wide[i]
    block[i] <- now
  }
  block
}
