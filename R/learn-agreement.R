# How far coders agree, from the combinations of their codes and the rows of each.

# That of some coders by their names, NULL where there are too many combinations of codes.
agreement_at <- function(site, names, meaning) {
  found <- counts_at(site, lapply(names, as.name), most = register_values)
  if (is.null(found)) return(NULL)
  agreement_of(found$keys, found$rows, meaning$level %||% "nominal", meaning$codes)
}

# `keys`: a column for each coder; `level`: of the codes; `codes`: their order, where there is one.
# Gives `rows` that all have coded, `kappa`, and all figures in `words`.
agreement_of <- function(keys, rows, level, codes = NULL) {
  values <- unique(unlist(lapply(keys, function(x) as.vector(x[!is.na(x)]))))
  ordered <- category_order(values, codes)
  place <- matrix(unlist(lapply(keys, match, ordered)), ncol = length(keys))
  all <- rowSums(is.na(place)) == 0
  both <- place[all, , drop = FALSE]
  n <- rows[all]
  kappas <- if (!sum(n)) NULL else if (ncol(both) == 2) {
    kappa_of_two(both, n, length(ordered), level)
  } else {
    list(kappa = fleiss_kappa(both, n, length(ordered)), name = "Fleiss' kappa")
  }
  sizes <- if (is.numeric(ordered)) as.double(ordered) else seq_along(ordered)
  alpha <- krippendorff_alpha(place, rows, sizes, level)
  list(rows = sum(n), coders = length(keys), kappa = kappas$weighted %||% kappas$kappa,
    words = agreement_words(both, n, kappas, alpha))
}

agreement_words <- function(both, n, kappas, alpha) {
  figure <- function(name, value) {
    paste(name, if (is.null(value) || is.na(value)) "not defined" else two_digits(value))
  }
  same <- if (sum(n)) sum(n[rowSums(both != both[, 1]) == 0]) / sum(n)
  c(if (!is.null(same)) paste0(round(100 * same), " % the same"),
    kappa = figure(kappas$name %||% "Cohen's kappa", kappas$kappa),
    if (!is.null(kappas$weighted)) figure("weighted kappa", kappas$weighted),
    figure("Krippendorff's alpha", alpha))
}

# Cohen (1960), and for codes with an order weighted by the squared distances of their places
# (1968).
kappa_of_two <- function(both, n, k, level) {
  table <- matrix(0, k, k)
  for (i in seq_along(n)) table[both[i, 1], both[i, 2]] <- table[both[i, 1], both[i, 2]] + n[i]
  share <- table / sum(table)
  expected <- outer(rowSums(share), colSums(share))
  by <- function(distance) {
    if (sum(distance * expected) == 0) NA_real_ else
      1 - sum(distance * share) / sum(distance * expected)
  }
  list(name = "Cohen's kappa", kappa = by(1 - diag(k)),
    weighted = if (level %in% c("ordinal", "interval", "ratio")) {
      by(outer(seq_len(k), seq_len(k), function(a, b) (a - b)^2))
    })
}

# Fleiss (1971): how many of the coders of a row gave each code.
fleiss_kappa <- function(both, n, k) {
  coders <- ncol(both)
  given <- matrix(vapply(seq_len(k), function(code) rowSums(both == code), numeric(nrow(both))),
    nrow(both))
  agreed <- sum(n * (rowSums(given^2) - coders)) / (coders * (coders - 1)) / sum(n)
  chance <- sum((colSums(n * given) / (sum(n) * coders))^2)
  if (chance == 1) NA_real_ else (agreed - chance) / (1 - chance)
}

# Krippendorff (2004, ch. 11): one less the observed over the expected disagreement of pairs of
# codes, each row counting by its codes; rows with a single code have no pairs.
krippendorff_alpha <- function(place, rows, sizes, level) {
  k <- length(sizes)
  given <- matrix(vapply(seq_len(k), function(code) rowSums(place == code, na.rm = TRUE),
    numeric(nrow(place))), nrow(place))
  m <- rowSums(given)
  use <- m > 1
  if (!any(use)) return(NA_real_)
  part <- given[use, , drop = FALSE]
  by <- rows[use] / (m[use] - 1)
  coincidence <- crossprod(part, by * part) - diag(colSums(by * part), k)
  totals <- rowSums(coincidence)
  distance <- code_distances(totals, sizes, level)
  expected <- sum(outer(totals, totals) * distance) / (sum(totals) - 1)
  if (expected == 0) NA_real_ else 1 - sum(coincidence * distance) / expected
}

# The squared distance of two codes by their level.
code_distances <- function(totals, sizes, level) {
  k <- length(totals)
  switch(level,
    ordinal = {
      upto <- cumsum(totals) - totals / 2
      outer(upto, upto, function(a, b) (a - b)^2)
    },
    interval = outer(sizes, sizes, function(a, b) (a - b)^2),
    ratio = outer(sizes, sizes, function(a, b) ifelse(a + b == 0, 0, ((a - b) / (a + b))^2)),
    1 - diag(k))
}
