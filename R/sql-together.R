# The answers of several originals, as read_index() gives them, in one pass through their table.
# The rows that are read first tell which answers to count; where others are met as well, the
# variable is asked about alone later.
#' @export
read_together.ableturn_table_site <- function(site, variables) {
  unread <- Filter(function(variable) {
    !is_made(variable) && is.null(variable$texts) && is.null(variable$came$index) &&
      is.numeric(variable$raw) && !inherits(variable$raw, "Date")
  }, variables)
  if (length(unread) > 1) for (some in in_parts(unread, 25)) count_together(site, some)
}

count_together <- function(site, variables) {
  names <- vapply(variables, `[[`, "", "name")
  at <- scoped(site, function(name) variables[[match(name, names)]])
  question <- new_question(at, lapply(names, as_it_came))
  met <- lapply(first_values(question), likely_codes)
  few <- which(lengths(met) > 0)
  if (length(few) < 2) return()
  told <- if (site$engine$sets) rows_in_sets(question, few) else
    rows_by_tests(question, met[few], few)
  for (i in seq_along(told)) keep_index(variables[[few[i]]], told[[i]], site)
}

# The `values` of each column and their `rows`; in `rows` those that are missing come first. Each
# value that was met is a test of its own.
rows_by_tests <- function(question, met, few) {
  tests <- unlist(Map(function(column, values) {
    c(paste(column, "IS NULL"), paste(column, "=", number_sql(values, question$site$engine)))
  }, question$columns[few], met), use.names = FALSE)
  told <- setNames(c("COUNT(*)", paste0("COUNT(*) FILTER (WHERE ", tests, ")")),
    c("n", paste0("n_", seq_along(tests))))
  rows <- unlist(fetch_grouped(question, character(), told)$told, use.names = FALSE)
  check_same_rows(question, rows[1])
  Map(function(values, rows) list(values = values, rows = rows), met,
    split(rows[-1], rep(seq_along(met), lengths(met) + 1)))
}

# The same where an engine groups by each column in one pass, which takes it less.
rows_in_sets <- function(question, few) {
  columns <- question$columns[few]
  query <- c(
    paste0("SELECT GROUPING(", listed_sql(columns), ") AS place, COALESCE(",
      listed_sql(cast_sql(columns, question$site$engine$real)), ") AS value, COUNT(*) AS n"),
    question$from, paste0("GROUP BY GROUPING SETS (", listed_sql(paste0("(", columns, ")")), ")"),
    "LIMIT 5000")
  found <- lapply(fetch_asked(question, query), as.double)
  if (length(found$n) == 5000) return(list())
  all <- 2^length(few) - 1 # GROUPING() has a bit for each column that is not grouped by
  column <- length(few) - log2(all - found$place)
  lapply(seq_along(few), function(i) {
    gone <- column == i & is.na(found$value)
    own <- which(column == i & !gone)
    own <- own[order(found$value[own])]
    list(values = found$value[own], rows = c(sum(found$n[gone]), found$n[own]))
  })
}

# The answers of some 2,000 rows.
first_values <- function(question) {
  part <- of_first_rows(question, 2000)
  query <- c(paste("SELECT", listed_sql(paste(part$columns, "AS", part$names))), part$from)
  asked_values(fetch_asked(part, query, setNames(part$types, part$names)), part)
}

# Small whole numbers that are few, in order; else none.
likely_codes <- function(x) {
  values <- sort(unique(as.double(x)))
  if (length(values) > 12 || any(values %% 1 != 0 | abs(values) > 1e6)) numeric() else values
}

# Nothing is kept where further answers were met, or too many.
keep_index <- function(variable, told, site) {
  known <- identical(likely_codes(told$values), told$values)
  if (!known || sum(told$rows) != site$rows) return()
  values <- as_column_of(c(told$values, NA), variable$raw)
  rows <- c(told$rows[-1], told$rows[1])
  some <- rows > 0
  variable$came$index <- index_of_answers(site, variable, values[some], rows[some])
}
