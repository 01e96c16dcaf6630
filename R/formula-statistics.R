# Statistics of one variable over its valid rows. `w` holds survey weights above zero, or is
# NULL; n counts the rows, whatever they weigh.

weighted_mean <- function(x, w = NULL) if (is.null(w)) mean(x) else sum(w * x) / sum(w)

weighted_sd <- function(x, w = NULL) {
  if (is.null(w)) return(stats::sd(x))
  n <- length(x)
  if (n < 2) NA_real_ else sqrt(sum(w * (x - weighted_mean(x, w))^2) / (sum(w) * (n - 1) / n))
}

weighted_sum <- function(x, w = NULL) if (is.null(w)) sum(x) else sum(w * x)

weighted_median <- function(x, w = NULL) weighted_quantiles(x, w, 0.5)

# 1.4826 times the median distance from the median, which is the SD of a normal variable.
weighted_mad <- function(x, w = NULL) 1.4826 * weighted_median(abs(x - weighted_median(x, w)), w)

weighted_quantile <- function(x, w = NULL, p = 0.5) weighted_quantiles(x, w, p)

# Type 7 without weights; with weights the inverse of the distribution, averaged at exact hits.
weighted_quantiles <- function(x, w, p) {
  if (is.null(w)) return(stats::quantile(x, p, names = FALSE))
  order <- order(x)
  x <- x[order]
  share <- cumsum(w[order]) / sum(w)
  vapply(p, function(q) {
    first <- which(share >= q - 1e-12)[1]
    exact <- abs(share[first] - q) < 1e-12 && first < length(x)
    if (exact) mean(x[first + 0:1]) else x[first]
  }, 0)
}

# The distinct values and the weight that lies at or below each.
distribution_of <- function(x, w = NULL) {
  values <- sort(unique(x))
  mass <- if (is.null(w)) tabulate(match(x, values), length(values)) else rowsum(w, match(x, values))[, 1]
  list(values = values, cumulative = unname(cumsum(mass)))
}
