# Questions put to a table: formulas become columns of a query, and counts and sums of these come
# back, see ask-site.R.

#' @export
counts_at.ableturn_table_site <- function(site, keys = list(), where = NULL, most = Inf,
                                          sums = list(), frequent = FALSE, sample = FALSE,
                                          likely = FALSE, ...) {
  question <- new_question(site, c(keys, sums), where)
  if (sample) question <- of_hint_rows(question) %||% question
  k <- seq_along(keys)
  if (!frequent && surely_more(question, most, k) || likely && likely_more(question)) return(NULL)
  summed <- question$columns[length(keys) + seq_along(sums)]
  told <- c(n = "COUNT(*)", setNames(paste0("SUM(", summed, ")", recycle0 = TRUE),
    paste0("sum_", seq_along(sums), recycle0 = TRUE)))
  enough <- if (is.finite(most)) paste("LIMIT", number_sql(most + !frequent, site$engine))
  found <- if (frequent) fetch_grouped(question, question$names[k], told,
    whole_last = c("ORDER BY n DESC", enough), last = NULL) else
    fetch_grouped(question, question$names[k], told, last = enough)
  rows <- found$told$n
  if (length(rows) > most) return(NULL)
  if (!frequent || length(rows) < most) check_same_rows(question, rows)
  sums <- do.call(cbind, found$told[-1])
  some <- rows > 0
  in_order_of_keys(some_groups(list(keys = found$keys, rows = rows,
    sums = if (is.null(sums)) matrix(0, length(rows), 0) else unname(sums)), which(some)))
}

# Whether rows that are read first hold more than `most` answers already: then the others, if they
# are far more, need not be gone through.
surely_more <- function(question, most, keys = seq_along(question$names)) {
  first <- max(1000, ceiling(1.25 * most))
  site <- question$site
  if (!length(keys) || !is.null(site$shards) || site$rows < 12 * first) return(FALSE)
  distinct_first(question, first, keys) > most
}

# Whether each second row brings something new.
likely_more <- function(question) {
  question$site$rows > 20000 && distinct_first(question, 2000) > 1000
}

# How many different answers the rows hold that are read first; on shards, of the one with most.
distinct_first <- function(question, rows, keys = seq_along(question$names)) {
  part <- of_first_rows(question, rows)
  met <- paste(c("SELECT DISTINCT", listed_sql(paste(part$columns, "AS", part$names)[keys]),
    part$from), collapse = " ")
  real <- question$site$engine$real
  fetch_asked(part, paste0("SELECT ", cast_sql("COUNT(*)", real), " AS n FROM (", met, ") AS s"),
    c(n = real), function(from) paste("SELECT MAX(s.n) AS n FROM", from))$n
}

#' @export
repeats_at.ableturn_table_site <- function(site, keys) {
  question <- new_question(site, keys)
  told <- paste(question$columns, "IS NOT NULL", collapse = " AND ")
  repeated <- c(paste("SELECT", listed_sql(c(paste(question$columns, "AS", question$names),
    paste(cast_sql("COUNT(*) - 1", site$engine$real), "AS more")))), question$from,
  paste("WHERE", told), paste("GROUP BY", listed_sql(question$columns)), "HAVING COUNT(*) > 1")
  types <- setNames(c(question$types, site$engine$real), c(question$names, "more"))
  ask <- function(whole) fetch_asked(question, repeated, types, whole)
  order <- listed_sql(paste0("s.", question$names))
  first <- ask(function(from) paste("SELECT * FROM", from, "ORDER BY", order, "LIMIT 1"))
  if (!nrow(first)) return(NULL)
  rows <- ask(function(from) paste("SELECT SUM(s.more) AS n FROM", from))$n
  list(values = asked_values(first, question), rows = rows)
}

# Where the occasions are few, their places are compared; else they are put in order there.
#' @export
steps_at.ableturn_table_site <- function(site, order, unit, occasions) {
  near <- site_near(site, c(order, unit))
  if (!is.null(near)) return(steps_at(near, order, unit, occasions))
  if (length(occasions) <= site$most) {
    place <- lookup_node(as.double(seq_along(occasions)), setNames(list(occasions), order))
    before <- call("previous", place, unit = as.name(unit), order = as.name(order))
    if (is.character(occasions)) before$steps <- occasions
    return(rows_where(site, call(">", call("-", place, before), 1)))
  }
  site$shards <- NULL # the occasions are those of all servers together
  question <- new_question(site, list(as.name(order), as.name(unit)))
  placed <- c("(SELECT s.ask_2, DENSE_RANK() OVER (ORDER BY s.ask_1) AS place", question$from,
    "WHERE s.ask_1 IS NOT NULL) AS s")
  steps <- c("(SELECT s.place - LAG(s.place) OVER (PARTITION BY s.ask_2 ORDER BY s.place) AS step",
    "FROM", placed, "WHERE s.ask_2 IS NOT NULL) AS s")
  fetch_asked(question, c("SELECT", count_sql(site$engine), "AS n FROM", steps,
    "WHERE s.step > 1"))$n
}

# Where both span few cells, these are compared; else the rows there.
#' @export
differ_at.ableturn_table_site <- function(site, a, b, exact, ...) {
  nodes <- lapply(list(a, b), as_node)
  both <- if (all(vapply(nodes, is.symbol, NA))) {
    columns_in_cells(lapply(nodes, function(node) column_of(site$variable(as.character(node)))))
  }
  if (!is.null(both)) {
    x <- both$columns[[1]]$x
    y <- both$columns[[2]]$x
    rows <- rows_that_differ(x, y)
    return(list(differ = sum(both$times[rows]),
      only_missing = sum(both$times[rows[is.na(x[rows]) != is.na(y[rows])]])))
  }
  question <- new_question(site, nodes)
  columns <- question$columns
  gone <- paste(columns, "IS NULL")
  alone <- paste0("(", gone[1], " AND NOT ", gone[2], " OR NOT ", gone[1], " AND ", gone[2], ")")
  told <- sums_asked(question, c(unlike_sql(columns[1], columns[2], exact, site$engine),
    case_sql(alone, "1", "0")), NULL)
  told <- told %|% 0
  list(differ = told[1], only_missing = told[2])
}

# What is known of variables tells most apart. Of the others numbers are compared as they came in
# the rows that are read first, all in one statement; of what is no number, its kind is compared.
# Truth values are numbers that only their terms can compare.
#' @export
look_alike.ableturn_table_site <- function(site, name, names) {
  result <- site$variable(name)
  names <- Filter(function(other) !known_apart(result, other, site), names)
  like <- lapply(names, function(other) site$columns[[other]] %||% site$variable(other)$x)
  reckoned <- function(x) is.numeric(x) || is.logical(x)
  alike <- vapply(like, reckoned, NA) == reckoned(result$x)
  compared <- which(alike & is.numeric(result$x) & vapply(like, is.numeric, NA))
  nodes <- lapply(names[compared], function(other) {
    if (is.null(site$columns[[other]])) as.name(other) else as_it_came(other)
  })
  rows <- unlike_first(site, as.name(name), nodes, exact = FALSE, one_way = TRUE)
  alike[compared[which(rows > 0)]] <- FALSE
  names[alike]
}

# Of one that a turn made something is known; an original would be read for it.
known_apart <- function(result, other, site) {
  if (!is.null(site$columns[[other]])) return(FALSE)
  facts <- site$variable(other)$facts
  !is.null(facts) && !same_facts(result$facts, facts)
}

#' @export
seem_equal.ableturn_table_site <- function(site, a, b, exact) {
  unlike_first(site, as_node(a), list(as_node(b)), exact) %in% 0
}

# In how many of the rows that are read first some formulas differ from one; of what cannot be asked
# about, in NA. `one_way`: rows in which that one is missing do not count.
unlike_first <- function(site, node, others, exact, one_way = FALSE) {
  one_by_one <- function(e) {
    if (length(others) < 2) return(NA_real_)
    as.double(lapply(others, function(other) {
      unlike_first(site, node, list(other), exact, one_way)
    }))
  }
  tryCatch(in_chunks(others, function(others) {
    question <- of_first_rows(new_question(site, c(node, others)), 1000)
    columns <- question$columns
    sums_asked(question, unlike_sql(columns[-1], columns[1], exact, site$engine, one_way), NULL)
  }), ableturn_error_sql_refused = one_by_one)
}

# 1 for rows in which a column differs from another, `b`, else 0; `one_way`: 0 too where that is
# missing. Numbers so large that engines stop at their difference are never near. One text for each
# of several columns `a`.
unlike_sql <- function(a, b, exact, engine, one_way = FALSE) {
  gone <- cbind(paste(a, "IS NULL"), paste(b, "IS NULL"))
  size <- list(paste0("ABS(", a, ")"), paste0("ABS(", b, ")"))
  held <- paste("<", number_sql(1e150, engine))
  near <- paste0("ABS(", a, " - ", b, ") <= ", number_sql(1e-12, engine), " * CASE WHEN ",
    size[[1]], " > ", size[[2]], " THEN ", size[[1]], " ELSE ", size[[2]], " END")
  differ <- if (exact) "1" else paste0("CASE WHEN NOT (", size[[1]], " ", held, " AND ", size[[2]],
    " ", held, ") THEN 1 WHEN ", near, " THEN 0 ELSE 1 END")
  paste0("CASE WHEN ", if (one_way) gone[, 2] else paste(gone[, 1], "AND", gone[, 2]),
    " THEN 0 WHEN ", gone[, 1], " OR ", gone[, 2], " THEN 1 WHEN ", a, " = ", b, " THEN 0 ELSE ",
    differ, " END")
}

# The sums of some terms.
sums_asked <- function(question, terms, where) {
  told <- setNames(paste0("SUM(", terms, ")"), paste0("sum_", seq_along(terms)))
  unlist(fetch_grouped(question, character(), told, where = where)$told)
}
