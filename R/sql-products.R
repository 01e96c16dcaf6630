# Questions about how the numbers of a table go together.

#' @export
products_at.ableturn_table_site <- function(site, xs, weight = NULL, total = FALSE,
                                            pairwise = FALSE, sample = FALSE, ...) {
  if (total) return(totals_of_items(site, xs))
  w <- if (!is.null(weight)) as.name(weight)
  if (pairwise) return(products_by_pairs(site, xs, w))
  products_of(site, xs, w, sample)
}

# Covariances over the rows that have a number in all of some formulas, and the means there. With a
# weight, of those that count.
products_of <- function(site, xs, w = NULL, sample = FALSE) {
  centre <- centres_of(xs, site)
  told <- products_asked(site, xs, centre, w, sample)
  n <- told$rows
  cov <- (told$products - tcrossprod(told$sums) / told$weight) / (told$weight * (n - 1) / n)
  list(complete = n, cov = cov, mean = centre + told$sums / told$weight)
}

products_by_pairs <- function(site, xs, w) {
  k <- length(xs)
  cov <- matrix(0, k, k)
  for (i in seq_len(k)) for (j in seq_len(i)) {
    pair <- products_of(site, xs[unique(c(i, j))], w)$cov
    cov[i, j] <- cov[j, i] <- pair[1, ncol(pair)]
  }
  list(cov = cov, complete = products_of(site, xs, w)$complete)
}

# The variances of some formulas, their covariances with the total, and its variance, over the rows
# that have all.
totals_of_items <- function(site, xs) {
  told <- totals_asked(site, xs, centres_of(xs, site))
  n <- told$rows
  total <- told$total[1]
  list(complete = n, own = (told$squares - told$sums^2 / n) / (n - 1),
    with_total = (told$products - told$sums * total / n) / (n - 1),
    total = (told$total[2] - total^2 / n) / (n - 1))
}

# A whole number between the ends of each variable, so that distances from it stay whole.
centres_of <- function(xs, site) {
  vapply(xs, function(node) {
    if (!is.symbol(node)) return(0)
    facts <- facts_of(site$variable(as.character(node)))
    middle <- round((facts$low + facts$high) / 2)
    if (is.finite(middle)) middle else 0
  }, 0)
}

# How many `rows` there are, the `sums` of the distances from the numbers `centre`, and of their
# `products`, two by two; each row counts with its weight, whose sum is `weight`.
products_asked <- function(site, nodes, centre, weight, sample) {
  k <- length(nodes)
  question <- distances_asked(site, nodes, centre, weight)
  if (sample) question <- of_hint_rows(question) %||% question
  x <- question$columns
  pairs <- which(upper.tri(diag(k), diag = TRUE), arr.ind = TRUE)
  each <- c("1.0", x[seq_len(k)], paste(x[pairs[, 1]], "*", x[pairs[, 2]]))
  counted <- if (is.null(weight)) each else paste(x[k + 1], "*", each)
  where <- if (!is.null(weight)) paste("WHERE", x[k + 1], "> 0")
  told <- in_chunks(c("1.0", counted), function(terms) sums_asked(question, terms, where))
  products <- matrix(0, k, k)
  products[pairs] <- products[pairs[, 2:1, drop = FALSE]] <- told[-seq_len(k + 2)]
  list(rows = told[1], weight = told[2], sums = told[2 + seq_len(k)], products = products)
}

# The same rows and distances, with the total of these in each row: `rows`, the `sums`, their
# `squares` and `products` with the total, and `total`, its own sum and square.
totals_asked <- function(site, nodes, centre) {
  k <- length(nodes)
  question <- distances_asked(site, nodes, centre, total = TRUE)
  all <- question$columns
  x <- all[seq_len(k)]
  told <- in_chunks(c("1.0", all, paste(all, "*", all), paste(x, "*", all[k + 1])),
    function(terms) sums_asked(question, terms, NULL))
  list(rows = told[1], sums = told[1 + seq_len(k)], squares = told[k + 2 + seq_len(k)],
    products = told[2 * k + 3 + seq_len(k)], total = told[c(k + 2, 2 * k + 3)])
}

# The distances of formulas from the numbers `centre`, each worked out once, in the rows that have a
# number in all of them and in the weight; the weight, or the `total` of the distances, comes last.
distances_asked <- function(site, nodes, centre, weight = NULL, total = FALSE) {
  question <- new_question(site, c(nodes, weight), numbers = Inf)
  x <- question$columns
  k <- seq_along(nodes)
  off <- ifelse(centre == 0, x[k], paste0("(", x[k], " - ", number_sql(centre, site$engine), ")"))
  tests <- vapply(x, finite_test, "", engine = site$engine)
  terms <- c(off, x[-k], if (total) paste(off, collapse = " + "))
  if (total) question$names <- c(question$names, "ask_total")
  question$from <- paste0("FROM (SELECT ", listed_sql(paste(terms, "AS", question$names)), " ",
    question$from, " WHERE ", paste(tests, collapse = " AND "), " ", site$engine$fence, ") AS s")
  question$columns <- paste0("s.", question$names)
  question
}
