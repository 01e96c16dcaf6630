# What a receipt says of a composite: how many rows rest on how many items, and how the items hang together.
item_counts <- function(out, full) {
  if (is.null(full$with) || !is_row_node(out$expr)) return(NULL)
  nodes <- row_items(out$expr)
  counts <- self_numbered(seq_along(full$with) - 1L, full$with)
  told <- list(of = length(nodes), at_least = as.list(out$expr)$at_least %||% length(nodes), rows = rev(counts))
  if (!out$scale) return(told)
  c(told, agreement(full$items, full$sums))
}

# Cronbach's alpha over rows with every item, and each item's correlation with the sum of the others.
agreement <- function(items, sums) {
  told <- sums %||% item_sums(lapply(items, `[[`, "x"), items_shift(items), items_sign(items))
  own <- told$own
  if (told$complete < 3 || anyNA(own) || anyNA(told$total) || any(own <= 0)) return(told["complete"])
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

# How many rows have at least one, two, ... valid items of a score.
rows_with_items <- function(made) rev(cumsum(rev(made$counts$with[-1])))
