# Cut points and distributions of columns that are asked where the rows are, see
# formula-learn-far.R.

# The same as learn_cuts() gives.
learn_far_cuts <- function(call, of, context) {
  part <- far_parts(call, context)
  known <- context$ask$moments(part$x, list())
  rows <- known$told[, "rows"]
  if (!length(rows)) fail("nothing-to-learn", of = of, rows = counted(0, "row"))
  groups <- part$others[[1]]
  inner <- seq_len(groups - 1)
  cuts <- switch(part$others[[2]],
    width = width_cuts(known$told[1, c("min", "max")], inner, groups),
    count = far_count_cuts(part, groups, isTRUE(part$others[3][[1]]), context$ask),
    spread = far_spread_cuts(part, inner - groups / 2, known, context$ask),
    gaps = gap_cuts(far_distribution(part, context)[[1]], groups)
  )
  cuts <- unique(unname(cuts))
  if (!all(is.finite(cuts))) fail("nothing-to-learn", of = of, rows = counted(rows, "row"))
  new_note(of, cuts, as.integer(rows))
}

far_spread_cuts <- function(part, steps, known, ask) {
  value <- function(head) {
    if (is.null(part$w)) known$told[1, head] else weighted_far(head, part, known, ask)
  }
  value("mean") + value("sd") * steps
}

# See count_cuts(): between two values, `low` and `high`, that are bands of their own.
far_count_cuts <- function(part, groups, ends, ask, low = -Inf, high = Inf) {
  if (!is.null(part$w)) fail("weighted-ranks", what = "bands of equal count")
  if (groups < 2) return(numeric())
  x <- between_node(part$x, low, high)
  known <- ask$moments(x, list())
  shares <- seq_len(groups - 1) / groups
  cuts <- ranked_far(x, shares, known, list(), ask)
  heavy <- cuts[duplicated(cuts)]
  held <- if (length(heavy)) ask$groups(list(), 1, call("==", x, heavy[1]))$rows
  if (!sum(held)) {
    cuts <- unique(cuts)
    return(cuts[which(far_bands(x, cuts, ends, ask)$rows > 0)[-1] - 1L])
  }
  sides <- list(c(low, heavy[1]), c(heavy[1], high))
  told <- lapply(sides, function(side) {
    ask$moments(between_node(part$x, side[1], side[2]), list())$told
  })
  rows <- vapply(told, function(side) if (nrow(side)) side[1, "rows"] else 0, 0)
  bands <- bands_beside(rows, groups - 1)
  inner <- Map(function(side, k) {
    if (k) far_count_cuts(part, k, ends, ask, side[1], side[2])
  }, sides, bands)
  as.double(c(inner[[1]], if (bands[1]) if (ends) told[[1]][1, "max"] else heavy[1],
    if (bands[2]) if (ends) heavy[1] else told[[2]][1, "min"], inner[[2]]))
}

between_node <- function(x, low, high) {
  tests <- c(if (is.finite(low)) list(call(">", x, low)), if (is.finite(high)) list(call("<", x,
    high)))
  if (length(tests)) call("choose", Reduce(function(a, b) call("&", a, b), tests), x) else x
}

# The rows of each band between some cuts, with the ends there: see band_ends().
far_bands <- function(x, cuts, ends, ask) {
  band <- if (ends) call("cuts_below", x, cuts) else
    call("cuts_below", call("-", 0, x), rev(-cuts))
  place <- function(key) if (ends) key + 1 else length(cuts) + 1 - key
  found <- ask$ends(x, list(band))
  at <- match(seq_len(length(cuts) + 1), place(found$keys[[1]]))
  list(rows = found$told$rows[at] %|% 0, low = found$told$low[at] %|% Inf,
    high = found$told$high[at] %|% -Inf)
}

# The distinct values of each group and the weight at or below each, with how many rows there are;
# `groups` holds the values that tell a group.
far_distribution <- function(part, context) {
  ask <- context$ask
  found <- ask$groups(c(list(part$x), part$within, if (!is.null(part$w)) list(part$w)), ask$most)
  if (is.null(found)) fail("distribution-many", what = formula_text(part$x),
    most = grouped(ask$most))
  keys <- found$keys
  g <- seq_along(part$within)
  keys[1 + g] <- typed_keys(keys[1 + g], part$within, context)
  use <- is.finite(as_number(keys[[1]])) & Reduce(`&`, lapply(keys, function(x) !is.na(x)))
  cell <- if (length(g)) cell_of(keys[1 + g], far_cells(keys[1 + g], part$within)$levels) else
    rep(1, length(use))
  lapply(unname(split(which(use), cell[use])), function(i) {
    w <- if (!is.null(part$w)) keys[[length(keys)]][i]
    seen <- distribution_of(as.double(as_number(keys[[1]][i])), w, found$rows[i])
    c(seen, list(rows = sum(found$rows[i]), groups = lapply(keys[1 + g], function(x) x[i[1]])))
  })
}

learn_far_distribution <- function(call, of, context) {
  part <- far_parts(call, context)
  found <- far_distribution(part, context)
  if (!length(found)) fail("nothing-to-learn", of = of, rows = counted(0, "row"))
  lapply(found, function(seen) {
    groups <- setNames(seen$groups, vapply(part$within, as.character, ""))
    new_note(of, seen$values, as.integer(seen$rows), seen$cumulative,
      if (length(groups)) groups)
  })
}
