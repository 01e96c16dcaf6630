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
  asked <- new_question(at, lapply(names, as_it_came))
  met <- lapply(first_values(asked), likely_codes)
  if (sum(lengths(met) > 0) < 2) return()
  tests <- unlist(Map(function(column, values) {
    c(paste(column, "IS NULL", recycle0 = TRUE)[length(values) > 0],
      paste(column, "=", number_sql(values, site$engine), recycle0 = TRUE))
  }, asked$columns, met), use.names = FALSE)
  told <- setNames(c("COUNT(*)", paste0("COUNT(*) FILTER (WHERE ", tests, ")")),
    c("n", paste0("n_", seq_along(tests))))
  rows <- unlist(fetch_grouped(asked, character(), told)$told, use.names = FALSE)
  check_same_rows(asked, rows[1])
  own <- split(rows[-1], rep(seq_along(met), lengths(met) + (lengths(met) > 0)))
  for (i in as.integer(names(own))) keep_index(variables[[i]], met[[i]], own[[as.character(i)]],
    site)
}

# The answers of some 2,000 rows.
first_values <- function(asked) {
  part <- of_first_rows(asked, 2000)
  query <- c(paste("SELECT", listed_sql(paste(part$columns, "AS", part$names))), part$from)
  asked_values(fetch_asked(part, query, setNames(part$types, part$names)), part)
}

# Small whole numbers that are few, in order; else none.
likely_codes <- function(x) {
  values <- sort(unique(as.double(x)))
  if (length(values) > 12 || any(values %% 1 != 0 | abs(values) > 1e6)) numeric() else values
}

# `rows`: of those that are missing, and of each value.
keep_index <- function(variable, values, rows, site) {
  if (sum(rows) != site$rows) return()
  values <- as_column_of(c(values, NA), variable$raw)
  rows <- c(rows[-1], rows[1])
  some <- rows > 0
  variable$came$index <- index_of_answers(site, variable, values[some], rows[some])
}
