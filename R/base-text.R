# Small work on texts that gives the same in every locale.

lower_ascii <- function(x) swap_letters(x, "ABCDEFGHIJKLMNOPQRSTUVWXYZ", "abcdefghijklmnopqrstuvwxyz")

upper_ascii <- function(x) swap_letters(x, "abcdefghijklmnopqrstuvwxyz", "ABCDEFGHIJKLMNOPQRSTUVWXYZ")

# R's own way knows no letters beyond those of the locale.
swap_letters <- function(x, old, new) if (all_ascii(x)) chartr(old, new, x) else stringi::stri_trans_char(x, old, new)

# Letters one by one, each by another single letter, as R has it outside of Turkish and its kin.
lower_case <- function(x) change_case(lower_ascii(x), stringi::stri_trans_tolower, c("\u0130" = "i"))

upper_case <- function(x) change_case(upper_ascii(x), stringi::stri_trans_toupper, c("\u0131" = "I"))

change_case <- function(x, change, own) {
  if (all_ascii(x)) return(x)
  letters <- unique(unlist(stringi::stri_split_boundaries(x[!is.na(x)], type = "character")))
  letters <- unique(unlist(strsplit(letters, "")))
  changed <- change(letters, locale = "root")
  changed[letters %in% names(own)] <- own[letters[letters %in% names(own)]]
  one <- stringi::stri_length(changed) == 1 & changed != letters
  if (!any(one)) return(x)
  stringi::stri_trans_char(x, paste(letters[one], collapse = ""), paste(changed[one], collapse = ""))
}

all_ascii <- function(x) {
  if (!length(x)) return(TRUE)
  !any(Encoding(x) != "unknown") && !any(grepl("[^ -~\\s]", x, perl = TRUE, useBytes = TRUE))
}

# How many cells of a line a text takes, in every locale the same: two for the wide signs of East Asia, none for
# marks that stand on another sign.
text_width <- function(x) {
  if (all_ascii(x)) return(nchar(x))
  wide <- stringi::stri_count_regex(x, "[\\p{ea=W}\\p{ea=F}]")
  stringi::stri_length(x) + wide - stringi::stri_count_regex(x, "[\\p{Mn}\\p{Me}\\p{Cf}]")
}

# The first letters of a text that fit into a width.
cut_width <- function(text, width) {
  letters <- strsplit(text, "")[[1]]
  paste(letters[cumsum(text_width(letters)) <= width], collapse = "")
}

# Lines of words, each narrower than `width`, those after the first than `later`; a word that is longer has a
# line of its own.
wrap_words <- function(text, width, prefix = "", later = width) {
  words <- strsplit(text, "[ \t\n]+")[[1]]
  words <- words[nzchar(words)]
  if (!length(words)) return(prefix[1])
  lines <- split(words, line_of_words(text_width(words), width, later))
  lines <- vapply(lines, paste, "", collapse = " ", USE.NAMES = FALSE)
  paste0(prefix[pmin(seq_along(lines), length(prefix))], lines)
}

line_of_words <- function(wide, width, later) {
  line <- integer(length(wide))
  now <- 1L
  used <- -1
  for (i in seq_along(wide)) {
    if (used >= 0 && used + 1 + wide[i] >= if (now == 1) width else later) {
      now <- now + 1L
      used <- -1
    }
    used <- used + 1 + wide[i]
    line[i] <- now
  }
  line
}

# Groups of `x` in the order in which their keys first come.
split_in_order <- function(x, key) split(x, factor(key, unique(key)))

# Runs code as if nobody had set a decimal comma, other digits or another encoding: what is read and
# written must not depend on it.
in_plain_settings <- function(code) {
  old <- options(OutDec = ".", scipen = 0, digits = 7, encoding = "native.enc", width = 100)
  numeric <- Sys.getlocale("LC_NUMERIC")
  if (numeric != "C") suppressWarnings(Sys.setlocale("LC_NUMERIC", "C"))
  on.exit({
    options(old)
    if (numeric != "C") suppressWarnings(Sys.setlocale("LC_NUMERIC", numeric))
  })
  force(code)
}

# A number with a point, whatever sign the locale has for it.
with_point <- function(text) if (sprintf("%.1f", 0.5) == "0.5") text else sub(",", ".", text, fixed = TRUE)

# Whole numbers with commas; most need none.
grouped <- function(n) {
  if (isTRUE(all(abs(n) < 999.5))) sprintf("%.0f", n + 0) else formatC(n, format = "d", big.mark = ",",
    decimal.mark = ".")
}

counted <- function(n, one, many = paste0(one, "s")) paste(grouped(n), if (n == 1) one else many)
