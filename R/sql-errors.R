#' @include base-fail.R
NULL

# What can be wrong when work is written in SQL.
word_errors(list(
  "sql-refused" = c("{part} cannot be written in SQL for {engine}: {what} ({why}).", "{example}"),
  "sql-several" = c("{part} stands where SQL needs a single value.",
    "Name the values after %in%."),
  "sql-digits" = c("{part} rounds to a number of digits that differs by row.",
    "Write the digits as a number: round(x, 2)."),
  "engine-unknown" = c("There is no SQL for this kind of connection: {got}.",
    "Connect to SQLite, DuckDB or PostgreSQL, or open the data as a data frame."),
  "table-needed" = c("A database holds several tables, and `table` names none. {tables}.",
    "Write turnbook(con, table = \"survey\")."),
  "table-not-here" = c("There is no table {table} in this database. {tables}.",
    "Check its name; with a schema write table = c(\"schema\", \"table\")."),
  "target-needed" = c("A table in a database needs a name.",
    "Write write_data(book, con, table = \"survey_derived\")."),
  "table-is-source" = c("{table} is the table that the data come from, which is not changed.",
    "Choose another name."),
  "value-untyped" = c("A column of this table holds {value}, which is no {type} as the others are.",
    "Cast the column in a view, and open that."),
  "writing-database" = c("`{argument}` is for files: a database holds values as they are.",
    "Leave it out."),
  "writing-file" = c("`{argument}` is for a connection to a database, and {path} is a file.",
    "Leave it out."),
  "table-exists" = c("There is a table {table} in this database already.",
    "Choose another name, or write overwrite = TRUE."),
  "view-elsewhere" = c("A view reads a table of its own database, and these data are not in it.",
    "Write a table: leave `view` out."),
  "engine-dialect" = c("`engine` is for dialect = \"sql\", not for \"{dialect}\".",
    "Leave it out, or write dialect = \"sql\".")
))
