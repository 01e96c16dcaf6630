# The engines for which SQL is written, each stated once by `sql_engine()`: a list of templates, in
# which %s stands for an argument.
engines <- new.env(parent = emptyenv())

#   title     its name in words
#   real, whole, text  the names of the types that results are cast to
#   number    a function that gives the literal of a number
#   has_nan   whether a column of numbers may hold NaN
#   fence     what keeps a stage from being put into the next one, which would have it worked out
#             anew for each place that reads it; empty where the engine sees to that itself
#   infinity  the literal of what is larger than any number
#   ln, log10, log2, power, floor, ceiling  functions of numbers
#   modulo    the remainder of two whole numbers
#   least, greatest  how the smallest of several is asked for, missing ones left out
#   position, code_point, letter, trim, swap, composed  functions of texts: where a piece stands,
#             the number of its first character, the character of a number, outer characters taken
#             off, single characters replaced, the normal form; NULL where it has none; odd_text:
#             where there is none, whether a text holds more than letters and signs of ASCII
#   by_letters  a text that is sorted by the numbers of its characters, whatever its column says
#   fits      whether a text fits a pattern; NULL where it knows no patterns
#   as_text   a number that is not whole as text, with 15 figures
#   to_days, from_days  a date as days since 1970 and back; truth: whether truth values have a type
#   table_argument  a table as functions that tell about tables are given it
#   readable  a question for the columns that may be read, where these are not all
#   unique_columns  a question for the columns of which no two rows can have the same value
#   date_columns  where it has no type for dates: a question for the columns declared to hold them
#   typed     whether a column holds values of its type alone
#   escapes   whether a setting can make backslashes in texts more than letters
#   path      a function of a connection that gives the databases and schemas in which a bare name
#             is looked for, in order, and in which of them `new` tables are made
#   tables    a question for the tables and views of a name, see tables_named()
#   hanging   a function of a connection, the place of a table and its kind: what hangs on it, in
#             words named by their kind; reaches: of a connection and two places, whether the first
#             reads the second; columns: of a place, a question for its columns; identity: of a
#             connection, what tells its database from others; see sql-hanging.R
#   empty, lock  statements that empty a table and keep others from it; temporary: in what temporary
#             tables lie
#   schema    of a script on a table of which no more is known than its name
#   limbs     a function that has numbers summed up exactly, see with_limbs(); two_numbers: a sum of
#             whole numbers of any length as two numbers, the rest after 2^40 and how often that is
#   sets      whether it counts the groups of many columns best in one pass, by grouping sets
#   joins     whether long tables are joined rather than written as a CASE
#   ask, write  functions that begin to ask and to write, see sql-read-only.R
#   busy_timeout  where it does not wait for another that writes: a question for how long it
#             waits, and a statement that has it wait
#   shards    whether a table may lie on several servers, see sql-shards.R
#   start     statements before the script
#   most_columns, longest_name  how many columns a table may have, of how many bytes a name
#   same_letters  whether names that differ in case alone are one name
#   lost_names    names that a query cannot give to a column, whatever their case
sql_engine <- function(name, title, ...) {
  assign(name, list(name = name, title = title, ..., place = length(engines)), engines)
}

engine_names <- function() {
  names <- names(engines)
  names[order(vapply(names, function(name) engines[[name]]$place, 1L))]
}

# A template with its arguments in the places of %s; what stands in them is not looked into.
fill_sql <- function(template, ...) {
  pieces <- strsplit(paste0(template, " "), "%s", fixed = TRUE)[[1]]
  filled <- paste0(pieces, c(unlist(list(...)), ""), collapse = "")
  substr(filled, 1, nchar(filled) - 1)
}

# What an engine cannot do, or not as in memory: the reason, and what to do instead. The help page
# lists them; a construct that is met is refused by refuse_in_sql().
sql_refusals <- list(
  fractions_left = list(engines = c("sqlite", "duckdb", "postgresql"),
    what = "`%%` and `%/%` of numbers that are not whole",
    why = "the last digit decides about a whole step, and engines round it in another way",
    todo = "Make the numbers whole first: round(100 * x) %% 5."),
  extreme = list(engines = "postgresql",
    what = "reckoning with numbers beyond 1e150",
    why = "the server stops where a result is too large or too small for a number",
    todo = "Change the unit first, or set these values aside."),
  many_texts = list(engines = c("sqlite", "duckdb", "postgresql"),
    what = "patterns (`regex = TRUE`), letters beyond ASCII in another case, and texts that are
      typed in a way of their own, where more than 1,000 different texts are met",
    why = "each text is written into the script with its result",
    todo = "Recode the texts into fewer ones first."),
  long_text = list(engines = c("sqlite", "duckdb", "postgresql"),
    what = "draws from identifiers of more than 200 characters",
    why = "the powers for each character are written into the script",
    todo = "Use a shorter identifier."),
  long_name = list(engines = "postgresql", what = "names of more than 63 bytes",
    why = "the server cuts them off without an error", todo = "Give it a shorter name."),
  odd_name = list(engines = c("sqlite", "duckdb", "postgresql"),
    what = "names that hold a line break or another control character",
    why = "the script would not be what it seems", todo = "Rename the column in the data."),
  truth_name = list(engines = "sqlite", what = "variables named true or false",
    why = "a new table gives such a column another name", todo = "Rename it: rename_turn()."),
  alike_names = list(engines = c("sqlite", "duckdb"), what = "names that differ in case alone",
    why = "they are one name there", todo = "Rename one of them."),
  moments = list(engines = c("duckdb", "postgresql"),
    what = "dates with a time, where a column of the table holds them as such",
    why = "they are worked with as text, and each engine writes them in its own way",
    todo = "Open a view that casts the column to text."),
  percentiles = list(engines = c("sqlite", "duckdb", "postgresql"),
    what = "percentiles of norms by mean and SD, or by L, M and S",
    why = "no engine has the normal distribution function",
    todo = "Take z scores: turn_norm(how = \"z\")."),
  many_columns = list(engines = c("sqlite", "duckdb", "postgresql"),
    what = "more columns than a table may have (2,000; in PostgreSQL 1,600)",
    why = "the result would not fit into one table",
    todo = "Leave columns out, or write the work as two sheets.")
)

refuse_in_sql <- function(id, part, engine) {
  refusal <- sql_refusals[[id]]
  fail("sql-refused", part = part, engine = engine$title, what = squeeze(refusal$what),
    why = squeeze(refusal$why), example = refusal$todo)
}

squeeze <- function(text) gsub("[ \n]+", " ", text)
