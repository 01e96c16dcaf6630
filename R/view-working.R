#' @export
print.ableturn_working <- function(x, ...) {
  for (row in unique(x$row)) say(working_lines(x[x$row == row, ]))
  invisible(x)
}

working_lines <- function(x) {
  gone <- ifelse(nzchar(x$reason), paste0(" (", x$reason, ")"), "")
  rule <- grepl(": ", x$working, fixed = TRUE)
  text <- paste0(x$variable, " = ", x$working, ifelse(rule, ", becomes ", " = "), x$value, gone)
  c(title_line("Row ", x$row[1]), unlist(lapply(text, folded)))
}
