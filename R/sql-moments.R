# Questions about the numbers of a table: ends, means and SDs by exact sums, values at ranks.

#' @export
extent_at.ableturn_table_site <- function(site, x, keys = list()) {
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
  ends <- of_known_groups(extent_at(site, x, keys))
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
  known <- extent_at(site, x, keys)
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
