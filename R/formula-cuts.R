# Where the bands of a variable begin, learned from its valid rows.
#   by "width": equal width; "count": equal count; "spread": steps of one SD around the mean;
#   "gaps": least sum of squares within bands (Fisher 1958).
cut_points <- function(x, w, groups, by) {
  cuts <- switch(by,
    width = min(x) + diff(range(x)) / groups * seq_len(groups - 1),
    count = weighted_quantiles(x, w, seq_len(groups - 1) / groups),
    spread = weighted_mean(x, w) + weighted_sd(x, w) * (seq_len(groups - 1) - groups / 2),
    gaps = gap_cuts(x, w %||% rep(1, length(x)), groups)
  )
  unique(cuts)
}

gap_cuts <- function(x, w, groups) {
  values <- sort(unique(x))
  groups <- min(groups, length(values))
  if (groups < 2) return(numeric())
  values[least_squares_runs(values, rowsum(w, match(x, values))[, 1], groups)]
}
