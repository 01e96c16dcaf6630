# Statistics of one variable. `w` holds survey weights above zero for valid rows alone, or is NULL:
# then missing and infinite values are left out. n counts the rows, whatever they weigh. `times`:
# how many rows each value stands for, if not one.

weighted_mean <- function(x, w = NULL, times = 1) {
  if (is.null(w)) moments_in(x, times)[["mean"]] else sum(times * w * x) / sum(times * w)
}

weighted_sd <- function(x, w = NULL, times = 1) {
  if (is.null(w)) return(moments_in(x, times)[["sd"]])
  n <- rows_in(x, times)
  if (n < 2) return(NA_real_)
  off <- x - weighted_mean(x, w, times)
  sqrt(sum(times * w * off^2) / (sum(times * w) * (n - 1) / n))
}

weighted_sum <- function(x, w = NULL, times = 1) {
  if (is.null(w)) moments_in(x, times)[["sum"]] else sum(times * w * x)
}

moments_in <- function(x, times) {
  if (identical(times, 1)) moments(x) else moments_of_cells(as.double(x), as.double(times))
}

rows_in <- function(x, times) if (identical(times, 1)) length(x) else sum(times)

# Type 7 without weights; with weights the inverse of the distribution, averaged at exact hits.
weighted_quantiles <- function(x, w, p, times = 1) {
  if (is.null(w)) return(plain_quantiles(x, p, moments_in(x, times), times))
  order <- order(x)
  x <- x[order]
  share <- cumsum((times * w)[order]) / sum(times * w)
  vapply(p, function(q) {
    first <- which(share >= q - 1e-12)[1]
    exact <- abs(share[first] - q) < 1e-12 && first < length(x)
    if (exact) mean(x[first + 0:1]) else x[first]
  }, 0)
}

plain_quantiles <- function(x, p, known = moments(x), times = 1) {
  if (!known[["rows"]]) return(rep(NA_real_, length(p)))
  place <- 1 + (known[["rows"]] - 1) * p
  below <- floor(place)
  ranks <- sort(unique(c(below, ceiling(place))))
  values <- at_ranks(x, ranks - 1, known, times)
  low <- values[match(below, ranks)]
  high <- values[match(ceiling(place), ranks)]
  share <- place - below
  ifelse(low == high, low, (1 - share) * low + share * high)
}

# The values at some ranks, counted from 0.
at_ranks <- function(x, ranks, known, times) {
  if (identical(times, 1)) return(values_at_ranks(x, ranks, known[["min"]], known[["max"]]))
  use <- is.finite(x) & times > 0
  order <- order(x[use])
  x[use][order][findInterval(ranks, cumsum(times[use][order])) + 1]
}

# The distinct values and the weight that lies at or below each.
distribution_of <- function(x, w = NULL, times = 1) {
  if (is.null(w)) {
    seen <- if (identical(times, 1)) sorted_counts(x) else
      counts_of(as.double(x[is.finite(x)]), sort, times[is.finite(x)])
    return(list(values = seen$values, cumulative = cumsum(seen$rows)))
  }
  values <- sort(unique(x))
  list(values = values, cumulative = unname(cumsum(rowsum(times * w, match(x, values))[, 1])))
}

some_of <- function(times, which) if (identical(times, 1)) 1 else times[which]
