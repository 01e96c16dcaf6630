# The items that point the other way on what all items share, the first eigenvector of their
# correlations, where these are 0.15 in size on average.
point_the_other_way <- function(spread) {
  if (spread$complete < 30) return(rep(FALSE, ncol(spread$cov)))
  against_the_rest(spread$cov, spread$complete)
}

# The same of items by their names: none where that cannot be said.
items_against <- function(site, names) {
  spread <- products_at(site, lapply(names, as.name), sample = TRUE)
  off <- point_the_other_way(spread)
  r <- suppressWarnings(stats::cov2cor(spread$cov))
  weak <- spread$complete < 30 || anyNA(r) || mean(abs(r[upper.tri(r)])) < 0.15
  if (!weak) names[off]
}

# The smaller side, or the one without the first item. An item that has nothing to do with the
# others is on no side: turned round, its correlation with them must be above zero with 97.5 percent
# certainty.
against_the_rest <- function(spread, n) {
  none <- rep(FALSE, ncol(spread))
  use <- which(diag(spread) > 0)
  if (length(use) < 2) return(none)
  r <- stats::cov2cor(spread[use, use, drop = FALSE])
  if (anyNA(r) || mean(abs(r[upper.tri(r)])) < 0.15) return(none)
  side <- sign(eigen(r, symmetric = TRUE)$vectors[, 1])
  off <- side == if (sum(side) == 0) -side[1] else -sign(sum(side))
  turned <- ifelse(off, -1, 1)
  sure <- tanh(stats::qnorm(0.975) / sqrt(n - 3))
  none[use] <- off & item_rest(r * outer(turned, turned)) > sure
  none
}
