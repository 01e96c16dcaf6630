# Texts that a variable's meaning says how to read, in base R; the same steps as read_texts_as().

# A function for each way in which some variable of the script is read.
reader_lines <- function(ways) {
  unlist(lapply(ways, function(way) {
    c(remark("Texts with ", way, "; what does not fit is missing."),
      reader_code(way, ways_to_read[[way]]), "")
  }))
}

reader_name <- function(way) paste0("read_", gsub(" ", "_", way, fixed = TRUE))

reader_code <- function(way, how) {
  result <- switch(how$gives,
    number = c(
      paste0("  fits <- grepl(", signs_code(how$form), ", text, perl = TRUE)"),
      paste0("  bare <- gsub(", signs_code(how$aside), ", ", code_text(""), ", trimws(text))"),
      paste0("  as.numeric(ifelse(fits, sub(", code_text(","), ", ", code_text("."),
        ", bare, fixed = TRUE), NA))")
    ),
    date = c(arranging_lines(how), paste0("  as.Date(text, format = ", code_text("%Y-%m-%d"), ")")),
    time = c(arranging_lines(how), moment_lines(how)),
    zoned = c(paste0("  text <- sub(", code_text(zulu), ", ", code_text("+00:00"), ", text)"),
      arranging_lines(how), moment_lines(how))
  )
  c(paste0(reader_name(way), " <- function(text) {"), result, "}")
}

moment_lines <- function(how) {
  c(paste0("  text <- paste0(text, ", code_text(":00"), ")"),
    paste0("  format(as.POSIXct(text, tz = ", code_text("UTC"), ", format = ",
      code_text(how$format), "))"))
}

arranging_lines <- function(how) {
  c(
    paste0("  text <- sub(", code_text(how$form), ","),
    paste0("    ", code_text(how$put), ", text, perl = TRUE)"),
    paste0("  text <- ifelse(grepl(", code_text(year_first[[how$gives]]),
      ", trimws(text)), trimws(text), NA)")
  )
}

# Blanks that cannot be told from others by eye are written as what they are.
signs_code <- function(pattern) {
  code <- code_text(pattern)
  for (sign in c("\u00a0", "\u202f", "\u2019")) code <- gsub(sign,
    sprintf("\\u%04x", utf8ToInt(sign)), code, fixed = TRUE)
  code
}

# The lines that read one column of the working copy: declared missing texts are set aside, the rest
# is read, then declared missing numbers are set aside.
reading_lines_of <- function(x, meaning) {
  missing <- missing_by_stage(meaning)
  gone <- function(stage, type) {
    asked <- missing[[stage]][lengths(missing[[stage]]) > 0]
    unlist(Map(function(matchers, kind) {
      paste0(x, "[", match_code(x, matchers, type), "] <- NA",
        side_remark(kind))
    },
    asked, names(asked)), use.names = FALSE)
  }
  c(gone("texts", ""), paste0(x, " <- ", reader_name(meaning$read), "(", x, ")"),
    gone("numbers", 0))
}

# The rows that are missing for a reason, asked of the column as it came.
unread_code <- function(kind, column, meaning) {
  written <- paste0("grepl(", code_text("[^[:space:]]"), ", ", column, ")")
  if (kind == "blank") return(paste0("!", written))
  read <- paste0(reader_name(meaning$read), "(", column, ")")
  missing <- missing_by_stage(meaning)
  hit <- function(x, matchers, type) {
    if (length(matchers)) rows_code(match_code(x, matchers, type), column)
  }
  if (kind == "unreadable") {
    declared <- unlist(lapply(missing$texts, function(matchers) hit(column, matchers, "")))
    none <- if (length(declared)) paste0("!", declared)
    return(paste(c(paste0("is.na(", read, ")"), written, none), collapse = " & "))
  }
  paste(c(hit(column, missing$texts[[kind]], ""), hit(read, missing$numbers[[kind]], 0)),
    collapse = " | ")
}
