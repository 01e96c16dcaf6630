# The first principal component of some variables, learned from how they go together in the rows
# that have all of them: no row is read by itself.
#   component_means, component_sds    of the items in these rows
#   component_vector                  the eigenvector of the largest eigenvalue, its sign settled
#   component_eigenvalues             all of them
#   component_size                    the SD of the sum of the items times the numbers `by`
learn_component <- function(call, of, site) {
  items <- unname(row_items(call))
  options <- as.list(call)
  spread <- spread_of_items(items, site)
  value <- switch(call_head(call), component_means = spread$mean,
    component_sds = sqrt(diag(spread$cov)),
    component_size = size_of_sum(spread$cov, evaluate(options$by, NULL)),
    first_component(spread$cov, items, options)[[call_head(call)]])
  new_note(of, unname(value), spread$complete)
}

# Several statistics of the same items rest on one pass.
spread_of_items <- function(items, site) {
  key <- paste(c("items", vapply(items, formula_text, "")), collapse = " ")
  known <- site$memo[[key]]
  if (!is.null(known)) return(known)
  at <- nearest_site(site, unique(unlist(lapply(items, formula_vars))))
  spread <- products_at(at, items)
  refuse_flat_items(spread, items)
  if (is.environment(site$memo)) assign(key, spread, site$memo)
  spread
}

refuse_flat_items <- function(spread, items) {
  if (spread$complete < 3) fail("component-few", rows = counted(spread$complete, "row"))
  size <- diag(spread$cov)
  flat <- !is.finite(size) | size <= 1e-14 * pmax(spread$mean^2, 0)
  if (any(flat)) fail("component-constant", name = vapply(items[flat], formula_text, ""))
}

first_component <- function(cov, items, options) {
  matrix <- if (identical(options$of, "covariance")) cov else stats::cov2cor(cov)
  found <- eigen(matrix, symmetric = TRUE)
  values <- pmax(found$values, 0)
  if (values[1] - values[2] <= 1e-9 * values[1]) fail("component-tied")
  vector <- found$vectors[, 1]
  up <- if (!is.null(options$positive)) {
    sign(vector[match(options$positive, vapply(items, formula_text, ""))])
  } else {
    usual_sign(vector / if (identical(options$of, "covariance")) sqrt(diag(cov)) else 1)
  }
  list(component_vector = vector * (if (up == 0) 1 else up), component_eigenvalues = values)
}

# Most items load positively; of as many, those of the larger sum; of equal sums, the first one.
usual_sign <- function(loadings) {
  clear <- abs(loadings) > 1e-12
  for (told in list(sum(sign(loadings[clear])), sum(loadings), loadings[1])) {
    if (abs(told) > 1e-12) return(sign(told))
  }
  1
}

size_of_sum <- function(cov, by) {
  size <- sqrt(drop(t(by) %*% cov %*% by))
  if (is.finite(size) && size > 0) size else fail("component-flat")
}
