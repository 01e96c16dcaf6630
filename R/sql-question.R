# Formulas as columns of a query, `names`, each of the type `like`; `from` is what these are asked
# of, for the rows of which the formula `where` is true. Texts among the first `numbers` of them are
# read as numbers. An original as it came is stated by
# as_it_came().
new_question <- function(site, book, nodes, where = NULL, numbers = 0) {
  state <- new_sql_state(book, site$engine)
  state$stage_name <- if (grepl("stage_", tolower(site$table), fixed = TRUE)) "part_" else "stage_"
  names <- paste0("ask_", seq_along(nodes), recycle0 = TRUE)
  like <- Map(add_asked_column, unname(nodes), names, seq_along(nodes) <= numbers,
    MoreArgs = list(state = state, site = site))
  if (!is.null(where)) add_asked_column(where, "ask_where", FALSE, state, site)
  refuse_columns(state)
  from <- paste0("FROM ", state$stage_name, length(state$stages), " AS s",
    if (!is.null(where)) " WHERE s.ask_where = 1")
  list(site = site, names = names, like = like, from = from,
    stages = stage_lines(state, site$table))
}

as_it_came <- function(name) call("as it came", as.name(name))

# Adds a column and gives the type of what comes of it.
add_asked_column <- function(node, alias, number, state, site) {
  if (is.call(node) && call_head(node) == "as it came") {
    name <- as.character(node[[2]])
    add_column_to(1, alias, stored_sql(site, name), NULL, state)
    return(site$columns[[name]])
  }
  term <- sql_term(node, state)
  if (term$type %in% c("truth", "any", if (number) "text")) term <- number_of(term, state)
  add_column_to(term$level + 1, alias, term$sql, NULL, state)
  switch(term$type, text = character(), date = structure(numeric(), class = "Date"), numeric())
}

asked_values <- function(found, asked, names = asked$names) {
  like <- asked$like[match(names, asked$names)]
  Map(function(values, like) {
    if (inherits(like, "Date") && is.numeric(values)) return(structure(as.double(values),
      class = "Date"))
    as_column_of(values, like)
  }, unname(as.list(found[names])), like)
}

# What was answered in a few rows is kept: the same is asked for by several statistics and findings,
# and a book is of the table as it was opened.
fetch_asked <- function(asked, ...) {
  query <- paste(c(asked$stages, ...), collapse = "\n")
  known <- asked$site$known
  key <- rlang::hash(query)
  if (is.null(known[[key]])) {
    found <- fetch(asked$site$connection, query)
    if (nrow(found) > 100) return(found)
    assign(key, found, known)
  }
  known[[key]]
}

listed_sql <- function(parts) paste(parts, collapse = ", ")
