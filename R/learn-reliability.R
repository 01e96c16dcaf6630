# How well items hang together, learned from how they go together: alpha and what goes with it in a
# receipt, and what an item analysis can tell beside it: omega, ordinal alpha, the standard error of
# measurement, all of them in groups.

# Cronbach's alpha over rows with every item, and each item's correlation with the sum of the
# others.
agreement <- function(told) {
  own <- told$own
  if (told$complete < 3 || anyNA(own) || anyNA(told$total) || any(own <= 0)) {
    return(told["complete"])
  }
  k <- length(own)
  rest <- (told$with_total - own) / sqrt(own * (told$total - 2 * told$with_total + own))
  list(complete = told$complete, rest = rest, alpha = k / (k - 1) * (1 - sum(own) / told$total))
}

alpha_of <- function(spread) {
  k <- ncol(spread)
  k / (k - 1) * (1 - sum(diag(spread)) / sum(spread))
}

# Each item's correlation with the sum of the others, from the covariances.
item_rest <- function(spread) {
  own <- diag(spread)
  with_all <- rowSums(spread)
  (with_all - own) / sqrt(own * (sum(spread) - 2 * with_all + own))
}

feldt_interval <- function(alpha, n, k) {
  1 - (1 - alpha) * stats::qf(c(0.975, 0.025), n - 1, (n - 1) * (k - 1))
}

# The standard error of measurement of the sum and of the mean of some items.
measurement_error <- function(cov, alpha) {
  if (!is.finite(alpha) || alpha > 1) return(NULL)
  sum <- sqrt(sum(cov)) * sqrt(1 - alpha)
  c(sum = sum, mean = sum / ncol(cov))
}

# Omega total of the raw sum, of one factor by maximum likelihood (McDonald 1999): `value`, NA where
# there is none, and `why`, or `edge`, the items that have nothing of their own.
omega_of <- function(spread) {
  none <- function(why) list(value = NA_real_, why = why)
  size <- sqrt(diag(spread$cov))
  if (length(size) < 3) return(none("it needs three items"))
  if (any(size == 0)) return(none("an item has one answer only"))
  fit <- tryCatch(suppressWarnings(stats::factanal(covmat = list(cov = spread$cov,
    n.obs = spread$complete), factors = 1, rotation = "none")), error = function(e) NULL)
  if (is.null(fit) || !isTRUE(fit$converged)) return(none("the factor analysis did not converge"))
  common <- sum(fit$loadings[, 1] * size)^2
  edge <- names(size)[fit$uniquenesses <= 0.00501]
  list(value = common / (common + sum(fit$uniquenesses * size^2)), edge = edge)
}

# Ordinal alpha from the polychoric correlations of all pairs (Zumbo et al. 2007).
ordinal_alpha <- function(nodes, site) {
  k <- length(nodes)
  r <- unlist(lapply(utils::combn(k, 2, simplify = FALSE), function(pair) {
    polychoric(pair_table(nodes[pair], site))
  }))
  mean <- mean(r)
  k * mean / (1 + (k - 1) * mean)
}

most_categories <- 20

# How many rows have each two answers.
pair_table <- function(nodes, site) {
  answers <- lapply(unname(nodes), function(node) call("+", node, 0))
  found <- counts_at(site, answers, most = most_categories^2 + 2 * most_categories + 1)
  keys <- lapply(found$keys, function(x) finite_numbers(x))
  use <- if (!is.null(found)) !is.na(keys[[1]]) & !is.na(keys[[2]])
  each <- lapply(keys, function(x) sort(unique(x[use])))
  if (is.null(found) || any(lengths(each) > most_categories)) {
    fail("ordinal-many", name = names(nodes), most = most_categories)
  }
  if (any(lengths(each) < 2)) fail("ordinal-few", name = names(nodes)[lengths(each) < 2])
  table <- matrix(0, length(each[[1]]), length(each[[2]]))
  at <- cbind(match(keys[[1]][use], each[[1]]), match(keys[[2]][use], each[[2]]))
  table[at] <- found$rows[use]
  table
}

# The polychoric correlation of a table in two steps (Olsson 1979): thresholds from the margins,
# then the correlation of largest likelihood. Empty cells stay empty.
polychoric <- function(table) {
  ends <- function(margin) c(-Inf, stats::qnorm(cumsum(margin)[-length(margin)] / sum(margin)), Inf)
  rows <- ends(rowSums(table))
  columns <- ends(colSums(table))
  use <- table > 0
  misfit <- function(r) -sum(table[use] * log(pmax(cell_shares(rows, columns, r)[use], 1e-300)))
  stats::optimize(misfit, c(-0.9999, 0.9999), tol = 1e-6)$minimum
}

# The share of each cell between thresholds of two standard normal variables of a correlation.
cell_shares <- function(rows, columns, r) {
  upto <- outer(rows, columns, Vectorize(function(a, b) bivariate_normal(a, b, r)))
  a <- upto[-1, -1, drop = FALSE] - upto[-nrow(upto), -1, drop = FALSE]
  a - (upto[-1, -ncol(upto), drop = FALSE] - upto[-nrow(upto), -ncol(upto), drop = FALSE])
}

bivariate_normal <- function(a, b, r) {
  if (a == -Inf || b == -Inf) return(0)
  if (a == Inf) return(stats::pnorm(b))
  if (b == Inf) return(stats::pnorm(a))
  as.vector(mvtnorm::pmvnorm(upper = c(a, b), corr = matrix(c(1, r, r, 1), 2),
    algorithm = mvtnorm::TVPACK()))
}

most_reliability_groups <- 30

# Alpha and what else was asked for in each group of a variable: a row for each, in the order of its
# categories. As a hint a `sample` of the rows will do.
reliability_by <- function(nodes, site, by, more, sample = FALSE) {
  variable <- site$variable(by)
  seen <- few_answers(variable)
  if (is.null(seen) || length(seen$values) > most_reliability_groups) {
    fail("by-many", name = by, most = most_reliability_groups)
  }
  values <- category_order(seen$values, variable$meaning$codes)
  each <- lapply(values, function(value) {
    inside <- lapply(nodes, function(node) {
      call("choose", call("==", as.name(by), value), node)
    })
    one_reliability(inside, site, more, sample)
  })
  cbind(group = label_of(values, variable$meaning$codes) %|% show_value(values),
    do.call(rbind, each))
}

one_reliability <- function(nodes, site, more, sample) {
  spread <- products_at(site, unname(nodes), sample = sample)
  dimnames(spread$cov) <- list(names(nodes), names(nodes))
  k <- length(nodes)
  enough <- spread$complete >= 3
  alpha <- if (enough) alpha_of(spread$cov) else NA_real_
  ends <- if (is.finite(alpha)) feldt_interval(alpha, spread$complete, k) else c(NA, NA)
  error <- measurement_error(spread$cov, alpha)
  out <- data.frame(complete = spread$complete, alpha = alpha, low = ends[1], high = ends[2],
    sem = if (is.null(error)) NA_real_ else error[["sum"]])
  if (more$omega) out$omega <- if (enough) omega_of(spread)$value else NA_real_
  if (more$ordinal) {
    out$ordinal <- tryCatch(ordinal_alpha(nodes, site), ableturn_error = function(e) NA_real_)
  }
  out
}

# What is said of the differences between groups: of two by the test of Feldt (1969), of more those
# whose intervals do not overlap. Groups that share persons, as waves do, are not compared.
group_differences <- function(groups, shared) {
  known <- groups[is.finite(groups$alpha), ]
  if (nrow(known) < 2) return(NULL)
  if (shared) {
    return(list(words = paste("The same persons are in several groups, so their alphas are not",
      "compared.")))
  }
  if (nrow(known) == 2) return(feldt_test(known))
  pairs <- utils::combn(nrow(known), 2, simplify = FALSE)
  apart <- Filter(function(pair) {
    any(known$low[pair] > rev(known$high[pair]))
  }, pairs)
  if (!length(apart)) return(list(words = "No two intervals lie apart."))
  each <- vapply(apart, function(pair) paste(known$group[pair], collapse = " and "), "")
  list(words = paste0("Intervals that do not overlap: ", name_list(each, 6), "."), apart = TRUE)
}

# W = (1 - alpha)/(1 - alpha) is F distributed with n - 1 and n - 1 degrees of freedom.
feldt_test <- function(two) {
  w <- (1 - two$alpha[1]) / (1 - two$alpha[2])
  below <- stats::pf(w, two$complete[1] - 1, two$complete[2] - 1)
  p <- 2 * min(below, 1 - below)
  list(words = paste0("Difference of the alphas: W = ", two_digits(w), ", p = ",
    if (p < 0.001) "under .001" else sprintf("%.3f", p), " (Feldt)."), apart = p < 0.05)
}
