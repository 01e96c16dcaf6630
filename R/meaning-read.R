# How the texts of a variable are read where the analyst says so: define(x, read = "decimal comma").
# A text that does not fit gives NA. `form` is a pattern of the texts that fit; for dates, `put`
# arranges their parts, and `format` tells how R reads them then. Scripts go by the patterns; here,
# numbers and days are read in C++.

blank_signs <- " \u00a0\u202f"

number_way <- function(point, mark) {
  group <- paste0("[", mark, "'\u2019", blank_signs, "]")
  fraction <- paste0("(?:[", point, "][0-9]*)?")
  grouped <- paste0("[1-9][0-9]{0,2}(", group, ")[0-9]{3}(?:\\1[0-9]{3})*", fraction)
  plain <- paste0("(?:[0-9]+", fraction, "|[", point, "][0-9]+)(?:[eE][-+]?[0-9]+)?")
  blanks <- paste0("[\\s", blank_signs, "]*")
  list(gives = "number", comma = point == ",", aside = paste0("[%", substr(group, 2, nchar(group))),
    form = paste0("^", blanks, "[-+]?(?:", grouped, "|", plain, ")", blanks, "%?", blanks, "$"))
}

date_way <- function(put, time = FALSE) {
  clock <- if (time) "[ ,T]+([0-9]{1,2}:[0-9]{2}(?::[0-9]{2})?)"
  list(gives = if (time) "time" else "date", day_first = put == "\\3-\\2-\\1",
    put = paste0(put, if (time) " \\4"),
    format = if (time) "%Y-%m-%d %H:%M:%S" else "%Y-%m-%d",
    form = paste0("^\\s*([0-9]{1,2})[./-] ?([0-9]{1,2})[./-] ?([0-9]{4})", clock, "\\s*$"))
}

# A moment with its distance from UTC, or Z for none, in which it is then told: the distance goes to
# the front, and what follows the minutes may lack.
zoned_way <- list(gives = "zoned", put = "\\4\\5 \\1 \\2\\3", format = "%z %Y-%m-%d %H:%M:%S",
  form = paste0("^\\s*([0-9]{4}-[0-9]{2}-[0-9]{2})[T ]([0-9]{2}:[0-9]{2})(:[0-9]{2})?",
    "(?:[.,][0-9]+)?\\s*([+-][0-9]{2}):?([0-9]{2})\\s*$"))

zulu <- "Z\\s*$"

ways_to_read <- list(
  "decimal comma" = number_way(",", "."), "decimal point" = number_way(".", ","),
  "day first" = date_way("\\3-\\2-\\1"), "month first" = date_way("\\3-\\1-\\2"),
  "day first with time" = date_way("\\3-\\2-\\1", TRUE),
  "month first with time" = date_way("\\3-\\1-\\2", TRUE), "time with zone" = zoned_way
)

# What a sorted-out date looks like: the year first.
year_first <- c(date = "^[0-9]{4}-[0-9]{1,2}-[0-9]{1,2}$",
  time = "^[0-9]{4}-[0-9]{1,2}-[0-9]{1,2} [0-9]{1,2}:[0-9]{2}",
  zoned = "^[+-][0-9]{4} [0-9]{4}-[0-9]{2}-[0-9]{2} [0-9]{2}:[0-9]{2}")

# Texts as numbers, dates, or dates with a time (as text, the year first).
read_texts_as <- function(texts, way) {
  how <- ways_to_read[[way]]
  switch(how$gives,
    number = typed_numbers(texts, how$comma),
    date = structure(typed_days(texts, how$day_first), class = "Date"),
    time = moments_in_utc(texts, how),
    zoned = moments_in_utc(sub(zulu, "+00:00", texts), how)
  )
}

# Each text is read once.
moments_in_utc <- function(texts, how) {
  met <- unique(texts)
  moments <- paste0(arranged_dates(met, how), ":00")
  format(as.POSIXct(moments, tz = "UTC", format = how$format))[match(texts, met)]
}

# Dates that have the year first already stay.
arranged_dates <- function(texts, how) {
  arranged <- trimws(sub(how$form, how$put, texts, perl = TRUE))
  ifelse(grepl(year_first[[how$gives]], arranged), arranged, NA)
}

reads_as_text <- function(meaning) {
  isTRUE(ways_to_read[[meaning$read]]$gives %in% c("time", "zoned"))
}

# How texts would have to be read that are neither plain numbers nor dates as they stand: the ways
# that fit nine of ten of those with digits, which must be half of all; none where they are read
# anyway. Two ways may fit: 1,234 and 03.04.2021.
reading_offers <- function(texts) {
  texts <- utils::head(unique(texts[!is.na(texts) & nzchar(texts)]), 2000)
  with_digits <- grepl("[0-9]", texts)
  if (!isTRUE(mean(with_digits) >= 0.5)) return(character())
  texts <- texts[with_digits]
  as_it_stands <- grepl(plain_number, texts) | grepl(year_first[["date"]], texts) |
    grepl(year_first[["time"]], texts)
  if (mean(as_it_stands) >= 0.9) return(character())
  fits <- vapply(names(ways_to_read), function(way) mean(!is.na(read_texts_as(texts, way))), 0)
  names(ways_to_read)[fits >= 0.9 & fits == max(fits)]
}

# What they look like, and the call that would read them, in words.
offer_in_words <- function(name, offers) {
  if (length(offers)) {
    paste0(" ", offered_kind(offers), " ", offered_call(name, offers), ".")
  } else {
    ""
  }
}

offered_kind <- function(offers) {
  paste("It looks like", if (grepl("decimal", offers[1])) "numbers" else "dates",
    "typed in another way:")
}

offered_call <- function(name, offers) {
  ways <- paste0("\"", offers, "\"")
  for_reader(paste0("define(book, ", quote_name(name), ", read = ",
    paste(ways, collapse = " or "), ")"),
  paste0("under define: ", name, ": {read: ", paste(ways, collapse = " or "), "}"),
  paste0("by What it means, read as ", paste(ways, collapse = " or ")))
}
