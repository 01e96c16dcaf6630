# Where the bands of a variable begin, learned from its valid rows.
#   by "width": equal width; "count": equal count; "spread": steps of one SD around the mean;
#   "gaps": least sum of squares within bands (Fisher 1958).
cut_points <- function(x, groups, by, w = NULL) {
  w <- if (is.null(w)) rep(1, length(x)) else w
  use <- !is.na(w) & w > 0
  x <- x[use]
  w <- w[use]
  cuts <- switch(by,
    width = min(x) + diff(range(x)) / groups * seq_len(groups - 1),
    count = weighted_quantiles(x, w, seq_len(groups - 1) / groups),
    spread = spread_cuts(x, w, groups),
    gaps = gap_cuts(x, w, groups)
  )
  unique(cuts)
}

spread_cuts <- function(x, w, groups) {
  m <- sum(w * x) / sum(w)
  n <- length(x)
  s <- sqrt(sum(w * (x - m)^2) / (sum(w) * (n - 1) / n))
  m + s * (seq_len(groups - 1) - groups / 2)
}

gap_cuts <- function(x, w, groups) {
  values <- sort(unique(x))
  groups <- min(groups, length(values))
  if (groups < 2) return(numeric())
  values[least_squares_runs(values, rowsum(w, match(x, values))[, 1], groups)]
}

# Type 7 without weights; with weights the inverse of the distribution, averaged at exact hits.
weighted_quantiles <- function(x, w, p) {
  if (length(unique(w)) == 1) return(stats::quantile(x, p, names = FALSE))
  order <- order(x)
  x <- x[order]
  share <- cumsum(w[order]) / sum(w)
  vapply(p, function(q) {
    first <- which(share >= q - 1e-12)[1]
    exact <- abs(share[first] - q) < 1e-12 && first < length(x)
    if (exact) mean(x[first + 0:1]) else x[first]
  }, 0)
}
