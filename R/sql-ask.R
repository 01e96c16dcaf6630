# Questions put to a table about what is worked out there: formulas become columns of a query, and
# counts and sums of these come back, see book-ask.R.

#' @export
groups_at_site.ableturn_table_site <- function(site, book, nodes, most, where = NULL,
                                               frequent = FALSE, hint = FALSE, ...) {
  asked <- new_question(site, book, nodes, where)
  if (hint) asked <- of_hint_rows(asked, info_of(book)$id) %||% asked
  if (!frequent && surely_more(asked, most)) return(NULL)
  enough <- paste("LIMIT", number_sql(most + !frequent, site$engine))
  found <- if (frequent) count_groups(asked, NULL, c("ORDER BY n DESC", enough)) else
    count_groups(asked, enough)
  if (length(found$told$n) > most) return(NULL)
  if (!frequent || length(found$told$n) < most) check_same_rows(asked, found$told$n)
  list(keys = found$keys, rows = as.integer(found$told$n))
}

# A book is of the table as it was opened: where all its rows were counted, they must be as many.
check_same_rows <- function(asked, counts) {
  if (asked$all) refuse_changed(asked$site, sum(counts))
}

refuse_changed <- function(site, rows) {
  if (rows != site$rows) fail("table-changed", table = paste(site$name, collapse = "."),
    rows = counted(site$rows, "row"), now = grouped(rows))
}

# Whether rows that are read first hold more than `most` answers already: then the others, if they
# are far more, need not be gone through.
surely_more <- function(asked, most) {
  first <- max(1000, ceiling(1.25 * most))
  site <- asked$site
  if (!length(asked$names) || !is.null(site$shards) || site$rows < 12 * first) return(FALSE)
  part <- of_first_rows(asked, first)
  met <- paste(c("SELECT DISTINCT", listed_sql(paste(part$columns, "AS", part$names)), part$from),
    collapse = " ")
  fetch_asked(part, paste0("SELECT COUNT(*) AS n FROM (", met, ") AS s"))$n > most
}

count_groups <- function(asked, last, whole_last = last) {
  fetch_grouped(asked, asked$names, c(n = "COUNT(*)"), last = last, whole_last = whole_last)
}

#' @export
repeats_at_site.ableturn_table_site <- function(site, book, nodes) {
  asked <- new_question(site, book, nodes)
  told <- paste(asked$columns, "IS NOT NULL", collapse = " AND ")
  repeated <- c(paste("SELECT", listed_sql(c(paste(asked$columns, "AS", asked$names),
    paste(cast_sql("COUNT(*) - 1", site$engine$real), "AS more")))), asked$from,
  paste("WHERE", told), paste("GROUP BY", listed_sql(asked$columns)), "HAVING COUNT(*) > 1")
  types <- setNames(c(asked$types, site$engine$real), c(asked$names, "more"))
  ask <- function(whole) fetch_asked(asked, repeated, types, whole)
  first <- ask(function(from) paste("SELECT * FROM", from, "LIMIT 1"))
  if (!nrow(first)) return(NULL)
  rows <- ask(function(from) paste("SELECT SUM(s.more) AS n FROM", from))$n
  list(values = asked_values(first, asked), rows = rows)
}

#' @export
gaps_at_site.ableturn_table_site <- function(site, book, order, unit) {
  site$shards <- NULL # the occasions are those of all servers together
  asked <- new_question(site, book, list(as.name(order), as.name(unit)))
  placed <- c("(SELECT s.ask_2, DENSE_RANK() OVER (ORDER BY s.ask_1) AS place", asked$from,
    "WHERE s.ask_1 IS NOT NULL) AS s")
  steps <- c("(SELECT s.place - LAG(s.place) OVER (PARTITION BY s.ask_2 ORDER BY s.place) AS step",
    "FROM", placed, "WHERE s.ask_2 IS NOT NULL) AS s")
  fetch_asked(asked, c("SELECT", count_sql(site$engine), "AS n FROM", steps,
    "WHERE s.step > 1"))$n
}

#' @export
tallies_at_site.ableturn_table_site <- function(site, book, nodes) {
  in_chunks(unname(nodes), function(nodes) {
    asked <- new_question(site, book, nodes)
    sums_asked(asked, asked$columns, NULL)
  })
}

#' @export
unlike_first_at_site.ableturn_table_site <- function(site, book, name, others, exact) {
  in_chunks(others, function(others) {
    asked <- of_first_rows(new_question(site, book, lapply(c(name, others), as.name)), 1000)
    unlike <- vapply(asked$columns[-1], unlike_sql, "", asked$columns[1], exact, site$engine)
    sums_asked(asked, unlike, NULL)
  })
}

# 1 for rows in which two columns differ, else 0. Numbers so large that engines stop at their
# difference are never near.
unlike_sql <- function(a, b, exact, engine) {
  size <- paste0("ABS(", c(a, b, paste(a, "-", b)), ")")
  larger <- case_sql(paste(size[1], ">", size[2]), size[1], size[2])
  near <- paste(size[3], "<=", number_sql(1e-12, engine), "*", larger)
  held <- paste(size[1:2], "<", number_sql(1e150, engine), collapse = " AND ")
  gone <- paste(c(a, b), "IS NULL")
  tests <- c(paste(gone, collapse = " AND "), paste(gone, collapse = " OR "), paste(a, "=", b))
  case_sql(tests, c("0", "1", "0"), if (exact) "1" else case_sql(held, case_sql(near, "0", "1"),
    "1"))
}

#' @export
tallies_by_at_site.ableturn_table_site <- function(site, book, nodes, by) {
  found <- lapply(in_parts(nodes), function(nodes) {
    asked <- new_question(site, book, c(list(by), nodes))
    told <- setNames(paste0("SUM(", asked$columns[-1], ")"), paste0("sum_", seq_along(nodes)))
    fetch_grouped(asked, asked$names[1], told)
  })
  keys <- found[[1]]$keys[[1]]
  told <- lapply(found, function(part) {
    do.call(cbind, part$told)[match(keys, part$keys[[1]]), , drop = FALSE]
  })
  list(keys = keys, told = do.call(cbind, told))
}

#' @export
ends_at_site.ableturn_table_site <- function(site, book, node, within = list()) {
  asked <- new_question(site, book, c(list(node), within), numbers = 1)
  finite <- finite_test("s.ask_1", site$engine)
  rows_with <- function(test) paste0("SUM(CASE WHEN ", test, " THEN 1 ELSE 0 END)")
  of_finite <- function(what) paste0(what, "(CASE WHEN ", finite, " THEN s.ask_1 END)")
  told <- c(
    n = "COUNT(*)", valid = "COUNT(s.ask_1)", rows = rows_with(finite), low = of_finite("MIN"),
    high = of_finite("MAX"),
    parts = rows_with(paste("s.ask_1 <>", fill_sql(site$engine$floor, "s.ask_1"))))
  found <- fetch_grouped(asked, asked$names[-1], told, c("SUM", "SUM", "SUM", "MIN", "MAX", "SUM"))
  check_same_rows(asked, found$told$n)
  found
}

finite_test <- function(x, engine) {
  largest <- number_sql(.Machine$double.xmax, engine)
  paste0(x, " >= -", largest, " AND ", x, " <= ", largest)
}

#' @export
parts_at_site.ableturn_table_site <- function(site, book, node, scale, within = list()) {
  asked <- new_question(site, book, c(list(node), within), numbers = 1)
  as <- paste0("part_", 1:4)
  asked$from <- paste("FROM", number_in_parts(asked, scale, site$engine))
  told <- fetch_grouped(asked, asked$names[-1], setNames(paste0("SUM(s.", as, ")"), as))
  list(keys = told$keys, parts = do.call(cbind, unname(told$told)))
}

# The first column of a question as four whole numbers, in steps of 22 bits.
number_in_parts <- function(asked, scale, engine) {
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
  from
}

#' @export
ranks_at_site.ableturn_table_site <- function(site, book, node, ranks, within = list()) {
  asked <- new_question(site, book, c(list(node), within), numbers = 1)
  if (!is.null(site$shards)) return(ranks_on_shards(asked, ranks))
  keys <- asked$names[-1]
  groups <- paste0("s.", keys, recycle0 = TRUE)
  inner <- c(paste("SELECT", listed_sql(c(groups, "s.ask_1", paste(row_number_sql(groups,
    "s.ask_1"), "AS place")))), asked$from, paste("WHERE", finite_test("s.ask_1", site$engine)))
  found <- fetch_asked(asked, inner, whole = function(from) {
    c(paste("SELECT", listed_sql(c(groups, "s.ask_1", paste(cast_sql("s.place", site$engine$real),
      "AS place"))), "FROM"), from,
    paste0("WHERE s.place IN (", listed_sql(number_sql(ranks + 1, site$engine)), ")"))
  })
  list(keys = asked_values(found, asked, keys), ranks = found$place - 1,
    values = as.double(found$ask_1))
}

row_number_sql <- function(groups, order) {
  by <- if (length(groups)) paste("PARTITION BY", listed_sql(groups), "")
  paste0("ROW_NUMBER() OVER (", by, "ORDER BY ", order, ")")
}

#' @export
products_at_site.ableturn_table_site <- function(site, book, nodes, centre, weight = NULL,
                                                 hint = FALSE, ...) {
  k <- length(nodes)
  asked <- distances_asked(site, book, nodes, centre, weight)
  some <- if (hint) of_hint_rows(asked, info_of(book)$id)
  asked <- some %||% asked
  x <- asked$columns
  pairs <- which(upper.tri(diag(k), diag = TRUE), arr.ind = TRUE)
  each <- c("1.0", x[seq_len(k)], paste(x[pairs[, 1]], "*", x[pairs[, 2]]))
  counted <- if (is.null(weight)) each else paste(x[k + 1], "*", each)
  where <- if (!is.null(weight)) paste("WHERE", x[k + 1], "> 0")
  told <- in_chunks(c("1.0", counted), function(terms) sums_asked(asked, terms, where))
  products <- matrix(0, k, k)
  products[pairs] <- products[pairs[, 2:1, drop = FALSE]] <- told[-seq_len(k + 2)]
  list(rows = told[1], weight = told[2], sums = told[2 + seq_len(k)], products = products,
    some = !is.null(some))
}

#' @export
totals_at_site.ableturn_table_site <- function(site, book, nodes, centre) {
  k <- length(nodes)
  asked <- distances_asked(site, book, nodes, centre, total = TRUE)
  all <- asked$columns
  x <- all[seq_len(k)]
  told <- in_chunks(c("1.0", all, paste(all, "*", all), paste(x, "*", all[k + 1])),
    function(terms) sums_asked(asked, terms, NULL))
  list(rows = told[1], sums = told[1 + seq_len(k)], squares = told[k + 2 + seq_len(k)],
    products = told[2 * k + 3 + seq_len(k)], total = told[c(k + 2, 2 * k + 3)])
}

# The distances of formulas from the numbers `centre`, each worked out once, in the rows that have a
# number in all of them and in the weight; the weight, or the `total` of the distances, comes last.
distances_asked <- function(site, book, nodes, centre, weight = NULL, total = FALSE) {
  asked <- new_question(site, book, c(nodes, weight), numbers = Inf)
  x <- asked$columns
  k <- seq_along(nodes)
  off <- ifelse(centre == 0, x[k], paste0("(", x[k], " - ", number_sql(centre, site$engine), ")"))
  tests <- vapply(x, finite_test, "", engine = site$engine)
  terms <- c(off, x[-k], if (total) paste(off, collapse = " + "))
  if (total) asked$names <- c(asked$names, "ask_total")
  asked$from <- paste0("FROM (SELECT ", listed_sql(paste(terms, "AS", asked$names)), " ",
    asked$from, " WHERE ", paste(tests, collapse = " AND "), " ", site$engine$fence, ") AS s")
  asked$columns <- paste0("s.", asked$names)
  asked
}

# The sums of some terms.
sums_asked <- function(asked, terms, where) {
  told <- setNames(paste0("SUM(", terms, ")"), paste0("sum_", seq_along(terms)))
  unlist(fetch_grouped(asked, character(), told, where = where)$told)
}

# A result has only so many columns: what some code gives for 300 of them after the other.
in_chunks <- function(all, code) {
  as.double(unlist(lapply(in_parts(all), code), use.names = FALSE)) %|% 0
}

in_parts <- function(all, most = 300) unname(split(all, (seq_along(all) - 1) %/% most))
