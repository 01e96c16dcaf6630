# Questions about numbers, answered in memory by the kernels in src/.

#' @export
extent_at.ableturn_memory <- function(site, x, keys = list()) {
  x <- as.double(number_column(site, x))
  columns <- lapply(unname(keys), key_column, site = site)
  groups <- groups_among(columns, site$rows)
  each <- as.double(site$times %||% rep(1, site$rows))
  finite <- is.finite(x)
  total <- function(held) sums_in_groups(each * held, groups)
  at <- split(which(finite), factor(groups$place[finite], seq_along(groups$first)))
  end <- function(which) {
    vapply(at, function(i) if (length(i)) which(x[i]) else NA_real_, 0, USE.NAMES = FALSE)
  }
  in_order_of_keys(list(keys = lapply(columns, `[`, groups$first), n = total(TRUE),
    valid = total(!is.na(x)), rows = total(finite), low = end(min), high = end(max),
    fractions = total(finite & x != floor(x))))
}

#' @export
moments_at.ableturn_memory <- function(site, x, keys = list(), weight = NULL, of = NULL) {
  if (!length(keys) && is.null(weight)) {
    known <- known_moments(x, site)
    if (!known[["rows"]]) return(no_moments(list()))
    return(c(list(keys = list()), as.list(known)))
  }
  part <- weighed_numbers(site, x, keys, weight)
  groups <- part$groups
  if (is.null(weight) && is.null(site$times)) {
    return(moments_by_kernel(part, of %||% c("sum", "mean", "sd", "min", "max")))
  }
  each <- split(part$use, factor(groups$place[part$use], seq_along(groups$first)))
  told <- vapply(each, function(i) {
    weighed_moments(part$x[i], part$w[i], some_of(part$times, i))
  }, c(rows = 0, sum = 0, mean = 0, sd = 0, min = 0, max = 0))
  some <- told["rows", ] > 0
  found <- c(list(keys = lapply(part$columns, `[`, groups$first[some])),
    as.list(as.data.frame(t(told[, some, drop = FALSE]))))
  of_known_groups(in_order_of_keys(found))
}

no_moments <- function(keys) {
  c(list(keys = lapply(keys, `[`, 0)), rep(list(numeric()), 6) |>
    setNames(c("rows", "sum", "mean", "sd", "min", "max")))
}

# The numbers that a statistic rests on: `use` tells the rows with a finite number and, where there
# is a weight, with one above zero.
weighed_numbers <- function(site, x, keys, weight) {
  x <- number_column(site, x)
  w <- if (!is.null(weight)) as.double(as_number(site$value(weight)))
  columns <- lapply(unname(keys), key_column, site = site)
  use <- is.finite(x)
  if (!is.null(w)) use <- use & !is.na(w) & w > 0
  list(x = x, w = w, columns = columns, groups = groups_among(columns, site$rows),
    use = which(use), times = site$times %||% 1)
}

# Groups in memory in one pass for each statistic that is wanted.
moments_by_kernel <- function(part, of) {
  groups <- part$groups
  x <- as.double(part$x)
  k <- length(groups$first)
  told <- lapply(self_named(of), function(what) {
    group_statistics(x, groups$place, k, what)
  })
  some <- told[[1]]$rows > 0
  found <- c(list(keys = lapply(part$columns, `[`, groups$first[some]),
    rows = as.double(told[[1]]$rows[some])), lapply(told, function(one) one$value[some]))
  of_known_groups(in_order_of_keys(found))
}

weighed_moments <- function(x, w, times) {
  if (!length(x)) return(c(rows = 0, sum = NA, mean = NA, sd = NA, min = NA, max = NA))
  x <- as.double(x)
  c(rows = rows_in(x, times), sum = weighted_sum(x, w, times), mean = weighted_mean(x, w, times),
    sd = weighted_sd(x, w, times), min = min(x), max = max(x))
}

#' @export
ranks_at.ableturn_memory <- function(site, x, shares, keys = list(), weight = NULL) {
  if (!length(keys) && is.null(weight)) {
    return(list(keys = list(), values = matrix(known_ranks(x, shares, site), 1)))
  }
  part <- weighed_numbers(site, x, keys, weight)
  groups <- part$groups
  k <- length(groups$first)
  each <- split(part$use, factor(groups$place[part$use], seq_len(k)))
  plain <- is.null(weight) && is.null(site$times) && identical(shares, 0.5)
  values <- if (plain) group_statistics(as.double(part$x), groups$place, k, "median")$value else
    vapply(each, function(i) {
      if (!length(i)) return(rep(NA_real_, length(shares)))
      weighted_quantiles(as.double(part$x[i]), part$w[i], shares, some_of(part$times, i))
    }, numeric(length(shares)))
  values <- matrix(values, k, byrow = TRUE)
  some <- lengths(each) > 0
  in_order_of_keys(list(keys = lapply(part$columns, `[`, groups$first[some]),
    values = values[some, , drop = FALSE]))
}

# Those that were asked for together are found together, and not again.
known_ranks <- function(node, shares, site) {
  name <- paste0("ranks of ", formula_text(node))
  known <- site$memo[[name]]
  if (!all(shares %in% known$shares)) {
    known <- list(shares = shares, values = plain_quantiles(as.double(number_column(site, node)),
      shares, known_moments(node, site), site$times %||% 1))
    assign(name, known, site$memo)
  }
  known$values[match(shares, known$shares)]
}

# What is known of a variable is found once for all statistics of a turn.
known_moments <- function(node, site) {
  if (!is.null(site$times)) return(moments_in(as.double(number_column(site, node)), site$times))
  key <- if (is.symbol(node)) as.character(node) else formula_text(node)
  if (is.null(site$memo[[key]])) assign(key, moments_of_column(node, site), site$memo)
  site$memo[[key]]
}

# Of a variable of few answers from these, and not from its rows.
moments_of_column <- function(node, site) {
  cells <- if (is.symbol(node)) site$cells(as.character(node))
  if (is.null(cells)) return(moments(number_column(site, node)))
  moments_of_cells(as.double(as_number(cells$values)), cells$rows)
}

# Over the rows that have a number in all of some formulas: how many these are, and how the formulas
# go together. `total`: with the sum of all of them alone.
#' @export
products_at.ableturn_memory <- function(site, xs, weight = NULL, total = FALSE, pairwise = FALSE,
                                        sample = FALSE, ...) {
  places <- if (sample) hint_places(site$rows, site$times)
  at <- if (is.null(places)) site else site_of_rows(without_times(site), places)
  items <- same_length(lapply(xs, item_of, context = at, value_of = evaluate))
  if (is.null(weight) && is.null(at$times) && !pairwise) return(products_by_kernel(items, total))
  columns <- do.call(cbind, lapply(items, function(item) finite_numbers(item_values(item))))
  w <- if (!is.null(weight)) as.double(as_number(at$value(weight))) %|% 0
  products_of_columns(columns, w, pairwise, at$times %||% 1, total)
}

without_times <- function(site) {
  site["times"] <- list(NULL)
  site
}

products_by_kernel <- function(items, total) {
  kernel <- kernel_items(items)
  if (total) return(item_sums(kernel, items_shift(items), items_sign(items)))
  complete <- Reduce(`&`, lapply(items, function(item) is.finite(item$x)))
  list(complete = sum(complete),
    cov = item_spread(kernel, items_shift(items), items_sign(items)),
    mean = vapply(items, function(item) mean(item_values(item)[complete]), 0))
}

products_of_columns <- function(columns, w, pairwise, times, total) {
  use <- stats::complete.cases(columns) & (if (is.null(w)) TRUE else w > 0)
  complete <- sum(use * times)
  if (pairwise) return(list(cov = pair_covariances(columns, w, times), complete = complete))
  part <- columns[use, , drop = FALSE]
  cov <- weighted_covariance(part, w[use], some_of(times, use))
  if (total) return(list(complete = complete, own = diag(cov), with_total = rowSums(cov),
    total = sum(cov)))
  each <- (if (is.null(w)) rep(1, sum(use)) else w[use]) * some_of(times, use)
  list(complete = complete, cov = cov, mean = colSums(each * part) / sum(each))
}

weighted_covariance <- function(matrix, w, times = 1) {
  if (is.null(w) && identical(times, 1)) return(stats::cov(matrix))
  n <- rows_in(matrix[, 1], times)
  w <- (w %||% rep(1, nrow(matrix))) * times
  centred <- sweep(matrix, 2, colSums(w * matrix) / sum(w))
  crossprod(centred, w * centred) / (sum(w) * (n - 1) / n)
}

pair_covariances <- function(matrix, w, times = 1) {
  k <- ncol(matrix)
  out <- matrix(0, k, k, dimnames = list(colnames(matrix), colnames(matrix)))
  for (i in seq_len(k)) for (j in seq_len(k)) {
    use <- stats::complete.cases(matrix[, c(i, j)]) & (if (is.null(w)) TRUE else w > 0)
    out[i, j] <- weighted_covariance(matrix[use, c(i, j), drop = FALSE], w[use],
      some_of(times, use))[1, 2]
  }
  out
}

# Numbers, what is infinite left out.
finite_numbers <- function(x) {
  x <- as.double(as_number(x))
  x[!is.finite(x)] <- NA
  x
}
