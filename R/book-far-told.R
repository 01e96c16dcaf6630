# What a receipt and the findings need to know of a variable that is made where the rows are: see
# branch_told() for rules, items_told() for scores, told_at_site() for its missing rows.

# As first_true() has it: how many rows each rule caught, and how many of these a later one would
# catch as well.
branch_told <- function(out, draft, branch, rows) {
  if (is.null(branch)) return(NULL)
  tests <- choose_parts(out$expr)$tests
  k <- length(tests)
  also <- matrix(0, k, k)
  if (k > 1) {
    # none comes before the first
    met <- tallies_by_at_site(info_of(draft)$site, draft, lapply(tests[-1], tally_node),
      branch_node(out$expr))
    some <- which(met$keys %in% seq_len(k))
    also[met$keys[some], -1] <- met$told[some, ]
    also[!upper.tri(also)] <- 0
  }
  counts <- function(of) sum(rows[branch %in% of])
  list(branch = as.integer(branch), rows = vapply(seq_len(k), counts, 0), none = counts(0),
    also = also)
}

# How many rows have how many items, and, where these make a scale, how they hang together.
items_told <- function(out, draft, valid, rows) {
  if (is.null(valid)) return(NULL)
  nodes <- row_items(out$expr)
  context <- list(value = function(name) values_of(draft, name),
    cells = function(name) cells_in(draft, name))
  items <- lapply(nodes, item_of, context = context,
    value_of = function(node, context) far_item(node, draft))
  items <- Map(with_ends_only, items, nodes, MoreArgs = list(book = draft))
  spread <- if (out$scale) spread_at_site(info_of(draft)$site, draft, nodes, hint = TRUE)
  list(items = items, with = rows_by(valid + 1L, seq(0, length(nodes)), rows), spread = spread,
    sums = if (isTRUE(spread$some)) sums_at_site(info_of(draft)$site, draft, nodes) else
      spread_sums(spread))
}

# Of an item of many answers its ends are known, as if they were all its answers.
with_ends_only <- function(item, node, book) {
  if (!is.null(item$cells)) return(item)
  facts <- facts_of(book, formula_vars(node)[1])
  item$cells <- list(codes = far_codes(NULL, list()), values = c(facts$low, facts$high),
    rows = c(1L, 1L))
  item
}

# A variable, or something without rows that has the type of what is worked out.
far_item <- function(node, book) {
  if (is.symbol(node)) values_of(book, as.character(node)) else numeric()
}

# As item_sums() has it: the variances of some formulas, their covariances with the total, and its
# variance, over the rows that have all.
spread_sums <- function(spread) {
  if (is.null(spread)) return(NULL)
  list(complete = spread$complete, own = diag(spread$cov), with_total = rowSums(spread$cov),
    total = sum(spread$cov))
}

# The same, where the spread is that of some rows.
sums_at_site <- function(site, book, nodes) {
  told <- totals_at_site(site, book, nodes, centres_of(nodes, book))
  n <- told$rows
  total <- told$total[1]
  list(complete = n, own = (told$squares - told$sums^2 / n) / (n - 1),
    with_total = (told$products - told$sums * total / n) / (n - 1),
    total = (told$total[2] - total^2 / n) / (n - 1))
}

# Covariances over the rows that have a number in all of some formulas, the means there, and how
# many these rows are. With a weight, of those that count.
spread_at_site <- function(site, book, nodes, weight = NULL, hint = FALSE) {
  centre <- centres_of(nodes, book)
  told <- products_at_site(site, book, nodes, centre, weight = weight, hint = hint)
  n <- told$rows
  cov <- (told$products - tcrossprod(told$sums) / told$weight) / (told$weight * (n - 1) / n)
  list(complete = n, cov = cov, mean = centre + told$sums / told$weight, some = told$some)
}

centres_of <- function(nodes, book) {
  vapply(nodes, function(node) {
    if (is.symbol(node)) middle_of_facts(facts_of(book, as.character(node))) else 0
  }, 0)
}

# A whole number between the ends, so that distances from it stay whole.
middle_of_facts <- function(facts) {
  middle <- round((facts$low + facts$high) / 2)
  if (is.finite(middle)) middle else 0
}

# Of the missing rows: which sources lack an answer, which values no rule caught; and what became of
# values on an end of a range.
told_at_site <- function(out, draft, kinds) {
  list(lacking = lacking_at_site(out, draft, kinds), unmatched = unmatched_at_site(out, draft,
    kinds), boundary = boundary_at_site(out, draft))
}

# The rows of one reason of the variable.
rows_of_reason <- function(out, draft, kinds, kind) {
  call("==", call("first_valid", reason_node(out$name, kinds, draft), 0), match(kind, kinds))
}

lacking_at_site <- function(out, draft, kinds) {
  vague <- "a source is missing"
  if (length(out$from) < 2 || !vague %in% kinds) return(NULL)
  here <- rows_of_reason(out, draft, kinds, vague)
  sources <- lapply(self_named(out$from), function(name) {
    kinds <- column_in(draft, name)$kinds
    counts_by_kind(rows_by_reason(draft, name, kinds, here), kinds)
  })
  none <- Reduce(function(a, b) call("&", a, b), lapply(out$from,
    function(name) call("!", call("unanswered", as.name(name)))))
  before <- rows_where(draft, call("&", here, none))
  if (before > 0) sources[["the occasion before"]] <- c(missing = before)
  most_first(sources)
}

unmatched_at_site <- function(out, draft, kinds) {
  table <- identical(out$lost, "not in the table")
  kind <- if (table) out$lost else "unmatched"
  if (!kind %in% kinds || !table && is.null(out$rules)) return(NULL)
  site <- info_of(draft)$site
  found <- groups_at_site(site, draft, lapply(out$from, as.name), site$most,
    rows_of_reason(out, draft, kinds, kind))
  if (is.null(found)) fail("unmatched-many", name = out$name, most = grouped(site$most))
  if (!length(found$rows)) return(NULL)
  counted_answers(out, found$keys, found$rows)
}

boundary_at_site <- function(out, draft) {
  if (length(out$from) != 1) return(NULL)
  points <- sort(boundary_points(out))
  if (!length(points)) return(NULL)
  source <- as.name(out$from)
  found <- groups_at_site(info_of(draft)$site, draft, list(source, as.name(out$name)),
    length(points), as.call(list(as.name("%in%"), call("+", source, 0), points)))
  if (!length(found$rows)) return(NULL)
  order <- order(found$keys[[1]])
  x <- as_column(found$keys[[2]], derived_in(draft, out$name)$x)
  quick_table(value = found$keys[[1]][order], rows = found$rows[order], code = show_value(x[order]))
}
