# The only ways in which a name, a text or words of others enter SQL. No other file writes quotes or
# remarks; a test holds them to it.

sql_name <- function(name) {
  paste0("\"", gsub("\"", "\"\"", enc2utf8(name), fixed = TRUE), "\"")
}

# Control characters are asked for by their numbers, so that no text breaks a line. Where a setting
# decides whether a backslash is a letter or begins something, it is written such that it is one
# whatever is set.
sql_text <- function(text, engine) {
  text <- enc2utf8(text)
  quoted <- paste0("'", gsub("'", "''", text, fixed = TRUE), "'")
  bent <- engine$escapes & grepl("\\", text, fixed = TRUE)
  quoted[bent] <- paste0("E", gsub("\\", "\\\\", quoted[bent], fixed = TRUE))
  odd <- has_control(text)
  quoted[odd] <- vapply(text[odd], text_by_parts, "", engine = engine, USE.NAMES = FALSE)
  quoted
}

has_control <- function(text) grepl("[\\x01-\\x1f\\x7f]", text, perl = TRUE)

text_by_parts <- function(text, engine) {
  letters <- strsplit(text, "")[[1]]
  control <- has_control(letters)
  run <- cumsum(c(TRUE, control[-1] | control[-length(control)]))
  parts <- vapply(split(letters, run), function(part) {
    if (length(part) == 1 && has_control(part)) {
      fill_sql(engine$letter, utf8ToInt(part))
    } else {
      sql_text(paste(part, collapse = ""), engine)
    }
  }, "")
  paste0("(", paste(parts, collapse = " || "), ")")
}

# Lines of words: those of a base script, with the sign of SQL.
sql_remark <- function(lines) sub("^# ?", "-- ", unlist(lines))

# A short name inside the script for something of the analyst's: letters of ASCII alone, with a
# beginning that no keyword has, and unlike all others there.
sql_alias <- function(start, name, state) {
  plain <- gsub("[^a-z0-9]+", "_", lower_ascii(readable(name)))
  alias <- paste0(start, "_", substr(gsub("^_+|_+$", "", plain), 1, 40))
  free <- alias
  place <- 1
  while (free %in% state$taken) free <- paste0(alias, "_", place <- place + 1)
  state$taken <- c(state$taken, free)
  free
}

# A part of a formula in SQL:
#   sql      its text
#   type     "number", "text", "truth", "date" (as days since 1970), or "any" for NA
#   level    the stage that makes the last of what it reads; 0 for the table itself
#   binds    how strongly it binds: 9 needs no brackets, 7 * and /, 6 + and -, 5 comparisons, 4 NOT,
#            3 AND, 2 OR
#   null     the columns of which it is missing exactly where one of them is; NULL where that is not
#            known
#   value    of a text that is written out, what it is
#   implies  of a condition: the columns that have a value where it is true; `denies`: where it is
#            false
new_term <- function(sql, type, level, binds = 9, null = NULL, implies = character(),
                     denies = character()) {
  list(sql = sql, type = type, level = level, binds = binds, null = null, implies = implies,
    denies = denies)
}

# The text of a term where what stands around it binds this strongly.
within_sql <- function(term, level) {
  if (term$binds < level) paste0("(", term$sql, ")") else term$sql
}

top_level <- function(terms) max(0, vapply(terms, `[[`, 0, "level"))

# Missing exactly where one of several terms is; not known where it is not of one of them.
any_null <- function(terms) {
  sets <- lapply(terms, `[[`, "null")
  if (!any(vapply(sets, is.null, NA))) unique(unlist(sets)) %||% character()
}

# A CASE of lines, each with its condition and its value.
case_sql <- function(tests, values, default = NULL) {
  lines <- paste0("WHEN ", tests, " THEN ", values)
  if (!is.null(default)) lines <- c(lines, paste0("ELSE ", default))
  short <- paste0("CASE ", paste(lines, collapse = " "), " END")
  if (nchar(short) <= 76 && !grepl("\n", short, fixed = TRUE)) return(short)
  paste0("CASE\n", indented(lines), "\nEND")
}

indented <- function(lines, by = 2) {
  all <- unlist(strsplit(lines, "\n", fixed = TRUE))
  paste0(strrep(" ", by), all, collapse = "\n")
}

listed_sql <- function(parts) paste(parts, collapse = ", ")

# Whole numbers in full.
number_sql <- function(x, engine) {
  whole <- x == round(x) & abs(x) < 1e15
  out <- sprintf("%.0f", x + 0)
  out[!whole] <- vapply(x[!whole], fraction_sql, "", engine = engine)
  out
}

fraction_sql <- function(x, engine) {
  if (is.finite(x)) engine$number(x) else paste0(if (x < 0) "-", engine$infinity)
}

cast_sql <- function(sql, type) {
  paste0("CAST(", sql, " AS ", type, ")")
}

literal_sql <- function(values, engine) {
  if (is.character(values)) sql_text(values, engine) else number_sql(as.double(values), engine)
}

# A count as a number: engines count in whole numbers of 64 bits.
count_sql <- function(engine) cast_sql("COUNT(*)", engine$real)

row_number_sql <- function(groups, order) {
  by <- if (length(groups)) paste("PARTITION BY", listed_sql(groups), "")
  paste0("ROW_NUMBER() OVER (", by, "ORDER BY ", order, ")")
}
