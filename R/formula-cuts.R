# Where the bands of a variable begin, learned from its valid rows.
#   by "width": equal width; "count": equal count; "spread": steps of one SD around the mean;
#   "gaps": least sum of squares within bands (Fisher 1958).
cut_points <- function(x, w, groups, by) {
  inner <- seq_len(groups - 1)
  ends <- if (by == "width") moments(x)[c("min", "max")]
  cuts <- switch(by,
    width = width_cuts(ends, inner, groups),
    count = weighted_quantiles(x, w, inner / groups),
    spread = weighted_mean(x, w) + weighted_sd(x, w) * (inner - groups / 2),
    gaps = gap_cuts(distribution_of(x, w), groups)
  )
  unique(unname(cuts))
}

# Ends so far apart that their distance is no number are parted all the same.
width_cuts <- function(ends, inner, groups) {
  if (is.finite(diff(ends))) ends[[1]] + diff(ends) / groups * inner else
    ends[[1]] * (1 - inner / groups) + ends[[2]] * (inner / groups)
}

gap_cuts <- function(seen, groups) {
  groups <- min(groups, length(seen$values))
  if (groups < 2) return(numeric())
  seen$values[least_squares_runs(seen$values, diff(c(0, seen$cumulative)), groups)]
}
