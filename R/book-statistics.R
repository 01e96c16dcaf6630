# The statistics that looking at a number shows, weighted if asked.
statistics <- function(x, w) {
  names <- c("valid", "mean", "sd", "lowest", "quarter", "median", "three quarters", "highest")
  if (!length(x)) return(self_numbered(names, c(0, rep(NA_real_, 7))))
  w <- if (!all(w == 1)) w
  cuts <- weighted_quantiles(x, w, c(0.25, 0.5, 0.75))
  s <- if (length(x) > 1) weighted_sd(x, w) else NA_real_
  self_numbered(names, c(length(x), weighted_mean(x, w), s, min(x), cuts[1], cuts[2], cuts[3], max(x)))
}
