# Small work on texts that gives the same in every locale.

lower_ascii <- function(x) {
  swap_letters(x, "ABCDEFGHIJKLMNOPQRSTUVWXYZ", "abcdefghijklmnopqrstuvwxyz")
}

upper_ascii <- function(x) {
  swap_letters(x, "abcdefghijklmnopqrstuvwxyz", "ABCDEFGHIJKLMNOPQRSTUVWXYZ")
}

# R's own way knows no letters beyond those of the locale.
swap_letters <- function(x, old, new) {
  if (all_ascii(x)) chartr(old, new, x) else stringi::stri_trans_char(x, old, new)
}

# Letters one by one, each by another single letter, as R has it outside of Turkish and its kin.
lower_case <- function(x) {
  change_case(lower_ascii(x), stringi::stri_trans_tolower, c("\u0130" = "i"))
}

upper_case <- function(x) {
  change_case(upper_ascii(x), stringi::stri_trans_toupper, c("\u0131" = "I"))
}

change_case <- function(x, change, own) {
  if (all_ascii(x)) return(x)
  letters <- unique(unlist(stringi::stri_split_boundaries(x[!is.na(x)], type = "character")))
  letters <- unique(unlist(strsplit(letters, "")))
  changed <- change(letters, locale = "root")
  changed[letters %in% names(own)] <- own[letters[letters %in% names(own)]]
  one <- stringi::stri_length(changed) == 1 & changed != letters
  if (!any(one)) return(x)
  stringi::stri_trans_char(x, paste(letters[one], collapse = ""),
    paste(changed[one], collapse = ""))
}

# Printable letters and blanks of ASCII, in every text.
all_ascii <- function(x) all_plain_letters(as.character(x))

# Text in one normal form (NFC), so that two spellings of one character compare equal.
normal_text <- function(x) {
  if (all_ascii(x)) x else stringi::stri_trans_nfc(x)
}

# Texts without line ends and runs of blanks.
one_line <- function(texts) trimws(gsub("\\s+", " ", texts))

# Text with case, outer spaces and accents set aside, for loose matching.
loosen <- function(x) loosen_inside(trimws(x, whitespace = "[\\h\\v]"))

loosen_inside <- function(x) {
  if (all_ascii(x)) return(lower_ascii(x))
  stringi::stri_trans_nfc(stringi::stri_trans_casefold(without_accents(x)))
}

without_accents <- function(x) {
  stringi::stri_replace_all_regex(stringi::stri_trans_nfd(x), "\\p{Mn}", "")
}

# A pattern for texts so loosened. Its case is set aside by PCRE: \S is not \s.
loosen_pattern <- function(pattern) paste0("(?i)", without_accents(pattern))

# Sorted by code point, whatever the locale.
sort_points <- function(x) {
  if (is.character(x)) x <- enc2utf8(x)
  sort(x, method = "radix")
}

# Values of a variable in their order: texts that are numbers first, by size, then the others by
# code point. A zero has no sign: which one equal values show would depend on the order of the rows.
sort_values <- function(x) {
  if (is.double(x)) return(sort_points(x + 0))
  if (!is.character(x)) return(sort_points(x))
  number <- as_number(x)
  c(x[order(number)][seq_len(sum(!is.na(number)))], sort_points(x[is.na(number)]))
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
