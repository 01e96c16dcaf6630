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

lowest <- function(x, w = NULL, times = 1) moments_in(x, times)[["min"]]

highest <- function(x, w = NULL, times = 1) moments_in(x, times)[["max"]]

moments_in <- function(x, times) {
  if (identical(times, 1)) moments(x) else moments_of_cells(as.double(x), as.integer(times))
}

rows_in <- function(x, times) if (identical(times, 1)) length(x) else sum(times)

weighted_median <- function(x, w = NULL, times = 1) weighted_quantiles(x, w, 0.5, times)

# 1.4826 times the median distance from the median, which is the SD of a normal variable.
weighted_mad <- function(x, w = NULL, times = 1) {
  1.4826 * weighted_median(abs(x - weighted_median(x, w, times)), w, times)
}

weighted_quantile <- function(x, w = NULL, p = 0.5, times = 1) weighted_quantiles(x, w, p, times)

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

# Where the bands of a variable begin, learned from its valid rows.
#   by "width": equal width; "count": equal count; "spread": steps of one SD around the mean;
#   "gaps": least sum of squares within bands (Fisher 1958).
# `ends`: a cut is the last value of its band rather than the first of the next; `known`: the
# moments.
cut_points <- function(x, w, groups, by, ends = FALSE, known = moments(x), times = 1) {
  inner <- seq_len(groups - 1)
  cuts <- switch(by,
    width = width_cuts(known[c("min", "max")], inner, groups),
    count = if (is.null(w)) count_cuts(x, NULL, groups, ends, known, times) else
      count_cuts(x[is.finite(x)], w[is.finite(x)], groups, ends,
        times = some_of(times, is.finite(x))),
    spread = weighted_mean(x, w, times) + weighted_sd(x, w, times) * (inner - groups / 2),
    gaps = gap_cuts(distribution_of(x, w, times), groups)
  )
  unique(unname(cuts))
}

# Equal count: cuts at quantiles. A value that several cuts fall on is a band of its own, and what
# lies below and above it is divided anew into the bands that are left. Every band holds rows.
count_cuts <- function(x, w, groups, ends, known = NULL, times = 1) {
  if (groups < 2) return(numeric())
  shares <- seq_len(groups - 1) / groups
  cuts <- if (is.null(known)) weighted_quantiles(x, w, shares, times) else
    plain_quantiles(x, shares, known, times)
  heavy <- cuts[duplicated(cuts)]
  if (!length(heavy) || !heavy[1] %in% x) return(cuts_between_rows(unique(cuts), x, ends))
  if (is.null(w)) {
    times <- some_of(times, is.finite(x))
    x <- x[is.finite(x)]
  }
  sides <- list(x < heavy[1], x > heavy[1])
  each <- (w %||% rep(1, length(x))) * times
  bands <- bands_beside(vapply(sides, function(side) sum(each[side]), 0), groups - 1)
  inner <- Map(function(side, k) {
    if (k) count_cuts(x[side], w[side], k, ends, NULL, some_of(times, side))
  }, sides, bands)
  as.double(c(inner[[1]], if (bands[1]) if (ends) max(x[sides[[1]]]) else heavy[1],
    if (bands[2]) if (ends) heavy[1] else min(x[sides[[2]]]), inner[[2]]))
}

some_of <- function(times, which) if (identical(times, 1)) 1 else times[which]

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
