# Originals that are read from texts, as the analyst has them: numbers, days, or moments in UTC.
# Their texts stay the originals.

is_read <- function(book, name) {
  !is_derived(book, name) && !is.null(meaning_in(book, name)$read)
}

# A column that is read when something first touches it.
read_late <- function(book, name) {
  variable <- variable_in(book, name)
  new_late(function() as.double(read_values(variable, FALSE)), row_count(book),
    class_of_read(variable))
}

# All at once; with the numbers and days of declared missing codes where `keep_codes`.
read_now <- function(book, name, keep_codes) {
  variable <- variable_in(book, name)
  x <- as.double(read_values(variable, keep_codes))
  attributes(x) <- class_of_read(variable)
  x
}

# The same for a file: of times that were typed without a zone as a text without one.
read_to_write <- function(book, name, keep_codes) {
  variable <- variable_in(book, name)
  if (ways_to_read[[variable$meaning$read]]$gives == "time") return(read_plainly(variable,
    keep_codes))
  plain_values(read_now(book, name, keep_codes))
}

read_values <- function(variable, keep_codes) {
  x <- read_plainly(variable, keep_codes)
  if (is.character(x)) as.POSIXct(x, tz = "UTC") else x
}

# Numbers, days, or times as texts.
read_plainly <- function(variable, keep_codes) {
  if (!keep_codes) return(column_of(variable)$x)
  read_texts_as(normal_text(as.character(source_of(variable))), variable$meaning$read)
}

class_of_read <- function(variable) {
  switch(ways_to_read[[variable$meaning$read]]$gives,
    number = list(),
    date = list(class = "Date"),
    list(class = c("POSIXct", "POSIXt"), tzone = "UTC"))
}
