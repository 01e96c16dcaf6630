# Tables with separators, written.

# A stretch of rows at a time, so that each piece can be checked as it is written. `came`: the names
# of columns whose numbers came from such a table, and are spelled as R reads them, and `bare` those
# whose NA stood there without quotes.
write_fields <- function(fields, rows, put, sep, decimal = ".", came = NULL, bare = NULL) {
  put(csv_bytes(as.list(enc2utf8(names(fields))), 1, 1, sep))
  marked <- !names(fields) %in% bare
  fields <- Map(field_column, unname(fields), decimal = decimal, exact = !names(fields) %in% came)
  texts <- vapply(fields, is.character, NA) & marked
  fields[texts] <- lapply(fields[texts], structure, exact = TRUE) # NA as a text in quotes
  for (from in seq(1, by = 50000, length.out = ceiling(rows / 50000))) {
    put(csv_bytes(fields, from, min(rows, from + 49999), sep))
  }
}

# Numbers are written as they are, whatever else as text; where values are few, each is put into
# words once. `exact`: with so many figures that every program reads the same number.
field_column <- function(column, decimal = ".", exact = FALSE) {
  number <- is.numeric(column) && !is.object(column)
  if (number && is.integer(column)) return(as.vector(column))
  if (number && decimal == ".") return(structure(as.vector(column), exact = exact))
  as_text <- function(x) {
    if (!number) return(enc2utf8(write_field(x)))
    sub(".", decimal, if (exact) exact_figures(x) else show_number(x), fixed = TRUE)
  }
  index <- if (is.atomic(column)) index_column(column, integer(), 1L)
  if (is.null(index)) return(as_text(column))
  indexed_values(index$codes, as_text(like_column(index$values, column)))
}

# Numbers as texts that R and every other program read back the same.
exact_figures <- function(x) {
  lines <- rawToChar(csv_bytes(list(structure(as.double(x), exact = TRUE)), 1, length(x), ","))
  out <- strsplit(lines, "\n", fixed = TRUE)[[1]]
  c(out, rep("", length(x) - length(out))) # empty ones at the end
}
