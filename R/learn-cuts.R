# Where the bands of a variable begin, learned at its site.
#   by "width": equal width; "count": equal count; "spread": steps of one SD around the mean;
#   "gaps": least sum of squares within bands (Fisher 1958).
learn_cuts <- function(call, of, site) {
  part <- statistic_parts(call, site)
  known <- moments_at(part$site, part$x, weight = part$weight, of = c("mean", "sd", "min", "max"))
  rows <- sum(known$rows)
  if (!rows) fail("nothing-to-learn", of = of, rows = counted(0, "row"))
  groups <- part$others[[1]]
  inner <- seq_len(groups - 1)
  cuts <- switch(part$others[[2]],
    width = width_cuts(c(known$min, known$max), inner, groups),
    count = count_cuts(part, groups, isTRUE(part$others[3][[1]])),
    spread = known$mean + known$sd * (inner - groups / 2),
    gaps = gap_cuts(distribution_in(part)[[1]], groups)
  )
  cuts <- unique(unname(cuts))
  if (!all(is.finite(cuts))) fail("nothing-to-learn", of = of, rows = counted(rows, "row"))
  new_note(of, cuts, rows)
}

# Equal count: cuts at quantiles. A value that several cuts fall on is a band of its own, and what
# lies below and above it, between the values `low` and `high`, is divided anew into the bands that
# are left. Every band holds rows. `ends`: a cut is the last value of its band rather than the first
# of the next.
count_cuts <- function(part, groups, ends, low = -Inf, high = Inf) {
  if (groups < 2) return(numeric())
  x <- between_node(part$x, low, high)
  cuts <- as.double(ranks_at(part$site, x, seq_len(groups - 1) / groups,
    weight = part$weight)$values)
  heavy <- cuts[duplicated(cuts)]
  if (!length(heavy) || !rows_where(part$site, call("==", call("+", x, 0), heavy[1]))) {
    cuts <- unique(cuts)
    return(cuts[which(bands_at(part$site, x, cuts, ends)$rows > 0)[-1] - 1L])
  }
  sides <- list(c(low, heavy[1]), c(heavy[1], high))
  told <- lapply(sides, side_of_cut, part = part)
  bands <- bands_beside(vapply(told, `[[`, 0, "weight"), groups - 1)
  inner <- Map(function(side, k) {
    if (k) count_cuts(part, k, ends, side[1], side[2])
  }, sides, bands)
  as.double(c(inner[[1]], if (bands[1]) if (ends) told[[1]]$max else heavy[1],
    if (bands[2]) if (ends) heavy[1] else told[[2]]$min, inner[[2]]))
}

# What lies between two values: its ends, and its rows, or their weight.
side_of_cut <- function(side, part) {
  x <- between_node(part$x, side[1], side[2])
  known <- moments_at(part$site, x, weight = part$weight, of = c("mean", "min", "max"))
  if (!length(known$rows)) return(list(weight = 0))
  weight <- if (is.null(part$weight)) known$rows else
    moments_at(part$site, call("choose", finite_node(x), as.name(part$weight)),
      weight = NULL, of = "sum")$sum
  list(weight = weight, min = known$min, max = known$max)
}

between_node <- function(x, low, high) {
  tests <- c(if (is.finite(low)) list(call(">", x, low)), if (is.finite(high)) list(call("<", x,
    high)))
  if (length(tests)) call("choose", Reduce(function(a, b) call("&", a, b), tests), x) else x
}

# How many bands each side gets, by its share of the rows; at least one where there are any.
bands_beside <- function(rows, bands) {
  if (any(rows == 0)) return(ifelse(rows > 0, bands, 0))
  first <- min(max(1, round(bands * rows[1] / sum(rows))), bands - 1)
  c(first, bands - first)
}

# How many rows lie in each of the bands between some cuts, and the ends there, see band_ends().
bands_at <- function(site, x, cuts, ends) {
  if (site_can(site, "values") && is.null(site$times)) {
    return(band_ends(as.double(number_column(site, x)), cuts, ends))
  }
  reason <- if (is.symbol(x)) list(reason_node(as.character(x)))
  points <- unique(cuts)
  found <- extent_at(site, x, c(reason, list(stretch_node(x, points))))
  stretch <- found$keys[[length(found$keys)]]
  # what lies on a cut belongs to the band that it ends, or to the one that it begins
  above <- findInterval(points, cuts)
  on <- if (ends) findInterval(points, cuts, left.open = TRUE) else above
  band <- c(0, rbind(on, above))[stretch] + 1
  of_band <- function(values, tell, none) {
    vapply(seq_len(length(cuts) + 1), function(i) {
      tell(c(values[which(band == i & found$rows > 0)], none))
    }, 0)
  }
  list(rows = of_band(found$rows, sum, 0), low = of_band(found$low, min, Inf),
    high = of_band(found$high, max, -Inf))
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
