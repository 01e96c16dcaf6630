# Text in one normal form (NFC), so that two spellings of one character compare equal.
normal_text <- function(x) {
  if (all_ascii(x)) x else stringi::stri_trans_nfc(x)
}

# Text with case, outer spaces and accents set aside, for loose matching.
loosen <- function(x) loosen_inside(trimws(x, whitespace = "[\\h\\v]"))

loosen_inside <- function(x) {
  if (all_ascii(x)) return(lower_ascii(x))
  stringi::stri_trans_nfc(stringi::stri_trans_casefold(without_accents(x)))
}

without_accents <- function(x) stringi::stri_replace_all_regex(stringi::stri_trans_nfd(x), "\\p{Mn}", "")

# A pattern for texts so loosened. Its case is set aside by PCRE: \S is not \s.
loosen_pattern <- function(pattern) paste0("(?i)", without_accents(pattern))

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

# Distinct values in the order of their categories: as the codes are declared (levels of a factor, a codebook), and
# values without a label after them. Numbers of which only some have a label stay in the order of their size.
category_order <- function(values, codes = NULL) {
  declared <- match(show_value(unname(codes)), show_value(values), nomatch = 0L)
  others <- values[!seq_along(values) %in% declared]
  if (length(others) && !is.character(values)) return(sort_values(values))
  c(values[declared], sort_values(others))
}
