# What a receipt says of a composite: how many rows rest on how many items, and how the items hang together.
item_counts <- function(out, valid, place) {
  if (is.null(valid) || !is_row_node(out$expr)) return(NULL)
  nodes <- row_items(out$expr)
  counts <- tabulate(valid + 1L, length(nodes) + 1L)
  names(counts) <- seq_along(counts) - 1L
  told <- list(of = length(nodes), at_least = as.list(out$expr)$at_least %||% length(nodes), rows = rev(counts))
  if (!out$scale) return(told)
  items <- lapply(nodes, function(node) as_number(evaluate(node, place)))
  names(items) <- vapply(nodes, formula_text, "")
  c(told, agreement(items))
}

# Cronbach's alpha over rows with every item.
agreement <- function(items) {
  matrix <- do.call(cbind, items)
  complete <- matrix[rowSums(is.na(matrix)) == 0, , drop = FALSE]
  spread <- stats::var(complete)
  if (nrow(complete) < 3 || anyNA(spread) || any(diag(spread) == 0)) return(list(complete = nrow(complete)))
  k <- ncol(complete)
  list(complete = nrow(complete), spread = spread, alpha = k / (k - 1) * (1 - sum(diag(spread)) / sum(spread)))
}

# Each item's correlation with the sum of the others, from the covariances.
item_rest <- function(spread) {
  own <- diag(spread)
  with_all <- rowSums(spread)
  (with_all - own) / sqrt(own * (sum(spread) - 2 * with_all + own))
}
