#' @include base-fail.R
NULL

# What can be wrong when work is written in SQL.
word_errors(list(
  "sql-refused" = c("{part} cannot be written in SQL for {engine}: {what} ({why}).", "{example}"),
  "sql-several" = c("{part} stands where SQL needs a single value.",
    "Name the values after %in%."),
  "sql-digits" = c("{part} rounds to a number of digits that differs by row.",
    "Write the digits as a number: round(x, 2)."),
  "engine-dialect" = c("`engine` is for dialect = \"sql\", not for \"{dialect}\".",
    "Leave it out, or write dialect = \"sql\".")
))
