# One block: what the variable means, in remarks, and how it is made.
variable_lines_base <- function(book, name, data) {
  made <- held(book, "columns")[[name]]
  code <- base_code(made$expr, book, data)
  target <- code_column("clean", name)
  c(meaning_remarks(name, made, book), assign_code(target, code), guard_line(target, code, made, book))
}

assign_code <- function(target, code) {
  if (isTRUE(code$constant)) return(paste0(target, " <- rep(", code$value, ", nrow(clean))"))
  if (length(code$before)) {
    return(c(paste0(target, " <- with(clean, {"), paste0("  ", c(code$before, code$value)), "})"))
  }
  short <- paste0(target, " <- with(clean, ", code$value[1], ")")
  if (length(code$value) == 1 && nchar(short) <= 100) return(short)
  value <- code$value
  value[length(value)] <- paste0(value[length(value)], ")")
  c(paste0(target, " <- with(clean,"), paste0("  ", value))
}

# A result outside the range of numbers, or of a function, is no result.
guard_line <- function(target, code, made, book) {
  endless <- any(vapply(made$from, function(v) {
    x <- column_in(book, v)$x
    is.double(x) && any(abs(unclass(x)) > 1e150, na.rm = TRUE)
  }, NA))
  if ((code$open || endless) && is.numeric(made$x)) paste0(target, "[!is.finite(", target, ")] <- NA",
    side_remark("undefined"))
}
