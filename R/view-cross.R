#' @export
print.ableturn_cross <- function(x, ...) {
  say(cross_lines(x))
  invisible(x)
}

cross_lines <- function(x) {
  vars <- attr(x, "vars")
  wide <- cross_wide(x)
  c(title_line(vars[1], " by ", vars[2], side = counted(sum(x$rows), "row")), column_lines(wide))
}

# Rows of the printed table; long runs of values with the same single result are one row.
cross_wide <- function(x) {
  rows <- unique(x[c("row", "row_label", "row_missing")])
  columns <- unique(x[order(x$column_missing, match(x$column, x$column[order_columns(x)])), c("column", "column_label", "column_missing")])
  cells <- matrix(0L, nrow(rows), nrow(columns))
  cells[cbind(match(paste(x$row, x$row_missing), paste(rows$row, rows$row_missing)),
    match(paste(x$column, x$column_missing), paste(columns$column, columns$column_missing)))] <- x$rows
  if (nrow(rows) > 25) join_runs(rows, columns, cells) else list(rows = rows, columns = columns, cells = cells)
}

order_columns <- function(x) {
  number <- suppressWarnings(as.numeric(x$column))
  if (anyNA(number[!x$column_missing])) order(x$column, method = "radix") else order(number)
}

join_runs <- function(rows, columns, cells) {
  only <- ifelse(rowSums(cells > 0) == 1 & !rows$row_missing, max.col(cells > 0), -seq_len(nrow(rows)))
  run <- cumsum(c(TRUE, only[-1] != only[-length(only)]))
  first <- match(unique(run), run)
  last <- length(run) + 1 - match(unique(run), rev(run))
  joined <- rows[first, ]
  several <- last > first
  joined$row[several] <- paste(rows$row[first[several]], "to", rows$row[last[several]])
  joined$row_label[several] <- paste(last[several] - first[several] + 1, "values")
  list(rows = joined, columns = columns, cells = unname(rowsum(cells, run)))
}

column_lines <- function(wide) {
  body <- as.data.frame(wide$cells)
  body[] <- lapply(body, function(n) ifelse(n == 0, mark("*"), count(n)))
  value <- ifelse(wide$rows$row_missing, ".", wide$rows$row)
  label <- ifelse(wide$rows$row_missing, paste("missing:", wide$rows$row), wide$rows$row_label)
  heads <- ifelse(wide$columns$column_missing, paste("missing:", wide$columns$column),
    trimws(paste(wide$columns$column, wide$columns$column_label)))
  right_aligned(cbind(data.frame(value = value, label = label), body), c("", "", heads), 2)
}

# Counts shown as text, but set to the right; headings are cut to share the page.
right_aligned <- function(table, headings, labels) {
  counts <- seq_along(table) > labels
  room <- (page_width() - 34) %/% max(1, sum(counts)) - 2
  headings[counts] <- shorten(headings[counts], max(8, room))
  table[!counts] <- lapply(table[!counts], shorten, 28)
  padded <- Map(pad_column, table, headings, counts)
  block_lines(padded, labels)
}

# More columns than fit go into blocks below each other, each with the labels.
block_lines <- function(padded, labels) {
  wide <- vapply(padded, function(p) nchar(p[1], "width") + 2L, 1L)
  room <- page_width() - 2 - sum(wide[seq_len(labels)])
  block <- integer(length(wide))
  used <- 0
  for (i in seq_along(wide)[-seq_len(labels)]) {
    fits <- used %% room + wide[i] <= room && used > 0
    block[i] <- if (fits) block[i - 1] else max(block) + 1
    used <- if (fits) used + wide[i] else wide[i]
  }
  unlist(lapply(seq_len(max(block)), function(b) {
    lines <- do.call(paste, c(unname(padded[c(seq_len(labels), which(block == b))]), sep = "  "))
    c(if (b > 1) "", sub("\\s+$", "", paste0("  ", lines)))
  }))
}
