# Counts shown as text but set to the right, under headings of several lines; more columns than
# fit go into blocks below each other, each with the labels.
right_aligned <- function(table, headings, labels) {
  blank <- which(!vapply(table[seq_len(labels)], function(x) any(nzchar(x)), NA))
  if (length(blank)) return(right_aligned(table[-blank], headings[-blank], labels - length(blank)))
  counts <- seq_along(table) > labels
  table[!counts] <- lapply(table[!counts], shorten, 28)
  heads <- lapply(show_controls(headings), function(h) if (nzchar(h)) strwrap(h, 13) else "")
  deep <- max(lengths(heads))
  padded <- Map(function(cells, head, right) {
    cells <- c(rep("", deep - length(head)), head, cells)
    pad_column(cells[-1], cells[1], right)
  }, table, heads, counts)
  block_lines(padded, labels)
}
