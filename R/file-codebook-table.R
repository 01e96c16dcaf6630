# A codebook as most people have it: a table with a row for each code of each variable.

# What the columns may be called; case, blanks and signs do not count.
codebook_columns <- list(
  variable = c("variable", "var", "varname", "variablename", "name", "column", "item"),
  label = c("label", "variablelabel", "varlabel", "title", "description"),
  question = c("question", "questiontext", "wording", "itemtext"),
  code = c("code", "value", "codes", "values", "valuecode", "answercode"),
  code_label = c("codelabel", "valuelabel", "labels", "valuelabels", "answer", "answertext",
    "category", "categorylabel"),
  missing = c("missing", "ismissing", "missingreason"), level = c("level", "measurementlevel"),
  unit = c("unit", "units"), note = c("note", "notes", "remark", "comment"),
  minimum = c("minimum", "min", "lowest"), maximum = c("maximum", "max", "highest"),
  high = "high", low = "low", read = "read", role = "role",
  set = "set"
)

read_codebook_table <- function(path, table = NULL) {
  stated <- list(columns = character())
  stated$table <- table
  table <- lapply(read_settled(path, stated)$data, codebook_texts)
  known <- lapply(codebook_columns, function(words) {
    names(table)[gsub("[^a-z]", "", lower_ascii(names(table))) %in% words][1]
  })
  broken <- function(...) fail("codebook", path = path, why = paste0(...))
  if (is.na(known$variable)) broken("no column is named variable")
  cells <- lapply(known, function(name) if (is.na(name)) NA_character_ else table[[name]])
  cells <- as.data.frame(cells, stringsAsFactors = FALSE)
  cells$variable <- filled_down(cells$variable)
  if (anyNA(cells$variable)) broken("the first row names no variable")
  rows <- split(seq_len(nrow(cells)), factor(cells$variable, unique(cells$variable)))
  meanings <- lapply(self_named(names(rows)), function(name) {
    as_meaning(path, name, meaning_of_rows(cells[rows[[name]], ]))
  })
  structure(meanings, unused = setdiff(names(table), unlist(known)))
}

# What is wrong with a variable is told with its name.
as_meaning <- function(path, name, code) {
  tryCatch(code, ableturn_error = function(e) {
    fail("codebook", path = path, why = paste0("field ", name, ": ", conditionMessage(e)))
  })
}

codebook_texts <- function(x) {
  x <- trimws(show_value(x))
  ifelse(nzchar(x), x, NA)
}

filled_down <- function(x) x[c(NA, which(!is.na(x)))[cumsum(!is.na(x)) + 1]]

meaning_of_rows <- function(rows) {
  first <- function(key) rows[[key]][!is.na(rows[[key]])][1]
  given <- function(key) if (!is.na(first(key))) first(key)
  pairs <- do.call(rbind, lapply(seq_len(nrow(rows)), function(i) pairs_of_row(rows[i, ])))
  missing <- pairs[!is.na(pairs$reason), ]
  valid <- pairs[is.na(pairs$reason), ]
  ends <- c(first("minimum"), first("maximum"))
  check_meaning(
    label = given("label") %||% given("question"),
    note = given("note") %||% if (!is.null(given("label"))) given("question"),
    codes = if (nrow(valid)) setNames(typed_codes(valid$code), valid$label),
    missing = if (nrow(missing)) setNames(lapply(missing$code, read_code), missing$reason),
    level = if (!is.na(first("level"))) lower_ascii(first("level")), unit = given("unit"),
    high = given("high"), low = given("low"), read = given("read"),
    role = known_role(given("role")), set = given("set"),
    limits = if (all(grepl(plain_number, ends))) as.numeric(ends)
  )
}

# The codes of a row with their labels, and the reason of those that stand for no answer. Several
# may stand in one cell: "1 = Never; 2 = Often".
pairs_of_row <- function(row) {
  if (is.na(row$code)) return(data.frame(code = "", label = "", reason = "")[0, ])
  parts <- if (grepl("=", row$code, fixed = TRUE)) {
    trimws(strsplit(row$code, "[;\n|]|,(?=\\s*-?[0-9]+\\s*=)", perl = TRUE)[[1]])
  } else {
    row$code
  }
  parts <- parts[nzchar(parts)]
  code <- trimws(sub("=.*", "", parts))
  paired <- grepl("=", parts, fixed = TRUE)
  label <- ifelse(paired, trimws(sub("^[^=]*=", "", parts)), row$code_label)
  label <- ifelse(is.na(label), code, label)
  data.frame(code = code, label = label, reason = reason_of(row$missing, code, label))
}

# `missing` says no, or yes, or why.
reason_of <- function(missing, code, label) {
  if (is.na(missing) || lower_ascii(missing) %in% c("no", "n", "false", "0", "valid", "-")) {
    return(rep(NA_character_, length(code)))
  }
  said <- !lower_ascii(missing) %in% c("yes", "y", "true", "1", "x", "missing")
  if (said) return(rep(missing, length(code)))
  ifelse(label == code, paste("Code", code), label)
}

typed_codes <- function(codes) {
  if (all(grepl(plain_number, codes))) as_code(as.numeric(codes)) else codes
}

# The codebook as such a table: a row for each code, and one for a variable without any. `names`:
# the variables, by the names they have in the file. How texts are read says nothing of a file that
# has what was read: only where they are `typed`.
codebook_rows <- plainly(function(book, names = self_named(base::names(book)), typed = TRUE) {
  meanings <- lapply(names, meaning_in, book = book)
  if (!typed) meanings <- lapply(meanings, without_fields, "read")
  do.call(rbind, Map(rows_of_meaning, base::names(names), meanings))
})

rows_of_meaning <- function(name, m) {
  missing <- rows_of_missing(m$missing)
  code <- c(show_value(unname(m$codes)), missing$code)
  label <- c(names(m$codes), missing$reason)
  reason <- rep(c(NA, "yes"), c(length(m$codes), length(missing$code)))
  if (!length(code)) code <- label <- reason <- NA_character_
  once <- function(x) c(x %||% NA, rep(NA, length(code) - 1))
  out <- data.frame(variable = name, label = once(m$label), code = code, code_label = label,
    missing = reason, level = once(m$level), unit = once(m$unit), minimum = once(m$limits[1]),
    maximum = once(m$limits[2]), high = once(m$high), low = once(m$low), read = once(m$read),
    role = once(m$role), set = once(m$set),
    note = once(m$note))
  names(out)[4] <- "code label"
  out
}

# Single values; of a stretch its words.
rows_of_missing <- function(missing) {
  each <- lapply(missing, function(matchers) {
    unlist(lapply(matchers, function(m) {
      if (length(m$values)) show_value(m$values) else describe_matchers(list(m))
    }))
  })
  list(code = unlist(each, use.names = FALSE), reason = rep(names(each), lengths(each)))
}

write_codebook_table <- function(book, path, overwrite) {
  rows <- codebook_rows(book)
  format <- format_to_write(path)
  write_atomically(path, overwrite, function(put) {
    format$write(as.list(rows), nrow(rows), put, list(decimal = "."))
  })
}
