# Questions about the numbers of a table: means and SDs by exact sums, values at ranks.

# In one pass where a sample tells a number near the mean and how far the others lie; of an original
# as a whole they are told when it is read.
#' @export
moments_at.ableturn_table_site <- function(site, x, keys = list(), weight = NULL, of = NULL) {
  if (!is.null(weight)) return(weighted_moments(site, x, keys, as.name(weight), of))
  known <- if (is.symbol(x) && !length(keys)) column_of(site$variable(as.character(x)))$moments
  known %||% moments_of_groups(numbers_at(site, x, keys))
}

# The moments of groups with a number, and a key in each place.
moments_of_groups <- function(found) {
  found <- of_known_groups(found[c("keys", "rows", "sum", "mean", "sd", "min", "max")])
  some_groups(found, which(found$rows > 0))
}

#' @export
numbers_at.ableturn_table_site <- function(site, x, keys = list()) {
  guess <- sampled_spread(site, x)
  found <- if (!is.null(guess)) sums_asked_once(site, x, keys, guess$centre, guess$scale,
    guess$unit)
  if (!is.null(found)) found else numbers_in_passes(site, x, keys)
}

# From the ends to the sums, and to the squares from each group's own mean.
numbers_in_passes <- function(site, x, keys) {
  ends <- extent_at(site, x, keys)
  some <- ends$rows > 0
  if (!any(some)) return(with_moments(ends, moments_of_parts(ends$rows, ends$low, ends$high,
    matrix(0, length(some), 4), 1, matrix(0, length(some), 4), 1, numeric(length(some)))))
  part <- some_groups(ends, which(some))
  sum_of <- function(node, scale) {
    found <- exact_sums(site, node, scale, keys)
    found$parts[match_keys(ends$keys, found$keys), , drop = FALSE] %|% 0
  }
  scale <- scale_above(c(part$low, part$high))
  sums <- sum_of(x, scale)
  known <- function(squares, unit, centre) {
    moments_of_parts(ends$rows, ends$low, ends$high, sums, scale, squares, unit, centre)
  }
  centre <- known(0 * sums, 1, numeric(length(some)))[, "mean"] %|% 0
  if (all(ends$fractions == 0)) centre <- round(centre)
  unit <- scale_above(c(part$high - centre[some], centre[some] - part$low))
  squares <- sum_of(squares_node(x, centre, ends$keys, keys, unit), 2)
  with_moments(ends, known(squares, unit, centre))
}

with_moments <- function(ends, told) {
  c(ends, as.list(as.data.frame(told))[c("sum", "mean", "sd", "min", "max")])
}

# A number near the mean, and powers of two far above all numbers and their distances from it, by
# the rows that are read first; NULL where these hold no number.
sampled_spread <- function(site, x) {
  question <- of_first_rows(new_question(site, list(x), numbers = 1), 1000)
  finite <- paste("WHERE", finite_test("s.ask_1", site$engine))
  told <- c(n = "COUNT(s.ask_1)", sum = "SUM(s.ask_1 / 1024)", low = "MIN(s.ask_1)",
    high = "MAX(s.ask_1)", whole = paste0("MAX(ABS(s.ask_1 - ", fill_sql(site$engine$floor,
      "s.ask_1"), "))"))
  found <- fetch_grouped(question, character(), told, c("SUM", "SUM", "MIN", "MAX", "MAX"),
    where = finite)$told
  if (!isTRUE(found$n > 0) || !all(abs(c(found$low, found$high)) < 1e100)) return(NULL)
  centre <- signif(found$sum / found$n * 1024, 6)
  if (isTRUE(found$whole == 0)) centre <- round(centre)
  off <- max(found$high - centre, centre - found$low, abs(centre) * 2^-20)
  list(centre = centre, scale = 64 * scale_above(c(found$low, found$high, centre)),
    unit = 64 * scale_above(off))
}

# Ends, sums and squares in one question; NULL where numbers lie beyond what the sample made expect,
# or a group too far from `centre` for its squares to be told from there.
sums_asked_once <- function(site, x, keys, centre, scale, unit) {
  question <- new_question(site, c(list(x), keys), numbers = 1)
  limbs <- with_limbs(question, site$engine, centre, scale, unit)
  question$from <- limbs$from
  found <- fetch_ends(question, c(near = "COUNT(s.value)", close = "COUNT(s.square)", limbs$sums))
  if (any(c(found$told$near, found$told$close) < found$told$rows)) return(NULL)
  parts <- function(which) limbs$parts(found$told, which)
  ends <- c(list(keys = found$keys), found$told[c("n", "valid", "rows", "low", "high",
    "fractions")])
  moments <- moments_of_parts(ends$rows, ends$low, ends$high, parts("value"), scale,
    parts("square"), unit, rep(centre, length(ends$n)))
  if (!all(near_enough_to(centre, moments, ends$fractions))) return(NULL)
  in_order_of_keys(with_moments(ends, moments))
}

# Squares of whole numbers are exact; those of others lose figures where the mean lies far away.
near_enough_to <- function(centre, moments, fractions) {
  off <- abs(moments[, "mean"] - centre)
  exact <- fractions == 0 & centre %% 1 == 0 | moments[, "rows"] < 2
  is.na(off) | exact | off <= 4 * (moments[, "sd"] %|% 0)
}

# The numbers of a question as whole numbers whose sums are exact in any order: the number divided
# by `scale` and the square of its distance from `centre` in `unit`s, each in pieces of so many bits
# as the engine sums exactly. `parts` puts sums back together as moments_of_parts() wants them.
with_limbs <- function(question, engine, centre, scale, unit) {
  number <- function(x) number_sql(x, engine)
  off <- paste0("(s.ask_1 - ", number(centre), ")")
  inside <- function(x, limit) paste0("ABS(", x, ") < ", number(limit))
  value <- case_sql(inside("s.ask_1", scale), paste("s.ask_1 *", number(2^22 / scale)))
  square <- case_sql(inside(off, unit), paste0("(", off, " / ", number(unit), ") * (", off, " / ",
    number(unit), ") * ", number(2^21)))
  keys <- paste0("s.", question$names[-1], recycle0 = TRUE)
  from <- paste0("FROM (SELECT ", listed_sql(c(keys, "s.ask_1", paste(value, "AS value"),
    paste(square, "AS square"))), " ", question$from, " ", engine$fence, ") AS s")
  engine$limbs(from, c(keys, "s.ask_1", "s.value", "s.square"), engine)
}

# Four pieces of 22 bits, taken off one after the other.
limbs_of_22 <- function(from, handed_on, engine) {
  floor_of <- function(x) {
    vapply(x, function(one) fill_sql(engine$floor, one), "", USE.NAMES = FALSE)
  }
  unit <- number_sql(2^22, engine)
  rest <- c(value = "s.value", square = "s.square")
  for (i in 1:4) {
    pieces <- paste(floor_of(rest), "AS", paste0(names(rest), "_", i))
    left <- paste0("(", rest, " - ", floor_of(rest), ") * ", unit, " AS rest_", names(rest))
    from <- paste0("FROM (SELECT ", listed_sql(c(handed_on, pieces, if (i < 4) left)), "\n", from,
      ") AS s")
    handed_on <- c(handed_on, paste0("s.", names(rest), "_", i))
    rest[] <- paste0("s.rest_", names(rest))
  }
  names <- paste0(rep(c("value", "square"), each = 4), "_", 1:4)
  list(from = from, sums = setNames(paste0("SUM(s.", names, ")"), names),
    parts = function(told, which) {
      do.call(cbind, unname(told[paste0(which, "_", 1:4)])) %|% 0
    })
}

# Two pieces of 44 bits, summed as whole numbers of any length; each sum comes in two numbers, so
# that no bit is lost on the way.
limbs_of_44 <- function(from, handed_on, engine) {
  up <- number_sql(2^22, engine)
  high <- function(x) paste0("FLOOR(s.", x, " * ", up, ")")
  rest <- number_sql(2^44, engine)
  low <- function(x) paste0("FLOOR((s.", x, " * ", up, " - ", high(x), ") * ", rest, ")")
  sums <- unlist(lapply(c("value", "square"), function(x) {
    pieces <- paste0("SUM(CAST(", c(high(x), low(x)), " AS BIGINT))")
    setNames(unlist(lapply(pieces, engine$two_numbers)), paste0(x, "_", 1:4))
  }))
  list(from = from, sums = sums, parts = function(told, which) {
    got <- do.call(cbind, unname(told[paste0(which, "_", 1:4)])) %|% 0
    got[, c(1, 3)] <- got[, c(1, 3)] * 2^18
    got
  })
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

# Its exact sum in each group. `scale`, a power of two, is not below any number in size. Each number
# becomes four whole numbers of 22 bits, whose sums are exact in any order; these come back.
exact_sums <- function(site, node, scale, keys) {
  question <- new_question(site, c(list(node), keys), numbers = 1)
  as <- paste0("part_", 1:4)
  question$from <- paste("FROM", number_in_parts(question, scale, site$engine))
  told <- fetch_grouped(question, question$names[-1], setNames(paste0("SUM(s.", as, ")"), as))
  list(keys = told$keys, parts = do.call(cbind, unname(told$told)))
}

# The first column of a question as four whole numbers, in steps of 22 bits.
number_in_parts <- function(question, scale, engine) {
  keys <- question$names[-1]
  floor_of <- function(x) fill_sql(engine$floor, x)
  unit <- number_sql(2^22, engine)
  from <- paste0("(SELECT ", listed_sql(c(paste0("s.", keys, recycle0 = TRUE),
    paste("s.ask_1 *", number_sql(2^22 / scale, engine), "AS rest"))), " ", question$from,
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
  known <- rows_known(site, x, keys) %||% extent_at(site, x, keys)
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

# How many numbers an original holds, where that was told when it was read.
rows_known <- function(site, x, keys) {
  variable <- if (is.symbol(x) && !length(keys)) site$variable(as.character(x))
  if (is.null(variable) || is_made(variable)) return(NULL)
  long <- column_of(variable)$long
  if (!is.null(long) && !long$infinite) list(keys = list(), rows = facts_of(variable)$valid)
}

# The finite numbers at some ranks, from 0, in each group.
values_at_whole_ranks <- function(site, x, ranks, keys) {
  question <- new_question(site, c(list(x), keys), numbers = 1)
  if (!is.null(site$shards)) return(ranks_on_shards(question, ranks))
  keys <- question$names[-1]
  groups <- paste0("s.", keys, recycle0 = TRUE)
  inner <- c(paste("SELECT", listed_sql(c(groups, "s.ask_1", paste(row_number_sql(groups,
    "s.ask_1"), "AS place")))), question$from, paste("WHERE", finite_test("s.ask_1", site$engine)))
  found <- fetch_asked(question, inner, whole = function(from) {
    c(paste("SELECT", listed_sql(c(groups, "s.ask_1", paste(cast_sql("s.place", site$engine$real),
      "AS place"))), "FROM"), from,
    paste0("WHERE s.place IN (", listed_sql(number_sql(ranks + 1, site$engine)), ")"))
  })
  list(keys = asked_values(found, question, keys), ranks = found$place - 1,
    values = as.double(found$ask_1))
}
