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
  in_chunks(unname(nodes), function(nodes) {
    asked <- new_question(site, book, nodes)
    sums_asked(asked, paste0("s.", asked$names), NULL)
  })
}

#' @export
ends_at_site.ableturn_table_site <- function(site, book, node, within = list()) {
  asked <- new_question(site, book, c(list(node), within), numbers = 1)
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
  asked <- new_question(site, book, c(list(node), within), numbers = 1)
  engine <- site$engine
  keys <- asked$names[-1]
  floor_of <- function(x) fill_sql(engine$floor, x)
  unit <- number_sql(2^22, engine)
  from <- paste0("(SELECT ", listed_sql(c(paste0("s.", keys, recycle0 = TRUE),
    paste("s.ask_1 *", number_sql(2^22 / scale, engine), "AS rest"))), " ", asked$from,
  " WHERE ", finite_test("s.ask_1", engine), ") AS s")
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
  asked <- new_question(site, book, c(list(node), within), numbers = 1)
  keys <- asked$names[-1]
  groups <- paste0("s.", keys, recycle0 = TRUE)
  by <- if (length(keys)) paste("PARTITION BY", listed_sql(groups), "")
  inner <- paste0("(SELECT ", listed_sql(c(groups, "s.ask_1", paste0("ROW_NUMBER() OVER (", by,
    "ORDER BY s.ask_1) AS place"))), " ", asked$from, " WHERE ",
  finite_test("s.ask_1", site$engine), ") AS s")
  found <- fetch_asked(asked, paste("SELECT", listed_sql(c(groups, "s.ask_1",
    paste(cast_sql("s.place", site$engine$real), "AS place")))), paste("FROM", inner),
    paste0("WHERE s.place IN (", listed_sql(number_sql(ranks + 1, site$engine)), ")"))
  list(keys = asked_values(found, asked, keys), ranks = found$place - 1,
    values = as.double(found$ask_1))
}

#' @export
products_at_site.ableturn_table_site <- function(site, book, nodes, centre, weight = NULL) {
  asked <- new_question(site, book, c(nodes, weight), numbers = Inf)
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
  where <- paste("WHERE", paste(where, collapse = " AND "))
  told <- in_chunks(c("1.0", counted), function(terms) sums_asked(asked, terms, where))
  products <- matrix(0, k, k)
  products[pairs] <- products[pairs[, 2:1, drop = FALSE]] <- told[-seq_len(k + 2)]
  list(rows = told[1], weight = told[2], sums = told[2 + seq_len(k)], products = products)
}

# The sums of some terms.
sums_asked <- function(asked, terms, where) {
  sums <- paste0(cast_sql(paste0("SUM(", terms, ")"), asked$site$engine$real), " AS sum_",
    seq_along(terms))
  unlist(fetch_asked(asked, paste("SELECT", listed_sql(sums)), asked$from, where))
}

# A result has only so many columns: what some code gives for 300 of them after the other.
in_chunks <- function(all, code) {
  chunks <- split(all, (seq_along(all) - 1) %/% 300)
  as.double(unlist(lapply(unname(chunks), code), use.names = FALSE)) %|% 0
}
