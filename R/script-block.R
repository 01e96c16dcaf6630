# One block: what the variable means, in remarks, and how it is made.
variable_lines_base <- function(book, name, data) {
  derived <- derived_in(book, name)
  code <- base_code(derived$expr, book, data)
  target <- code_column("clean", name)
  c(meaning_remarks(derived), assign_code(target, code),
    guard_line(target, code, derived, book))
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
guard_line <- function(target, code, derived, book) {
  endless <- any(vapply(derived$from, function(v) {
    x <- column_of(variable_in(book, v))$x
    is.double(x) && any(abs(unclass(x)) > 1e150, na.rm = TRUE)
  }, NA))
  if ((code$open || endless) && is.numeric(derived$x)) paste0(target, "[!is.finite(",
    target, ")] <- NA", side_remark("undefined"))
}

# What stands above each block, in words.
meaning_remarks <- function(derived) {
  m <- derived$meaning
  c(
    title_remark(derived$name, m$label %||% derived$name),
    remark("From ", paste(derived$from, collapse = ", ")),
    level_remarks(derived),
    if (length(m$codes)) remark(codes_in_words(m$codes)),
    learned_remarks(derived$learned),
    direction_remark(m), if (!is.null(m$note)) remark("Note: ", m$note)
  )
}

# Where a table is looked into by codes: what these stand for.
level_remarks <- function(derived) {
  vars <- character()
  walk_formula(derived$expr, function(call) {
    if (is_lookup(call)) vars <<- c(vars, unlist(lapply(row_items(call)[-1], formula_vars)))
    call
  })
  unlist(lapply(unique(vars), function(v) {
    codes <- derived$sources[[v]]$meaning$codes
    told <- length(codes) && length(codes) <= 20 && !identical(unname(codes), names(codes))
    if (told) remark(v, ": ", codes_in_words(codes))
  }))
}

# A statistic stands in the code as its value.
learned_remarks <- function(learned) {
  plain <- Filter(function(note) {
    length(note$is) && !note_word(note) %in% c("spelled", "rare_values", "distribution")
  }, learned)
  unlist(lapply(plain, function(note) remark(learned_in_words(note))))
}

learned_in_words <- function(note) {
  if (note_word(note) %in% c("categories", "split_entries")) return(NULL)
  value <- paste(show_value(note$is), collapse = ", ")
  if (!length(note$groups)) return(paste0(note$of, " = ", value, ", from ", note$rows, " rows"))
  paste0(note$of, ": learned in ", sum(note$rows > 0), " groups, from ", sum(note$rows), " rows")
}

direction_remark <- function(m) {
  c(if (!is.null(m$high)) remark("High = ", m$high),
    if (is.null(m$high) && !is.null(m$low)) remark("Low = ", m$low))
}
