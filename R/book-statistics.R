# The statistics that looking at a number shows, weighted if asked.
statistics <- function(x, w) {
  names <- c("valid", "mean", "sd", "lowest", "quarter", "median", "three quarters", "highest")
  if (!length(x)) return(self_numbered(names, c(0, rep(NA_real_, 7))))
  cuts <- weighted_quantiles(x, w, c(0.25, 0.5, 0.75))
  m <- sum(w * x) / sum(w)
  n <- length(x)
  s <- if (n > 1) sqrt(sum(w * (x - m)^2) / (sum(w) * (n - 1) / n)) else NA_real_
  self_numbered(names, c(n, m, s, min(x), cuts[1], cuts[2], cuts[3], max(x)))
}
