# Findings about scores of several items.
find_in_items <- function(made, book) {
  out <- made$out
  if (!is_row_node(out$expr) || !made$turn$verb %in% c("composite", "instrument")) return(NULL)
  if (call_head(out$expr) == "row_valid") return(NULL)
  nodes <- row_items(out$expr)
  place <- place_of(book)
  names(nodes) <- vapply(nodes, function(node) formula_vars(node)[1], "")
  items <- lapply(nodes, function(node) as_number(evaluate(node, place)))
  list(
    maybe_unreversed(names(nodes), made), item_twice(items, out, book), mixed_ranges(items, out, book),
    partial_sum(made), few_valid(made), if (out$scale) direction_unknown(out)
  )
}

# The upper 95 percent bound of an item's correlation with the rest is below zero.
maybe_unreversed <- function(names, made) {
  spread <- made$receipt$items$spread
  n <- made$receipt$items$complete
  if (is.null(spread) || n < 30 || mean_size(stats::cov2cor(spread)) < 0.15) return(NULL)
  rest <- item_rest(spread)
  off <- tanh(atanh(pmax(-0.999999, pmin(rest, 0.999999))) + stats::qnorm(0.975) / sqrt(n - 3)) < 0
  off[is.na(off)] <- FALSE
  if (sum(off) > length(off) / 2) off <- !off
  if (!any(off)) return(NULL)
  new_finding("maybe-unreversed", made$out$name, items = paste(names[off], collapse = ", "),
    values = paste0(names[off], " (r = ", formatC(rest[off], digits = 2, format = "f"), ")"))
}

mean_size <- function(r) mean(abs(r[upper.tri(r)]))

# The same item, its copy or its own reversal.
item_twice <- function(items, out, book) {
  roots <- vapply(names(items), function(name) {
    made <- if (is_derived(book, name)) held(book, "columns")[[name]]
    if (!is.null(made) && made$verb %in% c("reverse", "rescale") && length(made$from) == 1) made$from else name
  }, "")
  twice <- names(items)[roots %in% roots[duplicated(roots)]]
  copies <- names(items)[duplicated(items)]
  copies <- Filter(function(name) length(unique(utils::head(items[[name]], 1000))) > 3, copies)
  twice <- unique(c(twice, copies))
  if (length(twice)) new_finding("item-twice", out$name, values = twice)
}

mixed_ranges <- function(items, out, book) {
  if (!out$scale) return(NULL)
  limits <- lapply(names(items), function(name) meaning_in(book, name)$limits)
  known <- !vapply(limits, is.null, NA)
  if (all(known)) {
    shown <- vapply(limits, function(l) paste(show_number(as.double(l)), collapse = " to "), "")
    if (length(unique(shown)) == 1) return(NULL)
    return(new_finding("mixed-ranges", out$name, values = paste0(names(items), " ", shown)))
  }
  ranges <- lapply(items, function(x) if (all(is.na(x))) NULL else range(x, na.rm = TRUE))
  if (length(unique(ranges)) == 1 || !any(mapply(reaches_beyond, items, ranges,
    MoreArgs = list(ranges = ranges)))) return(NULL)
  new_finding("mixed-ranges", out$name,
    values = paste0(names(items), " ", vapply(ranges, function(r) paste(show_number(r), collapse = " to "), "")))
}

# Whether 5 percent or more of an item's rows lie outside another's range.
reaches_beyond <- function(x, own, ranges) {
  others <- Filter(function(r) !is.null(r) && !is.null(own) && (own[1] < r[1] || own[2] > r[2]), unique(ranges))
  any(vapply(others, function(r) isTRUE(mean(x < r[1] | x > r[2], na.rm = TRUE) >= 0.05), NA))
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
