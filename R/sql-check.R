# Before a script in SQL is run for a proof: it is made of nothing but the words that the
# translator writes, and is one statement. Names, texts and words of others cannot become SQL
# (sql-code.R); this is the second wall.
refuse_foreign_sql <- function(lines) {
  text <- paste(lines, collapse = "\n")
  if (grepl(";.*;", without_quotes(text))) fail("script-foreign", name = ";")
  words <- sql_bare_words(text)
  own <- grepl("^([vhdxmk]_[a-z0-9_]*|(stage|part|key)_[0-9]+)$", words)
  foreign <- words[!own & !toupper(words) %in% known_sql_words]
  if (length(foreign)) fail("script-foreign", name = foreign[1])
}

# What is no remark, no text and no quoted name.
without_quotes <- function(text) {
  gsub("--[^\n]*|'([^']|'')*'|\"([^\"]|\"\")*\"", " ", text, perl = TRUE)
}

sql_bare_words <- function(text) {
  bare <- gsub("\\b[0-9.]+(e[-+]?[0-9]+)?\\b", " ", without_quotes(text), ignore.case = TRUE,
    perl = TRUE)
  unique(regmatches(bare, gregexpr("[A-Za-z_][A-Za-z0-9_]*", bare))[[1]])
}

known_sql_words <- c(
  "CREATE", "TABLE", "AS", "WITH", "SELECT", "FROM", "LIMIT", "OFFSET", "CASE", "WHEN", "THEN",
  "ELSE", "END", "AND", "OR", "NOT", "IS", "NULL", "IN", "CAST", "REAL", "INTEGER", "TEXT", "DATE",
  "OVER", "PARTITION", "ORDER", "BY", "BETWEEN", "UNION", "ALL", "WHERE", "GLOB", "T", "S",
  "ABS", "AVG", "CEIL", "CHAR", "COS", "COUNT", "EXP", "FLOOR", "INSTR", "JULIANDAY", "LAG",
  "LENGTH", "LOG10", "LOWER", "LTRIM", "MAX", "MIN", "POWER", "PRINTF", "REPLACE", "ROW_NUMBER",
  "SQRT", "SUBSTR", "SUM", "TRIM", "UNICODE", "UPPER", "ITEM", "ITEMS", "PLACE", "RANKED"
)
