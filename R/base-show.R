# Text that others have made, shown so that it can do nothing where it is shown.

# Control characters, line separators, signs that change the direction of writing, and what is no
# character: as ICU writes a set. Joiners and marks that some scripts need are text.
odd_signs <- paste0(
  "[\\u0000-\\u001f\\u007f-\\u009f\\u2028-\\u202e\\u2066-\\u206f",
  "\\ufeff\\ufff9-\\ufffb\\ufffe\\uffff", "\\U000e0000-\\U000e007f]"
)

# The text with such signs written out: "\n", "\t", "\u001b". Bytes that are no UTF-8 become "<e9>".
# What is `kept` stays; printable text comes back as it is.
show_controls <- function(text, kept = "") {
  odd <- grepl("[^ -~]", text, useBytes = TRUE)
  if (!any(odd)) return(text)
  text[odd] <- escape_signs(readable(text[odd]), kept)
  text
}

# Text as UTF-8, whatever it was marked as.
readable <- function(text) {
  text <- enc2utf8(as.character(text))
  broken <- !validUTF8(text)
  if (any(broken)) text[broken] <- iconv(text[broken], "UTF-8", "UTF-8", sub = "byte")
  text
}

escape_signs <- function(text, kept = "") {
  met <- unique(unlist(stringi::stri_extract_all_regex(text, odd_signs, omit_no_match = TRUE)))
  met <- setdiff(met, c(NA, strsplit(kept, "")[[1]]))
  for (sign in met) {
    # By its number: as a pattern of its own the mark of byte order would be taken for nothing.
    text <- stringi::stri_replace_all_regex(text, sprintf("\\x{%x}", utf8ToInt(sign)),
      gsub("\\", "\\\\", sign_code(sign), fixed = TRUE))
  }
  text
}

sign_code <- function(sign) {
  short <- c("\n" = "\\n", "\r" = "\\r", "\t" = "\\t")
  if (sign %in% names(short)) return(short[[sign]])
  code <- utf8ToInt(sign)
  sprintf(if (code > 0xffff) "\\U%08x" else "\\u%04x", code)
}

# What goes to a terminal: only our own colours may be more than text.
for_terminal <- function(lines) {
  if (!any(grepl("[^ -~]", lines, useBytes = TRUE))) return(lines)
  coloured <- grepl("\033", lines, fixed = TRUE, useBytes = TRUE)
  lines[!coloured] <- show_controls(lines[!coloured], "\n")
  lines[coloured] <- between_colours(lines[coloured])
  lines
}

between_colours <- function(lines) {
  colours <- gregexpr("\033\\[[0-9;]*m", lines, perl = TRUE)
  parts <- regmatches(lines, colours)
  plain <- regmatches(lines, colours, invert = TRUE)
  unlist(Map(function(text, colour) paste0(show_controls(text, "\n"), c(colour, ""), collapse = ""),
    plain, parts))
}

# Texts as they are named in a sentence: of one that is longer than a line the beginning.
brief_text <- function(text, most = 120) {
  text <- as.character(text)
  long <- which(nchar(text, "bytes") > 4 * most)
  text[long] <- substr(readable(text[long]), 1, 4 * most)
  long <- which(nchar(text, "chars", allowNA = TRUE) > most)
  text[long] <- paste0(substr(text[long], 1, most), "...")
  with_visible_blanks(text)
}

# Texts with a blank at an end stand in quotes, as nobody sees it otherwise.
with_visible_blanks <- function(text) {
  blank <- which(grepl("^[[:space:]]|[[:space:]]$", text))
  text[blank] <- quote_text(text[blank])
  text
}

# What a library or the system said, in a line.
first_sentence <- function(text) {
  text <- gsub("[[:space:]]+", " ", for_terminal(text)[1])
  sub("[.]$", "", substr(text, 1, 160))
}

# A text in quotes, as R and YAML both read it.
quote_text <- function(x) {
  x <- readable(x)
  escaped <- gsub("\"", "\\\"", gsub("\\", "\\\\", x, fixed = TRUE), fixed = TRUE)
  paste0("\"", show_controls(escaped), "\"")
}

# Texts that differ in case, outer spaces or accents alone, each group in words.
texts_alike <- function(texts) {
  texts <- as.character(texts) # also where there are none
  form <- loosen(texts)
  again <- form %in% form[duplicated(form)]
  vapply(unname(split(texts[again], form[again])), function(alike) {
    paste(quote_text(sort_points(alike)), collapse = " and ")
  }, "")
}

plain_name <- "^([A-Za-z]|[.](?![0-9]))[A-Za-z0-9._]*$"

reserved_words <- c("if", "else", "repeat", "while", "function", "for", "next", "break", "in",
  "TRUE", "FALSE", "NULL",
  "Inf", "NaN", "NA", "NA_integer_", "NA_real_", "NA_character_", "NA_complex_", "...")

# Names that are written without any sign around them, whatever the locale.
is_plain_name <- function(x) {
  grepl(plain_name, x, perl = TRUE, useBytes = TRUE) & !x %in% reserved_words &
    !(startsWith(x, "..") & grepl("^[.][.][0-9]", x))
}

# A column name as it is written in a formula.
quote_name <- function(x) {
  odd <- !is_plain_name(x)
  if (any(odd)) x[odd] <- back_quoted(x[odd])
  x
}

# Between back quotes R reads no \u, so that only signs below 128 are written out.
back_quoted <- function(x) {
  x <- gsub("`", "\\`", gsub("\\", "\\\\", readable(x), fixed = TRUE), fixed = TRUE)
  for (code in c(1:31, 127)) {
    sign <- intToUtf8(code)
    if (any(grepl(sign, x, fixed = TRUE))) {
      x <- gsub(sign, sprintf("\\x%02x", code), x, fixed = TRUE)
    }
  }
  paste0("`", x, "`")
}

# Whether a name can be written into code such that it looks like what it is.
is_clear_name <- function(x) !grepl("^[.][.]([.]|[0-9])", x) & show_controls(x) == x

# How many cells of a line a text takes, in every locale the same: two for the wide signs of East
# Asia, none for marks that stand on another sign.
text_width <- function(x) {
  if (all_ascii(x)) return(nchar(x))
  width <- stringi::stri_length(x)
  other <- which(stringi::stri_detect_regex(x, other_width))
  if (length(other)) width[other] <- width[other] + width_beyond(x[other])
  width
}

# Signs that may take more or less than one cell: all but those of Latin and the punctuation,
# arrows and blocks that our own lines are made of. Whether one does is looked up for few texts,
# since that takes a thousand times as long.
other_width <- paste0("[^\\u0001-\\u00ac\\u00ae-\\u024f\\u2010-\\u2027\\u2030-\\u205e",
  "\\u2190-\\u21ff\\u2500-\\u25fc]")

# The cells a text takes beyond one for each of its signs.
width_beyond <- function(x) {
  stringi::stri_count_regex(x, "[\\p{ea=W}\\p{ea=F}]") -
    stringi::stri_count_regex(x, "[\\p{Mn}\\p{Me}\\p{Cf}]")
}

# The first letters of a text that fit into a width.
cut_width <- function(text, width) {
  letters <- strsplit(text, "")[[1]]
  paste(letters[cumsum(text_width(letters)) <= width], collapse = "")
}

# Lines of words, each narrower than `width`, those after the first than `later`; a word that is
# longer has a line of its own.
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
