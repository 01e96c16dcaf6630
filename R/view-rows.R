#' @include look-rows.R
NULL

#' @export
print.ableturn_rows <- plainly(function(x, ...) {
  made <- attr(x, "made")
  shown <- rows_shown(x)
  names(shown) <- ifelse(names(shown) %in% made, paste0(names(shown), " (new)"), names(shown))
  say(c(title_line("Rows", side = rows_told(x)),
    if (nrow(x)) table_lines(shown) else "  No row is like that.",
    row_workings(x)))
  invisible(x)
})

# Values as they are read: codes with their labels, and reasons where there is no value.
rows_shown <- function(x) {
  vars <- attr(x, "vars")
  shown <- as.list(x)
  reasons <- attr(x, "reasons")
  codes <- attr(x, "codes")
  shown[vars] <- lapply(vars, function(name) row_cells(x[[name]], reasons[[name]], codes[[name]]))
  beside <- setdiff(names(shown), vars)
  shown[beside] <- lapply(shown[beside], show_value)
  list2DF(shown, nrow(x))
}

row_cells <- function(values, reasons, codes) {
  text <- vapply(seq_along(values), function(i) {
    if (is.na(values[i])) "" else shown_value(values[i])
  }, "")
  label <- label_of(values, codes)
  text <- ifelse(is.na(label) | label == text, text, paste(text, label))
  ifelse(is.na(values), paste0("(", reasons %|% "missing", ")"), text)
}

rows_told <- function(x) {
  rows <- attr(x, "rows")
  from <- attr(x, "from")
  told <- paste(counted(rows, "row"), if (rows < attr(x, "of")) paste("of", grouped(attr(x, "of"))))
  if (!nrow(x) || nrow(x) >= rows) return(trimws(told))
  which <- if (is.null(from)) paste(grouped(nrow(x)), "drawn from") else
    paste(grouped(from), "to", grouped(from + nrow(x) - 1), "of")
  paste(which, trimws(told))
}

row_workings <- function(x) {
  working <- attr(x, "working")
  if (is.null(working)) return(NULL)
  c("", utils::capture.output(print(working)))
}
