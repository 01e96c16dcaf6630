# Questions put to a table: formulas become columns of a query, and counts and sums of these come
# back, see ask-site.R.

#' @export
counts.ableturn_table_site <- function(site, keys = list(), where = NULL, most = Inf, sums = list(),
                                       frequent = FALSE, sample = FALSE, ...) {
  asked <- new_question(site, c(keys, sums), where)
  if (sample) asked <- of_hint_rows(asked) %||% asked
  k <- seq_along(keys)
  if (!frequent && surely_more(asked, most, k)) return(NULL)
  told <- c(n = "COUNT(*)", setNames(paste0("SUM(", asked$columns[length(keys) + seq_along(sums)],
    ")", recycle0 = TRUE), paste0("sum_", seq_along(sums), recycle0 = TRUE)))
  enough <- if (is.finite(most)) paste("LIMIT", number_sql(most + !frequent, site$engine))
  found <- if (frequent) fetch_grouped(asked, asked$names[k], told,
    whole_last = c("ORDER BY n DESC", enough), last = NULL) else
    fetch_grouped(asked, asked$names[k], told, last = enough)
  rows <- found$told$n
  if (length(rows) > most) return(NULL)
  if (!frequent || length(rows) < most) check_same_rows(asked, rows)
  sums <- do.call(cbind, found$told[-1])
  some <- rows > 0
  in_order_of_keys(some_groups(list(keys = found$keys, rows = rows,
    sums = if (is.null(sums)) matrix(0, length(rows), 0) else unname(sums)), which(some)))
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
surely_more <- function(asked, most, keys = seq_along(asked$names)) {
  first <- max(1000, ceiling(1.25 * most))
  site <- asked$site
  if (!length(keys) || !is.null(site$shards) || site$rows < 12 * first) return(FALSE)
  part <- of_first_rows(asked, first)
  met <- paste(c("SELECT DISTINCT", listed_sql(paste(part$columns, "AS", part$names)[keys]),
    part$from), collapse = " ")
  fetch_asked(part, paste0("SELECT COUNT(*) AS n FROM (", met, ") AS s"))$n > most
}

count_groups <- function(asked, last, whole_last = last) {
  fetch_grouped(asked, asked$names, c(n = "COUNT(*)"), last = last, whole_last = whole_last)
}

#' @export
repeats_at.ableturn_table_site <- function(site, keys) {
  asked <- new_question(site, keys)
  told <- paste(asked$columns, "IS NOT NULL", collapse = " AND ")
  repeated <- c(paste("SELECT", listed_sql(c(paste(asked$columns, "AS", asked$names),
    paste(cast_sql("COUNT(*) - 1", site$engine$real), "AS more")))), asked$from,
  paste("WHERE", told), paste("GROUP BY", listed_sql(asked$columns)), "HAVING COUNT(*) > 1")
  types <- setNames(c(asked$types, site$engine$real), c(asked$names, "more"))
  ask <- function(whole) fetch_asked(asked, repeated, types, whole)
  first <- ask(function(from) paste("SELECT * FROM", from, "ORDER BY", listed_sql(paste0("s.",
    asked$names)), "LIMIT 1"))
  if (!nrow(first)) return(NULL)
  rows <- ask(function(from) paste("SELECT SUM(s.more) AS n FROM", from))$n
  list(values = asked_values(first, asked), rows = rows)
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
  asked <- new_question(site, list(as.name(order), as.name(unit)))
  placed <- c("(SELECT s.ask_2, DENSE_RANK() OVER (ORDER BY s.ask_1) AS place", asked$from,
    "WHERE s.ask_1 IS NOT NULL) AS s")
  steps <- c("(SELECT s.place - LAG(s.place) OVER (PARTITION BY s.ask_2 ORDER BY s.place) AS step",
    "FROM", placed, "WHERE s.ask_2 IS NOT NULL) AS s")
  fetch_asked(asked, c("SELECT", count_sql(site$engine), "AS n FROM", steps,
    "WHERE s.step > 1"))$n
}

# Where both span few cells, these are compared; else the rows there.
#' @export
differ_at.ableturn_table_site <- function(site, a, b, exact, ...) {
  columns <- lapply(c(a, b), function(name) column_of(site$variable(name)))
  both <- columns_in_cells(columns)
  if (!is.null(both)) {
    x <- both$columns[[1]]$x
    y <- both$columns[[2]]$x
    rows <- rows_that_differ(x, y)
    return(list(differ = sum(both$times[rows]),
      only_missing = sum(both$times[rows[is.na(x[rows]) != is.na(y[rows])]])))
  }
  asked <- new_question(site, list(as.name(a), as.name(b)))
  columns <- asked$columns
  gone <- paste(columns, "IS NULL")
  alone <- paste0("(", gone[1], " AND NOT ", gone[2], " OR NOT ", gone[1], " AND ", gone[2], ")")
  told <- sums_asked(asked, c(unlike_sql(columns[1], columns[2], exact, site$engine),
    case_sql(alone, "1", "0")), NULL)
  told <- told %|% 0
  list(differ = told[1], only_missing = told[2])
}

# Those of some variables that are the same as one in all rows that are read first; what cannot be
# asked about is none of them.
#' @export
seem_equal.ableturn_table_site <- function(site, name, others, exact) {
  one_by_one <- function(e) {
    if (length(others) > 1) unlist(lapply(others, seem_equal, site = site, name = name,
      exact = exact))
  }
  tryCatch({
    unlike <- in_chunks(others, function(others) {
      asked <- of_first_rows(new_question(site, lapply(c(name, others), as.name)), 1000)
      unlike <- vapply(asked$columns[-1], unlike_sql, "", asked$columns[1], exact, site$engine)
      sums_asked(asked, unlike, NULL)
    })
    others[unlike == 0]
  }, ableturn_error_sql_refused = one_by_one)
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
extent.ableturn_table_site <- function(site, x, keys = list()) {
  asked <- new_question(site, c(list(x), keys), numbers = 1)
  finite <- finite_test("s.ask_1", site$engine)
  rows_with <- function(test) paste0("SUM(CASE WHEN ", test, " THEN 1 ELSE 0 END)")
  of_finite <- function(what) paste0(what, "(CASE WHEN ", finite, " THEN s.ask_1 END)")
  told <- c(
    n = "COUNT(*)", valid = "COUNT(s.ask_1)", rows = rows_with(finite), low = of_finite("MIN"),
    high = of_finite("MAX"),
    fractions = rows_with(paste("s.ask_1 <>", fill_sql(site$engine$floor, "s.ask_1"))))
  found <- fetch_grouped(asked, asked$names[-1], told, c("SUM", "SUM", "SUM", "MIN", "MAX", "SUM"))
  check_same_rows(asked, found$told$n)
  found$told$rows <- found$told$rows %|% 0
  found$told$fractions <- found$told$fractions %|% 0
  in_order_of_keys(c(list(keys = found$keys), found$told))
}

# The squares are those of the distances from a number near the mean, for whole numbers a whole one.
#' @export
moments_at.ableturn_table_site <- function(site, x, keys = list(), weight = NULL, of = NULL) {
  if (!is.null(weight)) return(weighted_moments(site, x, keys, as.name(weight), of))
  ends <- of_known_groups(extent(site, x, keys))
  some <- which(ends$rows > 0)
  if (!length(some)) return(no_moments(keys))
  ends <- some_groups(ends, some)
  sum_of <- function(node, scale) {
    found <- exact_sums(site, node, scale, keys)
    found$parts[match_keys(ends$keys, found$keys), , drop = FALSE]
  }
  scale <- scale_above(c(ends$low, ends$high))
  sums <- sum_of(x, scale)
  known <- function(squares, unit, centre) {
    moments_of_parts(ends$rows, ends$low, ends$high, sums, scale, squares, unit, centre)
  }
  centre <- known(0 * sums, 1, 0 * ends$low)[, "mean"]
  if (all(ends$fractions == 0)) centre <- round(centre)
  unit <- scale_above(c(ends$high - centre, centre - ends$low))
  squares <- sum_of(squares_node(x, centre, ends$keys, keys, unit), 2)
  told <- as.data.frame(known(squares, unit, centre))
  c(list(keys = ends$keys), as.list(told))
}

weighted_moments <- function(site, x, keys, weight, of) {
  x <- call("choose", call(">", weight, 0), x)
  w <- call("choose", finite_node(x), weight)
  known <- moments_at(site, x, keys)
  sum_of <- function(node) {
    found <- moments_at(site, node, keys)
    at <- match_keys(known$keys, found$keys)
    # what is endless is no number there
    if (anyNA(at) || !length(found$rows)) fail("numbers-extreme", of = formula_text(x[[3]]))
    found$sum[at]
  }
  if (!length(known$rows)) return(known)
  known$sum <- sum_of(call("*", w, x))
  total <- sum_of(w)
  known$mean <- known$sum / total
  if (!is.null(of) && !"sd" %in% of) return(known)
  off <- squares_node(x, known$mean, known$keys, keys)
  n <- known$rows
  known$sd <- ifelse(n < 2, NA_real_, sqrt(sum_of(call("*", w, off)) / (total * (n - 1) / n)))
  known
}

# The square of the distance from a number, or from the one of its group, measured in some unit.
squares_node <- function(node, centre, values, keys, unit = 1) {
  from <- number_of_group(centre, values, vapply(keys, group_name, ""))
  off <- call("-", node, from)
  if (unit != 1) off <- call("/", off, unit)
  call("*", off, off)
}

group_name <- function(node) if (is.symbol(node)) as.character(node) else formula_text(node)

# The least power of two above some numbers in size.
scale_above <- function(x) {
  largest <- max(abs(x), na.rm = TRUE)
  if (largest == 0) 1 else 2^min(1023, max(-900, floor(log2(largest)) + 1))
}

finite_test <- function(x, engine) {
  largest <- number_sql(.Machine$double.xmax, engine)
  paste0(x, " >= -", largest, " AND ", x, " <= ", largest)
}

# Its exact sum in each group. `scale`, a power of two, is not below any number in size. Each number
# becomes four whole numbers of 22 bits, whose sums are exact in any order; these come back.
exact_sums <- function(site, node, scale, keys) {
  asked <- new_question(site, c(list(node), keys), numbers = 1)
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

# Quantiles of type 7, as plain_quantiles() has them, from the values at whole ranks.
#' @export
ranks_at.ableturn_table_site <- function(site, x, shares, keys = list(), weight = NULL) {
  if (!is.null(weight)) fail("weighted-ranks", what = formula_text(x))
  known <- extent(site, x, keys)
  known <- some_groups(known, which(known$rows > 0))
  if (!length(known$rows)) return(list(keys = known$keys, values = matrix(0, 0, length(shares))))
  place <- outer(known$rows - 1, shares)
  ranks <- sort(unique(c(floor(place), ceiling(place))))
  found <- values_at_whole_ranks(site, x, ranks, keys)
  at <- function(rank) {
    found$values[match_keys(c(lapply(known$keys, rep, length(shares)), list(as.double(rank))),
      c(found$keys, list(found$ranks)))]
  }
  low <- at(floor(place))
  high <- at(ceiling(place))
  part <- as.double(place - floor(1 + place) + 1)
  values <- ifelse(low == high, low, (1 - part) * low + part * high)
  list(keys = known$keys, values = matrix(values, length(known$rows)))
}

# The finite numbers at some ranks, from 0, in each group.
values_at_whole_ranks <- function(site, x, ranks, keys) {
  asked <- new_question(site, c(list(x), keys), numbers = 1)
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
products_at.ableturn_table_site <- function(site, xs, weight = NULL, total = FALSE,
                                            pairwise = FALSE, sample = FALSE, ...) {
  if (total) return(totals_of_items(site, xs))
  w <- if (!is.null(weight)) as.name(weight)
  if (pairwise) return(products_by_pairs(site, xs, w))
  products_of(site, xs, w, sample)
}

# Covariances over the rows that have a number in all of some formulas, and the means there. With a
# weight, of those that count.
products_of <- function(site, xs, w = NULL, sample = FALSE) {
  centre <- centres_of(xs, site)
  told <- products_asked(site, xs, centre, w, sample)
  n <- told$rows
  cov <- (told$products - tcrossprod(told$sums) / told$weight) / (told$weight * (n - 1) / n)
  list(complete = n, cov = cov, mean = centre + told$sums / told$weight)
}

products_by_pairs <- function(site, xs, w) {
  k <- length(xs)
  cov <- matrix(0, k, k)
  for (i in seq_len(k)) for (j in seq_len(i)) {
    pair <- products_of(site, xs[unique(c(i, j))], w)$cov
    cov[i, j] <- cov[j, i] <- pair[1, ncol(pair)]
  }
  list(cov = cov, complete = products_of(site, xs, w)$complete)
}

# The variances of some formulas, their covariances with the total, and its variance, over the rows
# that have all.
totals_of_items <- function(site, xs) {
  told <- totals_asked(site, xs, centres_of(xs, site))
  n <- told$rows
  total <- told$total[1]
  list(complete = n, own = (told$squares - told$sums^2 / n) / (n - 1),
    with_total = (told$products - told$sums * total / n) / (n - 1),
    total = (told$total[2] - total^2 / n) / (n - 1))
}

# A whole number between the ends of each variable, so that distances from it stay whole.
centres_of <- function(xs, site) {
  vapply(xs, function(node) {
    if (!is.symbol(node)) return(0)
    facts <- facts_of(site$variable(as.character(node)))
    middle <- round((facts$low + facts$high) / 2)
    if (is.finite(middle)) middle else 0
  }, 0)
}

# How many `rows` there are, the `sums` of the distances from the numbers `centre`, and of their
# `products`, two by two; each row counts with its weight, whose sum is `weight`.
products_asked <- function(site, nodes, centre, weight, sample) {
  k <- length(nodes)
  asked <- distances_asked(site, nodes, centre, weight)
  if (sample) asked <- of_hint_rows(asked) %||% asked
  x <- asked$columns
  pairs <- which(upper.tri(diag(k), diag = TRUE), arr.ind = TRUE)
  each <- c("1.0", x[seq_len(k)], paste(x[pairs[, 1]], "*", x[pairs[, 2]]))
  counted <- if (is.null(weight)) each else paste(x[k + 1], "*", each)
  where <- if (!is.null(weight)) paste("WHERE", x[k + 1], "> 0")
  told <- in_chunks(c("1.0", counted), function(terms) sums_asked(asked, terms, where))
  products <- matrix(0, k, k)
  products[pairs] <- products[pairs[, 2:1, drop = FALSE]] <- told[-seq_len(k + 2)]
  list(rows = told[1], weight = told[2], sums = told[2 + seq_len(k)], products = products)
}

# The same rows and distances, with the total of these in each row: `rows`, the `sums`, their
# `squares` and `products` with the total, and `total`, its own sum and square.
totals_asked <- function(site, nodes, centre) {
  k <- length(nodes)
  asked <- distances_asked(site, nodes, centre, total = TRUE)
  all <- asked$columns
  x <- all[seq_len(k)]
  told <- in_chunks(c("1.0", all, paste(all, "*", all), paste(x, "*", all[k + 1])),
    function(terms) sums_asked(asked, terms, NULL))
  list(rows = told[1], sums = told[1 + seq_len(k)], squares = told[k + 2 + seq_len(k)],
    products = told[2 * k + 3 + seq_len(k)], total = told[c(k + 2, 2 * k + 3)])
}

# The distances of formulas from the numbers `centre`, each worked out once, in the rows that have a
# number in all of them and in the weight; the weight, or the `total` of the distances, comes last.
distances_asked <- function(site, nodes, centre, weight = NULL, total = FALSE) {
  asked <- new_question(site, c(nodes, weight), numbers = Inf)
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
