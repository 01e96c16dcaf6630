# Items whose answers together are too many to be fetched: their covariances are asked for, and of
# each item alone its answers.

# `nodes`: the items as they go into a score; `weight`: the name of one, if any.
analyse_far_items <- function(nodes, book, turned, weight = NULL, pairwise = FALSE) {
  site <- info_of(book)$site
  w <- if (!is.null(weight)) as.name(weight)
  names <- vapply(nodes, function(node) formula_vars(node)[1], "")
  spread <- if (pairwise) far_pairs(site, book, nodes, w) else spread_at_site(site, book, nodes, w)
  if (!pairwise && spread$complete < 3) {
    fail("few-complete", rows = counted(spread$complete, "row"))
  }
  dimnames(spread$cov) <- list(names, names)
  parts <- setNames(lapply(nodes, far_item_part, book = book, weight = weight), names)
  items_analysed(parts, spread, book, turned, is.null(weight) && !pairwise)
}

# Covariances pair by pair.
far_pairs <- function(site, book, nodes, w) {
  k <- length(nodes)
  cov <- matrix(0, k, k)
  for (i in seq_len(k)) for (j in seq_len(i)) {
    pair <- spread_at_site(site, book, nodes[unique(c(i, j))], w)$cov
    cov[i, j] <- cov[j, i] <- pair[1, ncol(pair)]
  }
  list(cov = cov, complete = spread_at_site(site, book, nodes, w)$complete)
}

far_item_part <- function(node, book, weight) {
  name <- formula_vars(node)[1]
  columns <- lapply(c(name, weight), column_in, book = book)
  joined <- columns_in_few_cells(columns) %||%
    columns_in_groups(subject_of_variable(name, book), weight, book)
  if (is.null(joined)) refuse_answers(name, book)
  context <- list(value = function(name) joined$columns[[1]]$x)
  list(x = finite_numbers(evaluate(node, context)),
    w = if (!is.null(weight)) row_weights(joined$columns[[2]]$x, weight, joined$times),
    times = joined$times)
}

# See collinearity(); what the others leave of a variable follows from the covariances.
far_collinearity <- function(names, book) {
  spread <- spread_at_site(info_of(book)$site, book, lapply(names, as.name))
  if (spread$complete < length(names) + 2) {
    fail("few-complete", rows = counted(spread$complete, "row"))
  }
  vif <- vapply(seq_along(names), function(i) inflation_from(spread$cov, i), 0)
  trap <- trapped_sources(names, book, function(dummies) {
    at <- match(dummies, names)
    facts <- lapply(dummies, facts_of, book = book)
    all(vapply(facts, function(f) all(f$values %in% 0:1), NA)) &&
      abs(sum(spread$mean[at]) - 1) < 1e-9 && abs(sum(spread$cov[at, at])) < 1e-9
  })
  collinearity_table(vif, names, book, spread$complete, trap)
}

inflation_from <- function(cov, i) {
  parts <- eigen(cov[-i, -i, drop = FALSE], symmetric = TRUE)
  kept <- parts$values > 1e-11 * max(parts$values, 0)
  along <- crossprod(parts$vectors[, kept, drop = FALSE], cov[-i, i])
  left <- cov[i, i] - sum(along^2 / parts$values[kept])
  if (cov[i, i] == 0 || left / cov[i, i] < 1e-10) Inf else cov[i, i] / left
}
