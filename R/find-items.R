# Findings about scores of several items.
find_in_items <- function(made, book) {
  out <- made$out
  if (!is_row_node(out$expr) || !has_trait(made$turn$verb, "scores items")) return(NULL)
  if (call_head(out$expr) == "row_valid") return(NULL)
  nodes <- row_items(out$expr)
  items <- made$full$items
  names(items) <- vapply(nodes, function(node) formula_vars(node)[1], "")
  facts <- Map(item_facts, nodes, items, MoreArgs = list(book = book, times = made$full$times))
  list(
    maybe_unreversed(items, made), item_twice(items, out, book),
    mixed_ranges(items, facts, out, book),
    partial_sum(made), few_valid(made), reversed_again(made, book),
    if (out$scale) direction_unknown(out), unrelated_item(names(items), made, book),
    shared_items(names(items), made, book)
  )
}

# The facts of an item as it goes into the score: those of its column, turned round where it is
# reversed.
item_facts <- function(node, item, book, times = NULL) {
  if (is.symbol(node) && !has_text(book, as.character(node))) {
    return(facts_of(book, as.character(node)))
  }
  facts <- if (!is.null(times)) facts_in_cells(item$x, times) else
    if (is.null(item$cells)) facts_of_column(item$x) else
      facts_in_cells(item$cells$values, item$cells$rows)
  if (item$sign == 1) return(facts)
  facts[c("low", "high")] <- list(item$shift - facts$high, item$shift - facts$low)
  facts[c("values", "rows")] <- list(rev(item$shift - facts$values), rev(facts$rows))
  facts
}

# Items that point the other way, in a sample of the rows where there are many. A negative alpha is
# told whatever its cause.
maybe_unreversed <- function(items, made) {
  rest <- made$receipt$items$rest
  if (is.null(rest)) return(NULL)
  off <- if (is.null(made$full$spread)) {
    point_the_other_way(items_in_rows(items, hint_places(items[[1]]$x, made$full$times)))
  } else {
    far_the_other_way(made$full$spread)
  }
  alpha <- made$receipt$items$alpha
  told <- function(off) paste0(names(items)[off], " (r = ", two_digits(rest[off]), ")")
  if (any(off)) return(new_finding("maybe-unreversed", made$out$name,
    items = paste(names(items)[off], collapse = ", "), values = told(off)))
  if (isTRUE(alpha < 0)) new_finding("negative-alpha", made$out$name, alpha = two_digits(alpha),
    values = told(which(rest < 0)))
}

# The items that point the other way on what all items share, the first eigenvector of their
# correlations, where these are 0.15 in size on average.
point_the_other_way <- function(items) {
  complete <- Reduce(`&`, lapply(items, function(item) !is.na(item$x)))
  if (sum(complete) < 30) return(rep(FALSE, length(items)))
  spread <- item_spread(kernel_items(items), items_shift(items), items_sign(items))
  against_the_rest(spread, sum(complete))
}

# Where the rows are elsewhere, the spread of such a sample, or of all.
far_the_other_way <- function(spread) {
  if (spread$complete < 30) return(rep(FALSE, ncol(spread$cov)))
  against_the_rest(spread$cov, spread$complete)
}

# A fixed sample of the rows for what is only a hint: one from each of 10,000 stretches of equal
# length, at places that no regular order of the rows can meet time and again.
hint_rows <- function(rows, most = 10000) {
  if (rows <= most) return(seq_len(rows))
  stretch <- seq_len(most)
  as.integer((stretch - 1 + (stretch * (sqrt(5) - 1) / 2) %% 1) * rows / most) + 1L
}

# The same of cells that stand for some rows each, as if these stood one after the other.
hint_places <- function(x, times = NULL) {
  if (is.null(times)) return(hint_rows(length(x)))
  ends <- cumsum(as.double(times))
  findInterval(hint_rows(ends[length(ends)]) - 1, ends) + 1L
}

# The smaller side, or the one without the first item. An item that has nothing to do with the
# others is on no side: turned round, its correlation with them must be above zero with 97.5 percent
# certainty.
against_the_rest <- function(spread, n) {
  none <- rep(FALSE, ncol(spread))
  use <- which(diag(spread) > 0)
  if (length(use) < 2) return(none)
  r <- stats::cov2cor(spread[use, use, drop = FALSE])
  if (anyNA(r) || mean(abs(r[upper.tri(r)])) < 0.15) return(none)
  side <- sign(eigen(r, symmetric = TRUE)$vectors[, 1])
  off <- side == if (sum(side) == 0) -side[1] else -sign(sum(side))
  turned <- ifelse(off, -1, 1)
  sure <- tanh(stats::qnorm(0.975) / sqrt(n - 3))
  none[use] <- off & item_rest(r * outer(turned, turned)) > sure
  none
}

# Finds an item that stands twice in a score: itself, a copy of it, or its own reversal.
item_twice <- function(items, out, book) {
  roots <- asked_items(names(items), book)
  twice <- names(items)[roots %in% roots[duplicated(roots)]]
  if (is_on_site(book)) return(far_item_twice(twice, items, out, book))
  starts <- lapply(items, function(item) item_values(replace_x(item, utils::head(item$x, 1000))))
  copies <- if (anyDuplicated(starts)) names(items)[duplicated(lapply(items, item_values))]
  twice <- unique(c(twice, Filter(function(name) length(unique(starts[[name]])) > 3, copies)))
  if (length(twice)) new_finding("item-twice", out$name, values = twice)
}

# Of items with the same mark all rows are compared, whichever way round they go in.
far_item_twice <- function(twice, items, out, book) {
  signs <- items_sign(items)
  names <- names(items)
  marks <- vapply(names, function(name) mark_of(NULL, column_in(book, name)), 0)
  again <- Filter(function(i) {
    before <- which(marks == marks[i] & signs == signs[i])
    before <- before[before < i]
    any(vapply(names[before], function(other) rows_apart(names[i], book, other, book) == 0, NA)) &&
      facts_of(book, names[i])$valid > 0 && length(facts_of(book, names[i])$values) > 3
  }, seq_along(names))
  twice <- unique(c(twice, names[again]))
  if (length(twice)) new_finding("item-twice", out$name, values = twice)
}

# A reversed item that the composite reverses once more.
reversed_again <- function(made, book) {
  twice <- Filter(function(name) verb_of(book, name) == "reverse", made$turn$reversed)
  first <- vapply(twice, function(name) derived_in(book, name)$from[1], "")
  if (length(twice)) {
    new_finding("reversed-twice", made$out$name, source = twice[1], first = first[1])
  }
}

partial_sum <- function(made) {
  options <- as.list(made$out$expr)
  k <- length(row_items(made$out$expr))
  if (call_head(made$out$expr) != "row_sum" || isTRUE(options$prorate)) return(NULL)
  with_items <- made$receipt$items$rows
  valid <- as.integer(names(with_items))
  short <- sum(with_items[valid < k & valid >= (options$at_least %||% k)])
  if (short) new_finding("partial-sum", made$out$name, values = counted(short, "row"))
}

few_valid <- function(made) {
  with_items <- made$receipt$items$rows
  some <- sum(with_items[names(with_items) != "0"])
  scored <- made$column$facts$valid
  if (some < 20 || scored >= some / 2) return(NULL)
  new_finding("few-valid", made$out$name, values = paste(scored, "of the", some,
    "rows that have a valid item"))
}
