# Results of a table that follow from fewer questions than their values would need. Each plan gives
# an outcome, see work_out(), or NULL where the result is of another kind.
outcome_by_plan <- function(out, sources, site, draft, at) {
  if (is_row_node(out$expr)) return(score_of_whole_items(out, sources, site, draft, at))
  if (length(sources) == 1) {
    return(outcome_by_stretches(out, sources[[1]], site, draft, at) %||%
      outcome_in_line(out, sources, site, draft, at))
  }
  outcome_in_line(out, sources, site, draft, at)
}

# A mean or a sum of items whose answers are whole numbers: by the number of valid items and their
# total, with the sums of each item and of its square, everything is told at once.
score_of_whole_items <- function(out, sources, site, draft, at) {
  options <- as.list(out$expr)[intersect(names(out$expr), row_options)]
  nodes <- row_items(out$expr)
  if (!call_head(out$expr) %in% c("row_mean", "row_sum") || !is.null(options$weights) ||
    !all(vapply(nodes, is_plain_item, NA)) || !are_whole_items(sources, site$rows)) return(NULL)
  total <- as.call(c(list(as.name("row_sum")), nodes, list(at_least = 1)))
  found <- counts_at(at, list(valid_node(out$expr), total), sums = c(nodes,
    lapply(nodes, function(node) call("*", node, node))))
  k <- length(nodes)
  valid <- as.integer(found$keys[[1]])
  scored <- valid >= (options$at_least %||% k)
  x <- replace(score_from_total(found$keys[[2]], valid, k, call_head(out$expr), options), !scored,
    NA)
  keys <- list(value = x, reason = ifelse(scored, NA, 1))
  outcome <- few_outcome(site, draft, keys, found$rows)
  outcome[c("keys", "counted")] <- NULL
  outcome$with <- rows_at_places(valid + 1L, k + 1L, found$rows)
  if (out$scale) outcome$sums <- sums_of_complete(found, valid == k, k)
  outcome
}

is_plain_item <- function(node) is.symbol(node) || is_turned_node(node) && node[[2]] %% 1 == 0

# Whole numbers so small that the sums of their squares are exact.
are_whole_items <- function(sources, rows) {
  all(vapply(sources, function(source) {
    value_type(source) == "number" && has_whole_values(source)
  }, NA)) && rows * length(sources) * max(0, vapply(sources, function(source) {
    facts <- facts_of(source)
    4 * max(abs(c(facts$low, facts$high)), 1, na.rm = TRUE)^2
  }, 0)) < 2^53
}

# As the formula has it in SQL.
score_from_total <- function(total, valid, k, head, options) {
  x <- if (head == "row_mean") total / valid else if (isTRUE(options$prorate)) total *
    (k / valid) else total
  if (is.null(options$digits)) x else rounded(x, options$digits, options$half %||% "even")
}

# What item_sums() tells, from the groups of rows that have all items. Each item is measured from a
# number near its mean, as sums of small numbers keep their figures.
sums_of_complete <- function(found, complete, k) {
  rows <- found$rows[complete]
  n <- sum(rows)
  total <- found$keys[[2]][complete]
  sums <- found$sums[complete, seq_len(k), drop = FALSE]
  centre <- round(colSums(sums) / max(n, 1))
  off <- sums - outer(rows, centre)
  square <- colSums(found$sums[complete, k + seq_len(k), drop = FALSE]) -
    2 * centre * colSums(sums) + n * centre^2
  total <- total - sum(centre)
  told_item_sums(n, colSums(off), square, colSums(off * total), sum(rows * total),
    sum(rows * total^2))
}

# A formula that only compares a long number with points gives the same between two of them: the
# rows of each stretch are counted, and the formula is worked out once for each.
outcome_by_stretches <- function(out, source, site, draft, at) {
  points <- compared_with(out$expr, source$name)
  column <- column_of(source)
  if (!length(points) || length(points) > 200 || value_type(source) != "number") return(NULL)
  probes <- stretch_values(points)
  if (is.null(probes)) return(NULL)
  found <- extent_at(at, as.name(source$name), list(reason_node(source$name),
    stretch_node(as.name(source$name), points)))
  why <- as.integer(found$keys[[1]])
  place <- as.integer(found$keys[[2]])
  small <- reasoned_column(probes[place], why, column$kinds)
  near <- site_of_columns(setNames(list(small), source$name), setNames(list(source), source$name),
    as_row_counts(found$n))
  own <- work_out_at(near, out, lapply(setNames(nm = source$name), near$variable))
  codes <- rep(NA_real_, length(own$x))
  codes[is.na(own$x)] <- match(own$kinds[own$why], draft$kinds)
  outcome <- few_outcome(site, draft, list(value = own$x, reason = codes), found$n)
  outcome[c("keys", "counted")] <- NULL
  outcome$branch <- own$branch
  outcome$points <- also_knowing(near, setNames(list(result_in(own, out)), out$name))
  outcome
}

# In which stretch a number lies: below, on and between the points, counted from 1.
stretch_node <- function(x, points) {
  pairs <- unlist(lapply(seq_along(points), function(i) {
    list(call("<", x, points[i]), 2 * i - 1, call("==", x, points[i]), 2 * i)
  }), recursive = FALSE)
  as.call(c(list(as.name("choose")), pairs, list(2 * length(points) + 1)))
}

# A long number times something, and something more, both the same for all rows or for all of a
# group: its ends follow from those of its source, and it is missing where that is.
outcome_in_line <- function(out, sources, site, draft, at) {
  line <- straight_line(out$expr, sources)
  if (is.null(line) || out$codes || !out$carry && length(sources) == 1) return(NULL)
  source <- sources[[line$of]]
  known <- if (length(line$within)) moments_at(at, as.name(line$of), lapply(line$within,
    as.name)) else as.list(facts_of(source))[c("low", "high")]
  low <- if (length(line$within)) known$min else known$low
  high <- if (length(line$within)) known$max else known$high
  if (!length(low) || isTRUE(column_of(source)$long$infinite)) return(NULL)
  ends <- lapply(list(low, high), value_at_end, out = out, line = line, keys = known$keys,
    sources = sources)
  if (!all(is.finite(unlist(ends)))) return(NULL)
  line_outcome(out, sources, site, draft, line, known, ends)
}

# The variable that a formula is a line of, and those that tell its groups; NULL where it is none.
straight_line <- function(expr, sources) {
  names <- formula_vars(expr)
  of <- Filter(function(name) {
    !is.null(column_of(sources[[name]])$long) && value_type(sources[[name]]) == "number"
  }, names)
  if (length(of) != 1 || !is_line(expr, of)) return(NULL)
  within <- setdiff(names, of)
  if (any(vapply(sources[within], function(one) is.null(cells_of(one)), NA))) return(NULL)
  list(of = of, within = within)
}

# Plus, minus, times and divided by what does not depend on the variable.
is_line <- function(node, of) {
  if (is.symbol(node)) return(identical(as.character(node), of))
  if (!is.call(node)) return(FALSE)
  inside <- vapply(as.list(node)[-1], function(part) of %in% all.vars(part), NA)
  head <- call_head(node)
  if (sum(inside) != 1 || !head %in% c("+", "-", "*", "/", "(")) return(FALSE)
  if (head == "/" && !inside[1]) return(FALSE)
  others <- as.list(node)[-1][!inside]
  is_line(as.list(node)[-1][[which(inside)]], of) && all(vapply(others, function(part) {
    is.numeric(part) && length(part) == 1 || is_lookup(part)
  }, NA))
}

# The result at one end of its source, in each group.
value_at_end <- function(x, out, line, keys, sources) {
  groups <- Map(function(name, values) {
    new_column(as_column(values, column_of(sources[[name]])$x))
  }, line$within, keys[seq_along(line$within)])
  columns <- c(setNames(list(new_column(as.double(x))), line$of), setNames(groups, line$within))
  at <- site_of_columns(columns, sources[names(columns)], rep(1L, length(x)))
  as.double(evaluate_column(out$expr, at)$x)
}

line_outcome <- function(out, sources, site, draft, line, known, ends) {
  source <- column_of(sources[[line$of]])
  valid <- if (length(line$within)) sum(known$rows) else facts_of(source)$valid
  facts <- facts_of_column(numeric())
  facts[c("valid", "few", "low", "high", "negatives")] <- list(valid, FALSE, min(unlist(ends)),
    max(unlist(ends)), 21L)
  single <- length(sources) == 1
  missing <- if (single) source$long$rows else as_row_counts(site$rows - valid)
  kinds <- if (single) source$kinds else "a source is missing"
  use <- missing > 0
  column <- long_column(draft$x, kinds[use], missing[use], site$rows, FALSE)
  c(column, list(facts = facts, missing = counts_by_kind(missing[use], kinds[use]),
    lacking = if (!single) lapply(sources, missing_of)))
}
