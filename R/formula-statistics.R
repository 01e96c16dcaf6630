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

plain_quantiles <- function(x, p, known = moments(x)) {
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

# Where the bands of a variable begin, learned from its valid rows.
#   by "width": equal width; "count": equal count; "spread": steps of one SD around the mean;
#   "gaps": least sum of squares within bands (Fisher 1958).
# `ends`: a cut is the last value of its band rather than the first of the next; `known`: the
# moments.
cut_points <- function(x, w, groups, by, ends = FALSE, known = moments(x)) {
  inner <- seq_len(groups - 1)
  cuts <- switch(by,
    width = width_cuts(known[c("min", "max")], inner, groups),
    count = if (is.null(w)) count_cuts(x, NULL, groups, ends, known) else
      count_cuts(x[is.finite(x)], w[is.finite(x)], groups, ends),
    spread = weighted_mean(x, w) + weighted_sd(x, w) * (inner - groups / 2),
    gaps = gap_cuts(distribution_of(x, w), groups)
  )
  unique(unname(cuts))
}

# Equal count: cuts at quantiles. A value that several cuts fall on is a band of its own, and what
# lies below and above it is divided anew into the bands that are left. Every band holds rows.
count_cuts <- function(x, w, groups, ends, known = NULL) {
  if (groups < 2) return(numeric())
  shares <- seq_len(groups - 1) / groups
  cuts <- if (is.null(known)) weighted_quantiles(x, w, shares) else
    plain_quantiles(x, shares, known)
  heavy <- cuts[duplicated(cuts)]
  if (!length(heavy) || !heavy[1] %in% x) return(cuts_between_rows(unique(cuts), x, ends))
  if (is.null(w)) x <- x[is.finite(x)]
  sides <- list(x < heavy[1], x > heavy[1])
  bands <- bands_beside(vapply(sides, function(side) sum((w %||% rep(1, length(x)))[side]), 0),
    groups - 1)
  inner <- Map(function(side, k) if (k) count_cuts(x[side], w[side], k, ends), sides, bands)
  as.double(c(inner[[1]], if (bands[1]) if (ends) max(x[sides[[1]]]) else heavy[1],
    if (bands[2]) if (ends) heavy[1] else min(x[sides[[2]]]), inner[[2]]))
}

# How many bands each side gets, by its share of the rows; at least one where there are any.
bands_beside <- function(rows, bands) {
  if (any(rows == 0)) return(ifelse(rows > 0, bands, 0))
  first <- min(max(1, round(bands * rows[1] / sum(rows))), bands - 1)
  c(first, bands - first)
}

# Without the cuts that would leave a band empty.
cuts_between_rows <- function(cuts, x, ends) {
  cuts[which(band_ends(x, cuts, ends)$rows > 0)[-1] - 1L]
}

# Ends so far apart that their distance is no number are parted all the same.
width_cuts <- function(reach, inner, groups) {
  if (is.finite(diff(reach))) reach[[1]] + diff(reach) / groups * inner else
    reach[[1]] * (1 - inner / groups) + reach[[2]] * (inner / groups)
}

gap_cuts <- function(seen, groups) {
  groups <- min(groups, length(seen$values))
  if (groups < 2) return(numeric())
  seen$values[least_squares_runs(seen$values, diff(c(0, seen$cumulative)), groups)]
}
