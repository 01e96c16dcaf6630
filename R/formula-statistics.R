# Statistics of one variable. `w` holds survey weights above zero for valid rows alone, or is NULL:
# then missing and infinite values are left out. n counts the rows, whatever they weigh.

weighted_mean <- function(x, w = NULL) if (is.null(w)) moments(x)[["mean"]] else sum(w * x) / sum(w)

weighted_sd <- function(x, w = NULL) {
  if (is.null(w)) return(moments(x)[["sd"]])
  n <- length(x)
  if (n < 2) NA_real_ else sqrt(sum(w * (x - weighted_mean(x, w))^2) / (sum(w) * (n - 1) / n))
}

weighted_sum <- function(x, w = NULL) if (is.null(w)) moments(x)[["sum"]] else sum(w * x)

lowest <- function(x, w = NULL) moments(x)[["min"]]

highest <- function(x, w = NULL) moments(x)[["max"]]

weighted_median <- function(x, w = NULL) weighted_quantiles(x, w, 0.5)

# 1.4826 times the median distance from the median, which is the SD of a normal variable.
weighted_mad <- function(x, w = NULL) 1.4826 * weighted_median(abs(x - weighted_median(x, w)), w)

weighted_quantile <- function(x, w = NULL, p = 0.5) weighted_quantiles(x, w, p)

# Type 7 without weights; with weights the inverse of the distribution, averaged at exact hits.
weighted_quantiles <- function(x, w, p) {
  if (is.null(w)) return(plain_quantiles(x, p))
  order <- order(x)
  x <- x[order]
  share <- cumsum(w[order]) / sum(w)
  vapply(p, function(q) {
    first <- which(share >= q - 1e-12)[1]
    exact <- abs(share[first] - q) < 1e-12 && first < length(x)
    if (exact) mean(x[first + 0:1]) else x[first]
  }, 0)
}

plain_quantiles <- function(x, p) {
  known <- moments(x)
  if (!known[["rows"]]) return(rep(NA_real_, length(p)))
  place <- 1 + (known[["rows"]] - 1) * p
  below <- floor(place)
  ranks <- sort(unique(c(below, ceiling(place))))
  values <- values_at_ranks(x, ranks - 1, known[["min"]], known[["max"]])
  low <- values[match(below, ranks)]
  high <- values[match(ceiling(place), ranks)]
  share <- place - below
  ifelse(low == high, low, (1 - share) * low + share * high)
}

# The distinct values and the weight that lies at or below each.
distribution_of <- function(x, w = NULL) {
  if (is.null(w)) {
    seen <- sorted_counts(x)
    return(list(values = seen$values, cumulative = cumsum(seen$rows)))
  }
  values <- sort(unique(x))
  list(values = values, cumulative = unname(cumsum(rowsum(w, match(x, values))[, 1])))
}
