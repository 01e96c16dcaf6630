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

# TRUE for the texts that hold one of the pieces, or fit one of the patterns; a missing text does not.
holds <- function(texts, pieces, regex = FALSE, loose = FALSE) {
  seen <- if (loose) loosen(texts) else normal_text(texts)
  sought <- if (!loose) normal_text(pieces) else if (regex) loosen_pattern(pieces) else loosen_inside(pieces)
  hit <- logical(length(texts))
  for (i in seq_along(sought)) {
    found <- matched(grepl(sought[i], seen, fixed = !regex, perl = regex))
    if (anyNA(found)) fail("pattern-gives-up", pattern = quote_text(pieces[i]),
      text = quote_text(substr(texts[is.na(found)][1], 1, 40)))
    hit <- hit | found
  }
  hit & !is.na(texts)
}

# PCRE stops after so many steps; R warns of each such text and goes on as if it did not match.
matched <- function(code) {
  gave_up <- integer()
  out <- withCallingHandlers(code, warning = function(w) {
    place <- regmatches(conditionMessage(w), regexpr("[0-9]+$", conditionMessage(w)))
    if (!length(place)) return()
    gave_up <<- c(gave_up, as.integer(place))
    tryInvokeRestart("muffleWarning")
  })
  out[gave_up] <- NA
  out
}
