# Findings about scores of several items.
find_in_items <- function(made, book) {
  out <- made$out
  if (!is_row_node(out$expr) || !made$turn$verb %in% c("composite", "instrument")) return(NULL)
  if (call_head(out$expr) == "row_valid") return(NULL)
  nodes <- row_items(out$expr)
  place <- place_of(book)
  items <- lapply(nodes, function(node) as_number(evaluate(node, place)))
  names(items) <- vapply(nodes, function(node) formula_vars(node)[1], "")
  list(
    maybe_unreversed(items, out), item_twice(items, out, book), mixed_ranges(items, out, book),
    partial_sum(made), few_valid(made), direction_unknown(out)
  )
}

# The upper 95 percent bound of an item's correlation with the rest is below zero.
maybe_unreversed <- function(items, out) {
  if (!out$scale) return(NULL)
  matrix <- do.call(cbind, items)
  complete <- matrix[rowSums(is.na(matrix)) == 0, , drop = FALSE]
  n <- nrow(complete)
  if (n < 30 || ncol(complete) < 2) return(NULL)
  spread <- stats::var(complete)
  if (any(diag(spread) == 0)) return(NULL)
  r <- stats::cov2cor(spread)
  rest <- item_rest(spread)
  off <- tanh(atanh(pmin(rest, 0.999999)) + stats::qnorm(0.975) / sqrt(n - 3)) < 0
  if (!any(off) || mean(abs(r[upper.tri(r)])) < 0.15) return(NULL)
  if (sum(off) > length(off) / 2) off <- !off
  if (!any(off)) return(NULL)
  new_finding("maybe-unreversed", out$name, items = paste(names(items)[off], collapse = ", "),
    values = paste0(names(items)[off], " (r = ", formatC(rest[off], digits = 2, format = "f"), ")"))
}

# The same item, its copy or its own reversal.
item_twice <- function(items, out, book) {
  roots <- vapply(names(items), function(name) {
    made <- if (is_derived(book, name)) held(book, "columns")[[name]]
    if (!is.null(made) && made$verb %in% c("reverse", "rescale") && length(made$from) == 1) made$from else name
  }, "")
  twice <- names(items)[roots %in% roots[duplicated(roots)]]
  copies <- names(items)[duplicated(items) & lengths(lapply(items, function(x) unique(x[!is.na(x)]))) > 2]
  twice <- unique(c(twice, copies))
  if (length(twice)) new_finding("item-twice", out$name, values = twice)
}

mixed_ranges <- function(items, out, book) {
  if (!out$scale) return(NULL)
  limits <- lapply(names(items), function(name) meaning_in(book, name)$limits)
  known <- !vapply(limits, is.null, NA)
  if (all(known) && !any(vapply(items, function(x) any(x < 0, na.rm = TRUE), NA))) {
    shown <- vapply(limits, function(l) paste(show_number(as.double(l)), collapse = " to "), "")
    if (length(unique(shown)) == 1) return(NULL)
    return(new_finding("mixed-ranges", out$name, values = paste0(names(items), " ", shown)))
  }
  ranges <- lapply(items, function(x) if (all(is.na(x))) c(NA, NA) else range(x, na.rm = TRUE))
  outside <- vapply(items, function(x) {
    any(vapply(ranges, function(r) !anyNA(r) && mean(x < r[1] | x > r[2], na.rm = TRUE) >= 0.05, NA))
  }, NA)
  if (!any(outside)) return(NULL)
  new_finding("mixed-ranges", out$name,
    values = paste0(names(items), " ", vapply(ranges, function(r) paste(show_number(r), collapse = " to "), "")))
}

partial_sum <- function(made) {
  options <- as.list(made$out$expr)
  k <- length(row_items(made$out$expr))
  if (call_head(made$out$expr) != "row_sum" || isTRUE(options$prorate)) return(NULL)
  short <- sum(made$full$valid < k & made$full$valid >= (options$at_least %||% k))
  if (short) new_finding("partial-sum", made$out$name, values = paste(short, "row(s)"))
}

few_valid <- function(made) {
  some <- sum(made$full$valid > 0)
  scored <- sum(!is.na(made$column$x))
  if (some < 20 || scored >= some / 2) return(NULL)
  new_finding("few-valid", made$out$name, values = paste(scored, "of the", some, "rows that have a valid item"))
}

direction_unknown <- function(out) {
  if (out$scale && is.null(out$meaning$high) && is.null(out$meaning$low)) new_finding("direction-unknown", out$name)
}
