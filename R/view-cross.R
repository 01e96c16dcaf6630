#' @export
print.ableturn_cross <- function(x, ...) {
  tables <- attr(x, "tables") %||% list(x)
  for (i in seq_along(tables)) say(c(if (i > 1) "", cross_lines(tables[[i]])))
  invisible(x)
}

cross_lines <- function(x) {
  vars <- attr(x, "vars")
  wide <- cross_wide(x)
  c(title_line(vars[1], " by ", vars[2], side = counted(sum(x$rows), "row")), column_lines(wide))
}

# Rows of the printed table; long runs of values with the same single result are one row.
cross_wide <- function(x, most = 12) {
  rows <- unique(x[c("row", "row_label", "row_missing")])
  columns <- unique(x[order(x$column_missing, match(x$column, x$column[order_columns(x)])),
    c("column", "column_label", "column_missing")])
  cells <- matrix(0L, nrow(rows), nrow(columns))
  cells[cbind(match(paste(x$row, x$row_missing), paste(rows$row, rows$row_missing)),
    match(paste(x$column, x$column_missing), paste(columns$column, columns$column_missing)))] <- x$rows
  if (nrow(rows) > most) join_runs(rows, columns, cells) else list(rows = rows, columns = columns, cells = cells)
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
  body[] <- lapply(body, function(n) ifelse(n == 0, glyph("*"), grouped(n)))
  value <- ifelse(wide$rows$row_missing, ".", wide$rows$row)
  label <- ifelse(wide$rows$row_missing, paste("missing:", wide$rows$row), wide$rows$row_label)
  heads <- ifelse(wide$columns$column_missing, paste("missing:", wide$columns$column),
    trimws(paste(wide$columns$column, wide$columns$column_label)))
  right_aligned(cbind(data.frame(value = value, label = label), body), c("", "", heads), 2)
}
