# Questions put to a table about what is worked out there: formulas become columns of a query, and
# counts and sums of these come back, see book-ask.R.

#' @export
groups_at_site.ableturn_table_site <- function(site, book, nodes, most, where = NULL,
                                               frequent = FALSE, ...) {
  asked <- new_question(site, book, nodes, where)
  keys <- paste0("s.", asked$names, recycle0 = TRUE)
  columns <- c(paste(keys, "AS", asked$names, recycle0 = TRUE),
    paste(count_sql(site$engine), "AS n"))
  found <- fetch_asked(asked, paste("SELECT", listed_sql(columns)), asked$from,
    if (length(nodes)) paste("GROUP BY", listed_sql(keys)),
    if (frequent) "ORDER BY COUNT(*) DESC",
    paste("LIMIT", number_sql(most + !frequent, site$engine)))
  if (nrow(found) > most) return(NULL)
  list(keys = asked_values(found, asked), rows = as.integer(found$n))
}

#' @export
repeats_at_site.ableturn_table_site <- function(site, book, nodes) {
  asked <- new_question(site, book, nodes)
  keys <- paste0("s.", asked$names)
  told <- paste(keys, "IS NOT NULL", collapse = " AND ")
  groups <- c(asked$from, paste("WHERE", told), paste("GROUP BY", listed_sql(keys)),
    "HAVING COUNT(*) > 1")
  first <- fetch_asked(asked, paste("SELECT", listed_sql(paste(keys, "AS", asked$names))), groups,
    "LIMIT 1")
  if (!nrow(first)) return(NULL)
  more <- cast_sql("SUM(g.n - 1)", site$engine$real)
  rows <- fetch_asked(asked, paste("SELECT", more, "AS n FROM (SELECT COUNT(*) AS n"), groups,
    ") AS g")$n
  list(values = asked_values(first, asked), rows = rows)
}

#' @export
tallies_at_site.ableturn_table_site <- function(site, book, nodes) {
  chunks <- split(nodes, (seq_along(nodes) - 1) %/% 300)
  found <- lapply(unname(chunks), function(nodes) {
    asked <- new_question(site, book, unname(nodes))
    sums <- paste0(cast_sql(paste0("SUM(s.", asked$names, ")"), site$engine$real), " AS ",
      asked$names)
    unlist(fetch_asked(asked, paste("SELECT", listed_sql(sums)), asked$from))
  })
  as.double(unlist(found)) %|% 0
}

#' @export
ends_at_site.ableturn_table_site <- function(site, book, node, within = list()) {
  asked <- new_question(site, book, c(list(node), within))
  finite <- finite_test("s.ask_1", site$engine)
  rows_with <- function(test) paste0("SUM(CASE WHEN ", test, " THEN 1 ELSE 0 END)")
  of_finite <- function(what) paste0(what, "(CASE WHEN ", finite, " THEN s.ask_1 END)")
  told <- c(
    valid = "COUNT(s.ask_1)", rows = rows_with(finite), low = of_finite("MIN"),
    high = of_finite("MAX"),
    parts = rows_with(paste("s.ask_1 <>", fill_sql(site$engine$floor, "s.ask_1"))))
  grouped_answer(asked, cast_sql(told, site$engine$real), names(told), asked$from)
}

# What comes of the numbers of a column in each group: `of`, as SQL, under the names `as`.
grouped_answer <- function(asked, of, as, from, keys = asked$names[-1]) {
  found <- fetch_asked(asked, paste("SELECT", listed_sql(c(if (length(keys)) paste0("s.", keys),
    paste(of, "AS", as)))), from,
    if (length(keys)) paste("GROUP BY", listed_sql(paste0("s.", keys))))
  list(keys = asked_values(found, asked, keys), told = lapply(found[as], as.double))
}

finite_test <- function(x, engine) {
  largest <- number_sql(.Machine$double.xmax, engine)
  paste0(x, " >= -", largest, " AND ", x, " <= ", largest)
}

#' @export
parts_at_site.ableturn_table_site <- function(site, book, node, scale, within = list()) {
  asked <- new_question(site, book, c(list(node), within))
  engine <- site$engine
  keys <- asked$names[-1]
  floor_of <- function(x) fill_sql(engine$floor, x)
  unit <- number_sql(2^22, engine)
  from <- paste0("(SELECT ", listed_sql(c(paste0("s.", keys, recycle0 = TRUE),
    paste("s.ask_1 *", number_sql(2^22 / scale, engine), "AS rest"))), " ", asked$from,
  if (asked$filtered) " AND " else " WHERE ", finite_test("s.ask_1", engine), ") AS s")
  for (part in 1:4) {
    kept <- c(keys, if (part > 1) paste0("part_", seq_len(part - 1)))
    from <- paste0("(SELECT ", listed_sql(c(paste0("s.", kept, recycle0 = TRUE),
      paste(floor_of("s.rest"), "AS", paste0("part_", part)),
      paste0("(s.rest - ", floor_of("s.rest"), ") * ", unit, " AS rest"))), "\nFROM ", from,
    ") AS s")
  }
  as <- paste0("part_", 1:4)
  told <- grouped_answer(asked, cast_sql(paste0("SUM(s.", as, ")"), engine$real), as,
    paste("FROM", from))
  list(keys = told$keys, parts = do.call(cbind, unname(told$told)))
}

#' @export
ranks_at_site.ableturn_table_site <- function(site, book, node, ranks, within = list()) {
  asked <- new_question(site, book, c(list(node), within))
  keys <- asked$names[-1]
  groups <- paste0("s.", keys, recycle0 = TRUE)
  by <- if (length(keys)) paste("PARTITION BY", listed_sql(groups), "")
  inner <- paste0("(SELECT ", listed_sql(c(groups, "s.ask_1", paste0("ROW_NUMBER() OVER (", by,
    "ORDER BY s.ask_1) AS place"))), " ", asked$from, if (asked$filtered) " AND " else " WHERE ",
  finite_test("s.ask_1", site$engine), ") AS s")
  found <- fetch_asked(asked, paste("SELECT", listed_sql(c(groups, "s.ask_1",
    paste(cast_sql("s.place", site$engine$real), "AS place")))), paste("FROM", inner),
    paste0("WHERE s.place IN (", listed_sql(number_sql(ranks + 1, site$engine)), ")"))
  list(keys = asked_values(found, asked, keys), ranks = found$place - 1,
    values = as.double(found$ask_1))
}

# Formulas as columns of a query, `names`, each of the type `like`; `from` is what these are asked
# of, for the rows of which the formula `where` is true. An original as it came is stated by
# as_it_came().
new_question <- function(site, book, nodes, where = NULL) {
  state <- new_sql_state(book, site$engine)
  state$stage_name <- if (grepl("stage_", tolower(site$table), fixed = TRUE)) "part_" else "stage_"
  like <- lapply(unname(nodes), add_asked_column, state = state, site = site)
  names <- paste0("ask_", seq_along(nodes), recycle0 = TRUE)
  filtered <- !is.null(where)
  if (filtered) add_asked_column(where, state, site, "ask_where")
  refuse_columns(state)
  from <- paste0("FROM ", state$stage_name, length(state$stages), " AS s",
    if (filtered) " WHERE s.ask_where = 1")
  list(site = site, names = names, like = like, from = from, filtered = filtered,
    stages = stage_lines(state, site$table))
}

as_it_came <- function(name) call("as it came", as.name(name))

# Adds a column and gives the type of what comes of it.
add_asked_column <- function(node, state, site, alias = NULL) {
  alias <- alias %||% paste0("ask_", 1 + sum(grepl("^ask_[0-9]", unlist(lapply(state$stages,
    names)))))
  if (is.call(node) && call_head(node) == "as it came") {
    name <- as.character(node[[2]])
    add_column_to(1, alias, stored_sql(site, name), NULL, state)
    return(site$columns[[name]])
  }
  term <- sql_term(node, state)
  if (term$type %in% c("truth", "any")) term <- number_of(term, state)
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

#' @export
products_at_site.ableturn_table_site <- function(site, book, nodes, centre, weight = NULL) {
  asked <- new_question(site, book, c(nodes, weight))
  k <- length(nodes)
  x <- paste0("s.", asked$names)
  engine <- site$engine
  where <- c(vapply(x[seq_len(k)], finite_test, "", engine = engine),
    if (!is.null(weight)) paste(x[k + 1], "> 0"))
  off <- paste0("(", x[seq_len(k)], " - ", number_sql(centre, engine), ")")
  off <- ifelse(centre == 0, x[seq_len(k)], off)
  pairs <- which(upper.tri(diag(k), diag = TRUE), arr.ind = TRUE)
  each <- c("1.0", off, paste(off[pairs[, 1]], "*", off[pairs[, 2]]))
  counted <- if (is.null(weight)) each else paste(x[k + 1], "*", each)
  told <- sums_where(asked, c("1.0", counted), where)
  products <- matrix(0, k, k)
  products[pairs] <- products[pairs[, 2:1, drop = FALSE]] <- told[-seq_len(k + 2)]
  list(rows = told[1], weight = told[2], sums = told[2 + seq_len(k)], products = products)
}

sums_where <- function(asked, parts, where) {
  chunks <- split(parts, (seq_along(parts) - 1) %/% 300)
  found <- lapply(unname(chunks), function(parts) {
    sums <- paste0(cast_sql(paste0("SUM(", parts, ")"), asked$site$engine$real), " AS sum_",
      seq_along(parts))
    unlist(fetch_asked(asked, paste("SELECT", listed_sql(sums)), asked$from,
      paste("WHERE", paste(where, collapse = " AND "))))
  })
  as.double(unlist(found, use.names = FALSE)) %|% 0
}

#' @export
rows_by_script.ableturn_table_site <- function(site, book, names, id, ids) {
  state <- new_sql_state(book, site$engine)
  query <- query_lines(state, site$table, c(id, names))
  chosen <- paste0("s.", sql_name(id), " IN (", listed_sql(literal_sql(ids, site$engine)), ")")
  fetch(site$connection, paste(c(query, paste("WHERE", chosen)), collapse = "\n"))
}

#' @export
ids_at_site.ableturn_table_site <- function(site, id, most) {
  places <- round(seq(1, site$rows, length.out = min(most, site$rows)))
  column <- paste0("t.", sql_name(id))
  placed <- paste0("(SELECT ", column, " AS id, ROW_NUMBER() OVER (ORDER BY ", column,
    ") AS place FROM ", site$table, " AS t) AS s")
  found <- fetch(site$connection, paste0("SELECT s.id FROM ", placed, " WHERE s.place IN (",
    listed_sql(number_sql(places, site$engine)), ")"))
  as_column_of(found$id, site$columns[[id]])
}
