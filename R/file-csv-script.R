# The lines of a base script that read a table with separators.
csv_lines <- function(book, name) {
  info <- info_of(book)
  refuse_unreadable(book)
  kept <- intersect(info$reading$kept_na, originals_in_script(book))
  read <- function(...) {
    lines <- c(paste0("read.csv(", code_file(info), ","), fold_arguments(c(...)), ")")
    unlist(strsplit(lines, "\n", fixed = TRUE))
  }
  names <- names_option(info)
  once <- read(reading_options(info$reading, info$reading$na), names, class_option(book))
  again <- read(reading_options(info$reading, setdiff(info$reading$na, "NA")), names,
    paste("colClasses =", code_text("character")))
  c(
    paste0(name, " <- ", once[1]), once[-1],
    if (info$reading$unnamed) paste0("names(", name, ")[1] <- ",
      code_text(original_names(book)[1])),
    unlist(lapply(kept, function(v) {
      c(remark("NA is one of the texts of ", v, "."), paste0(code_column(name, v),
        " <- ", again[1]), again[-c(1, length(again))], paste0(")[[", code_text(v), "]]"))
    })),
    return_lines(book, name)
  )
}

# Where a second line stands between the names and the rows, the names are read by themselves.
names_option <- function(info) {
  if (is.null(info$reading$second)) return(NULL)
  alone <- info$reading
  alone["second"] <- list(NULL)
  paste0("col.names = names(read.csv(", code_file(info), ", nrows = 1, ",
    paste(reading_options(alone, alone$na), collapse = ", "), "))")
}

# A table inside a zip file is named with it; other packed files R unpacks by itself.
code_file <- function(info) {
  if (is.null(info$reading$member)) return(code_path(info))
  paste0("unz(", code_text(info$file), ", ", code_text(info$reading$member), ")")
}

# The same as a path, for what reads no connection; a table of a Data Package is named by where it
# lies.
code_path <- function(info) {
  beside <- info$reading$file
  if (!is.null(beside)) {
    alone <- basename(info$file) == info$file
    return(code_text(if (alone) beside else file.path(dirname(info$file), beside)))
  }
  if (is.null(info$reading$member)) return(code_text(info$file))
  paste0("unzip(", code_text(info$file), ", ", code_text(info$reading$member),
    ", exdir = tempdir())")
}

reading_options <- function(reading, na) {
  encoding <- reading$wide %||% if (reading$encoding == "UTF-8") "UTF-8-BOM" else reading$encoding
  skip <- (reading$skipped %||% 0) + (reading$second$lines %||% 0)
  c(
    "check.names = FALSE", if (skip) paste("skip =", skip),
    if (!is.null(reading$second)) "header = FALSE",
    if (reading$shape$stray > 0) paste0("quote = ", code_text("")),
    paste("na.strings =", write_constant(na)), if (!reading$several) "blank.lines.skip = FALSE",
    if (reading$sep != ",") paste0("sep = ", code_text(reading$sep)),
    paste0("fileEncoding = ", code_text(encoding))
  )
}

# R reads quotes inside plain fields in another way, and every line end inside a field as a single
# sign.
refuse_unreadable <- function(book) {
  info <- info_of(book)
  cannot <- function(why) fail("script-cannot-read", file = info$file, why = why)
  if (info$reading$shape$stray > 0 &&
    info$reading$shape$quoted > 0) cannot("some fields are in quotes, in others a quote is a sign")
  mixed <- Filter(function(name) {
    text <- original_in(book, name)
    is.character(text) &&
      any(grepl("\r(?!\n)|(?<!\r)\n", text[grepl("\r", text, fixed = TRUE)], perl = TRUE))
  }, originals_in_script(book))
  both <- intersect(info$reading$both_na, originals_in_script(book))
  if (length(both)) cannot(paste("NA stands in quotes and without them in", both[1]))
  if (length(mixed)) cannot(paste("line ends of two kinds inside the fields of", mixed[1]))
}

# Line ends inside fields as they are in the file.
return_lines <- function(book, name) {
  vars <- Filter(function(v) {
    text <- original_in(book, v)
    is.character(text) && any(grepl("\r", text, fixed = TRUE))
  }, originals_in_script(book))
  x <- code_column(name, vars)
  if (length(vars)) {
    paste0(x, " <- gsub(", code_text("\n"), ", ", code_text("\r\n"), ", ", x, ", fixed = TRUE)")
  }
}

# Text that is read as text, and dates as dates; the types of numbers are plain to see.
class_option <- function(book) {
  classes <- vapply(originals_in_script(book), function(v) {
    raw <- original_in(book, v)
    as_text <- is.character(raw) || !is.null(meaning_in(book, v)$read)
    if (as_text) "character" else if (inherits(raw, "Date")) "Date" else ""
  }, "")
  classes <- classes[nzchar(classes)]
  if (!length(classes)) return(NULL)
  each <- paste0(code_argument(names(classes)), " = ", code_text(classes))
  if (length(each) <= 3) return(paste0("colClasses = c(", paste(each, collapse = ", "), ")"))
  paste(c("colClasses = c(", paste0("  ", fold_arguments(each, 84)), "  )"), collapse = "\n")
}
