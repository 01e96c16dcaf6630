# Text in one normal form (NFC), so that two spellings of one character compare equal.
normal_text <- function(x) {
  if (all_ascii(x)) x else stringi::stri_trans_nfc(x)
}

# Text with case, outer spaces and accents set aside, for loose matching.
loosen <- function(x) {
  x <- trimws(x, whitespace = "[\\h\\v]")
  if (all_ascii(x)) return(lower_ascii(x))
  plain <- stringi::stri_replace_all_regex(stringi::stri_trans_nfd(x), "\\p{Mn}", "")
  stringi::stri_trans_nfc(stringi::stri_trans_casefold(plain))
}

# Sorted by code point, whatever the locale.
sort_points <- function(x) {
  if (is.character(x)) x <- enc2utf8(x)
  sort(x, method = "radix")
}

# The same for the values of a variable: texts that are numbers come first, in their order.
sort_values <- function(x) {
  if (!is.character(x)) return(sort_points(x))
  number <- as_number(x)
  c(x[order(number)][seq_len(sum(!is.na(number)))], sort_points(x[is.na(number)]))
}
