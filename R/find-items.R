# Findings about scores of several items.
find_in_items <- function(made, book) {
  out <- made$out
  nodes <- row_items(out$expr)
  names(nodes) <- vapply(nodes, function(node) formula_vars(node)[1], "")
  facts <- Map(item_facts, nodes, made$sources[names(nodes)])
  list(
    maybe_unreversed(nodes, made), item_twice(nodes, facts, made),
    mixed_ranges(nodes, facts, made, book),
    if (made$words[1] == "row_sum") partial_sum(made), few_valid(made),
    if (length(made$turn$reversed)) reversed_again(made), if (out$scale) direction_unknown(out),
    unrelated_item(names(nodes), made), if (out$scale) alpha_by_group(nodes, made, book),
      if (made$turn$verb == "composite") shared_items(
      names(nodes), made, book)
  )
}

# The facts of an item as it goes into the score: those of its variable, turned round where it is
# reversed; as if its ends were all its answers where it is worked out otherwise.
item_facts <- function(node, variable) {
  facts <- number_facts(variable)
  if (is.symbol(node)) return(facts)
  small <- site_of_columns(setNames(list(new_column(c(facts$low, facts$high, facts$values))),
    variable$name), setNames(list(variable), variable$name), rep(1L, 2 + length(facts$values)))
  x <- as.double(as_number(full_length(evaluate(node, small), small$rows)))
  facts[c("low", "high")] <- list(min(x[1:2]), max(x[1:2]))
  order <- order(x[-(1:2)])
  facts[c("values", "rows")] <- list(x[-(1:2)][order], facts$rows[order])
  facts
}

# What is known of a variable as numbers: of texts what they hold.
number_facts <- function(variable) {
  facts <- facts_of(variable)
  if (!has_text(variable)) return(facts)
  seen <- numbers_of(variable)
  list(valid = sum(seen$rows), few = facts$few, low = c(seen$values, NA)[1],
    high = c(rev(seen$values), NA)[1], negatives = 0L, values = seen$values, rows = seen$rows)
}

# Items that point the other way, in a sample of the rows where there are many. A negative alpha is
# told whatever its cause.
maybe_unreversed <- function(nodes, made) {
  rest <- made$receipt$items$rest
  if (is.null(rest)) return(NULL)
  off <- point_the_other_way(products_at(made$outcome$at, unname(nodes), sample = TRUE))
  alpha <- made$receipt$items$alpha
  told <- function(off) paste0(names(nodes)[off], " (r = ", two_digits(rest[off]), ")")
  if (any(off)) return(new_finding("maybe-unreversed", made$out$name,
    items = paste(names(nodes)[off], collapse = ", "), values = told(off)))
  if (isTRUE(alpha < 0)) new_finding("negative-alpha", made$out$name, alpha = two_digits(alpha),
    values = told(which(rest < 0)))
}

# Finds an item that stands twice in a score: itself, a copy of it, or its own reversal. Of items
# about which the same is known all rows are compared, if the first ones are the same.
item_twice <- function(nodes, facts, made) {
  names <- names(nodes)
  roots <- asked_items(made$sources[names])
  twice <- names[roots %in% roots[duplicated(roots)]]
  like <- vapply(facts, function(f) paste(f$valid, f$low, f$high, length(f$values)), "")
  again <- Filter(function(i) {
    before <- which(like[seq_len(i - 1)] == like[i] & names[seq_len(i - 1)] != names[i])
    length(facts[[i]]$values) > 3 && facts[[i]]$valid > 0 &&
      any(vapply(before, function(other) same_items(nodes[[other]], nodes[[i]], made), NA))
  }, which(duplicated(like)))
  twice <- unique(c(twice, names[again]))
  if (length(twice)) new_finding("item-twice", made$out$name, values = twice)
}

# Whether two items are the same in every row.
same_items <- function(a, b, made) {
  exact <- is_exact(made$sources[[formula_vars(a)[1]]]$x)
  are_equal(made$outcome$at, a, b, exact)
}

# A reversed item that the composite reverses once more.
reversed_again <- function(made) {
  twice <- Find(function(source) identical(source$verb, "reverse"),
    made$sources[made$turn$reversed])
  if (!is.null(twice)) {
    new_finding("reversed-twice", made$out$name, source = twice$name, first = twice$from[1])
  }
}

partial_sum <- function(made) {
  options <- as.list(made$out$expr)
  k <- length(row_items(made$out$expr))
  if (isTRUE(options$prorate)) return(NULL)
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

# Whether the items hang together less in one group than in another: by the variables that are
# stated as groups, or those within which something was worked out before.
alpha_by_group <- function(nodes, made, book) {
  if (!isTRUE(made$receipt$items$alpha > 0)) return(NULL)
  site <- site_of(book)
  for (by in groups_of_book(book)) {
    # a hint that a site refuses is left out
    groups <- tryCatch(if (!shares_units(book, by)) reliability_by(nodes, site, by,
      list(omega = FALSE, ordinal = FALSE), sample = TRUE), ableturn_error = function(e) NULL)
    if (is.null(groups)) next
    groups <- groups[groups$complete >= 30, ]
    if (!isTRUE(group_differences(groups, FALSE)$apart)) next
    return(new_finding("alpha-by-group", made$out$name, source = by, values = paste(groups$group,
      two_digits(groups$alpha))))
  }
}

groups_of_book <- function(book) {
  stated <- Filter(function(name) identical(meaning_in(book, name)$role, "groups"), names(book))
  if (length(stated)) return(utils::head(stated, 3))
  within <- unlist(lapply(steps_of(book), function(entry) entry$turn$within))
  utils::head(unique(intersect(within, names(book))), 3)
}
