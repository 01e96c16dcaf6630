# Matchers as a condition on a column that may hold NA.
match_code <- function(x, matchers, raw) {
  parts <- vapply(matchers, function(m) {
    if (m$type == "values") return(paste(x, "%in%", write_constant(fit_type(m$values, raw))))
    x <- if (is.character(raw)) text_as_number(x) else x
    if (is_any_number(m)) return(paste0("which(!is.na(", x, "))"))
    low <- if (is.finite(m$low)) paste(x, if (m$low_in) ">=" else ">", show_number(m$low))
    high <- if (is.finite(m$high)) paste(x, if (m$high_in) "<=" else "<", show_number(m$high))
    paste0("which(", paste(c(low, high), collapse = " & "), ")")
  }, "")
  if (length(parts) == 1) return(parts)
  ranges <- startsWith(parts, "which(")
  parts[ranges] <- sub("^which\\((.*)\\)$", "(\\1)", parts[ranges])
  paste0("which(", paste(parts, collapse = " | "), ")")
}

# A condition on all rows from what match_code() gives.
rows_code <- function(code, column) {
  if (startsWith(code, "which(")) paste0("(seq_along(", column, ") %in% ", code, ")") else paste0("(", code, ")")
}

text_as_number <- function(text) {
  paste0("as.numeric(ifelse(grepl(", code_text(plain_number), ", ", text, "), ", text, ", NA))")
}

# Arguments on as few lines as they fit.
fold_arguments <- function(options, width = 90) {
  lines <- character()
  for (option in options) {
    last <- length(lines)
    joined <- if (last) paste0(lines[last], ", ", option)
    if (last && nchar(joined) <= width) lines[last] <- joined else lines <- c(lines, option)
  }
  paste0("  ", lines, c(rep(",", length(lines) - 1), ""))
}
