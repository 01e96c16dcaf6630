# Originals that are read from texts, as the analyst has them: numbers, days, or moments in UTC.
# Their texts stay the originals.

is_read <- function(book, name) {
  !is_derived(book, name) && !is.null(meaning_in(book, name)$read)
}

# A column that is read when something first touches it.
read_late <- function(book, name) {
  variable <- variable_in(book, name)
  late <- new_late(function() as.double(read_values(variable, FALSE)), row_count(book))
  like_read(late, variable)
}

# All at once; with the numbers and days of declared missing codes where `keep_codes`.
read_now <- function(book, name, keep_codes) {
  variable <- variable_in(book, name)
  like_read(as.double(read_values(variable, keep_codes)), variable)
}

read_values <- function(variable, keep_codes) {
  x <- if (keep_codes) {
    read_texts_as(normal_text(as.character(source_of(variable))), variable$meaning$read)
  } else {
    column_of(variable)$x
  }
  if (is.character(x)) as.POSIXct(x, tz = "UTC") else x
}

# Numbers with the class of what is read.
like_read <- function(x, variable) {
  switch(ways_to_read[[variable$meaning$read]]$gives,
    number = x,
    date = structure(x, class = "Date"),
    structure(x, class = c("POSIXct", "POSIXt"), tzone = "UTC"))
}
