# How the texts of a variable are read where the analyst says so: define(x, read = "decimal comma").
# A text that does not fit gives NA. `form` is a pattern of the texts that fit; for dates, `put`
# arranges their parts, and `format` tells how R reads them then.

blank_signs <- " \u00a0\u202f"

number_way <- function(point, comma) {
  group <- paste0("[", comma, "'\u2019", blank_signs, "]")
  digits <- paste0("(?:[0-9]{1,3}(", group, ")[0-9]{3}(?:\\1[0-9]{3})*|[0-9]+)")
  point <- if (point == ".") "[.]" else point
  list(gives = "number", aside = paste0("[%", substr(group, 2, nchar(group))), form = paste0(
    "^[\\s", blank_signs, "]*[-+]?(?:", digits, "(?:", point, "[0-9]*)?|", point,
    "[0-9]+)[\\s", blank_signs, "]*%?[\\s", blank_signs, "]*$"))
}

date_way <- function(put, time = FALSE) {
  clock <- if (time) "[ ,T]+([0-9]{1,2}:[0-9]{2}(?::[0-9]{2})?)"
  list(gives = if (time) "time" else "date", put = paste0(put, if (time) " \\4"),
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

# Texts as numbers, dates, or dates with a time (as text, the year first); each text is read once.
read_texts_as <- function(texts, way) {
  met <- unique(texts)
  read_each(met, ways_to_read[[way]])[match(texts, met)]
}

read_each <- function(texts, how) {
  switch(how$gives,
    number = read_number_texts(texts, how),
    date = as.Date(arranged_dates(texts, how), format = how$format),
    time = moments_in_utc(arranged_dates(texts, how), how),
    zoned = moments_in_utc(arranged_dates(sub(zulu, "+00:00", texts), how), how)
  )
}

moments_in_utc <- function(texts, how) {
  format(as.POSIXct(paste0(texts, ":00"), tz = "UTC", format = how$format))
}

read_number_texts <- function(texts, how) {
  out <- rep(NA_real_, length(texts))
  fits <- grepl(how$form, texts, perl = TRUE)
  out[fits] <- as.numeric(sub(",", ".", gsub(how$aside, "", trimws(texts[fits])), fixed = TRUE))
  out
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
  in_door_words(paste0("define(book, ", quote_name(name), ", read = ",
    paste(ways, collapse = " or "), ")"),
  paste0("under define: ", name, ": {read: ", paste(ways, collapse = " or "), "}"))
}
