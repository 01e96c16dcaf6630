# A variable: an environment whose fields are set when it is made, or when they are first asked for.
# It is found by its name once a turn and then handed on, so that nothing about it is looked up or
# worked out twice.
#   name, meaning  what it is called and what it means
#   site           where its rows are, see ask-site.R
#   x, why, kinds  its values, NA wherever there is no valid answer, and the reasons for that, see
#                  new_column()
#   cells          where its answers are few, see new_indexed()
#   long           of one in a table whose answers are not few, what is known of it: the `rows` of
#                  each kind of missing, whether its numbers are `whole`, some of them `infinite`
#   facts          what is known of its values, see facts_of_column()
#   type           whether these are texts, dates or numbers, see value_type()
# An original is read when its values are first asked for:
#   raw    the column as it came; texts: a function that gives it as it stands in its file, where
#          that is what its meaning is about
#   came   an environment for what is known of the column whatever it means: its index
#   asked  the variables that tell for whom the question was asked
# One that a turn made has a formula, `expr`, and more, see derived_variable().
new_variable <- function(...) list2env(list(...), envir = new.env(parent = emptyenv()))

original_variable <- function(name, raw, meaning, site, came, texts = NULL, asked = NULL) {
  new_variable(name = name, raw = raw, meaning = meaning, site = site, came = came, texts = texts,
    asked = asked)
}

# The same variable with other fields; of what type it is, and whether it has the values that came,
# is found anew.
altered <- function(variable, ...) {
  fields <- as.list(variable)
  fields[c("type", "as_it_came")] <- NULL
  list2env(list(...), list2env(fields, envir = new.env(parent = emptyenv())))
}

is_made <- function(variable) !is.null(variable$expr)

# The variable with its values and reasons.
column_of <- function(variable) {
  if (is.null(variable$kinds)) list2env(compact(read_original(variable$site, variable)), variable)
  variable
}

# The values alone: those of an original that nothing has to be set aside of are used as they are.
values_of <- function(variable) {
  x <- variable$x
  if (!is.null(variable$expr)) return(x)
  if (!is_as_it_came(variable)) return(if (is.null(x)) column_of(variable)$x else x)
  if (is.null(attributes(variable$raw))) return(variable$raw)
  if (is.null(x) || is_not_written(x)) plain_values(variable$raw) else x
}

# Whether an original has the values that came, and no others.
is_as_it_came <- function(variable) {
  if (is.null(variable$as_it_came)) {
    meaning <- variable$meaning
    raw <- variable$raw
    variable$as_it_came <- is.numeric(raw) && !is.object(raw) && !length(meaning$missing) &&
      is.null(meaning$asked_if) && is.null(meaning$read)
  }
  variable$as_it_came
}

# An original as it came; where its meaning says how it is read, the texts that stand in its file.
source_of <- function(variable) {
  if (is.null(variable$texts)) variable$raw else variable$texts()
}

facts_of <- function(variable) {
  if (is.null(variable$facts)) variable$facts <- read_facts(variable$site, variable)
  variable$facts
}

# Whether what is known of two variables does not tell them apart.
same_facts <- function(a, b) {
  near <- function(p, q) {
    is.na(p) == is.na(q) && (is.na(p) || abs(p - q) <= 1e-9 * (abs(p) + abs(q)))
  }
  a$valid == b$valid && near(a$low, b$low) && near(a$high, b$high)
}

# The index of an original: of its answers as they came, whatever they mean. NULL where they are not
# few, or where its texts are read from the file anew.
index_of <- function(variable) {
  if (!is.null(variable$texts)) return(NULL)
  came <- variable$came
  if (is.null(came$index)) came$index <- read_index(variable$site, variable) %||% FALSE
  if (is.list(came$index)) came$index
}

# The cells of a variable, see new_indexed(); NULL where its answers are not few.
cells_of <- function(variable) {
  if (is_made(variable) || !is.null(index_of(variable))) column_of(variable)$cells
}

has_text <- function(variable) value_type(variable) == "text"

value_type <- function(variable) {
  if (is.null(variable$type)) variable$type <- find_value_type(variable)
  variable$type
}

find_value_type <- function(variable) {
  read <- if (is.null(variable$expr)) variable$meaning$read
  x <- if (is.null(read)) variable$raw %||% variable$x
  text <- if (is.null(read)) is_text_like(x) else reads_as_text(variable$meaning)
  if (text) return("text")
  if (inherits(x %||% column_of(variable)$x, "Date")) "date" else "number"
}

# A column without any answer and any labels may be anything, text too.
is_empty <- function(variable) {
  !length(variable$meaning$codes) && facts_of(variable)$valid == 0
}

# The text variables among some that a formula reads as dates, and as numbers.
dates_in_text <- function(expr, variables) {
  if (!any_text(variables)) return(character())
  named <- Filter(is.symbol, lapply(calls_of(expr, "as.Date"), `[[`, 2))
  Filter(function(name) has_text(variables[[name]]), vapply(named, as.character, ""))
}

numbers_in_text <- function(expr, variables) {
  if (!any_text(variables)) return(character())
  texts_as_numbers(expr, function(name) {
    !is.null(variables[[name]]) && has_text(variables[[name]])
  })
}

any_text <- function(variables) {
  for (variable in variables) if (has_text(variable)) return(TRUE)
  FALSE
}

# For whom a question was asked: a condition kept as text, with codes for labels.
asked_node <- function(meaning) if (!is.null(meaning$asked_if)) parse_formula(meaning$asked_if)

# How many values of one variable, each with its rows, are fetched where a turn needs them all.
register_values <- 1e6
