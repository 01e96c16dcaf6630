# What a receipt says of a composite: how many rows rest on how many items, and how the items hang together.
item_counts <- function(out, full) {
  if (is.null(full$valid) || !is_row_node(out$expr)) return(NULL)
  nodes <- row_items(out$expr)
  counts <- self_numbered(seq_along(full$with) - 1L, full$with)
  told <- list(of = length(nodes), at_least = as.list(out$expr)$at_least %||% length(nodes), rows = rev(counts))
  if (!out$scale) return(told)
  names(full$items) <- vapply(nodes, formula_text, "")
  c(told, agreement(full$items, full$valid))
}

# Cronbach's alpha over rows with every item.
agreement <- function(items, valid) {
  told <- item_spread(items, valid)
  spread <- told$spread
  dimnames(spread) <- list(names(items), names(items))
  if (told$complete < 3 || anyNA(spread) || any(diag(spread) == 0)) return(told["complete"])
  list(complete = told$complete, spread = spread, alpha = alpha_of(spread))
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

# How many rows have at least one, two, ... valid items of a score.
rows_with_items <- function(made) rev(cumsum(rev(made$counts$with[-1])))
