#' @include ask-memory.R
NULL

# Some rows of some variables, in an order: a window on the data, for looking only. A question like
# those of ask-site.R: answered by one query where the rows are elsewhere.
#   names  variables
#   where  a condition on the rows, NULL for all
#   order  a list of `by`, a formula, and `down`, whether from the highest down; what is missing
#          comes last. Rows alike in it keep their place, of a table that by the identifier `id`
#   from, n  the place of the first, and how many
# Gives `columns`, for each variable `x` and `reason`, a text or NA; `rows`, their numbers, or NULL
# of a table; `id`, their identifiers, or NULL where there is none.
window_at <- function(site, names, ...) UseMethod("window_at")

#' @export
window_at.ableturn_memory <- function(site, names, where = NULL, order = list(), id = NULL,
                                      from = 1, n = 20, ...) {
  rows <- places_in_order(site, where, order)
  pick_window(site, names, window_of(rows %||% as.double(site$rows), from, n), id)
}

# Those of the rows in their order, from a place on; `rows` may be how many there are, in theirs.
window_of <- function(rows, from, n) {
  if (length(rows) != 1 || !is.double(rows)) return(rows[seq_len(length(rows)) >= from &
    seq_len(length(rows)) < from + n])
  places <- from - 1 + seq_len(max(0, min(n, rows - from + 1)))
  as.integer(places)
}

# The numbers of the rows for which a condition holds, in an order; NULL for all as they stand.
places_in_order <- function(site, where = NULL, order = list()) {
  if (is.null(where) && !length(order)) return(NULL)
  rows <- if (is.null(where)) seq_len(site$rows) else
    which(as_truth(full_length(evaluate(where, site), site$rows)))
  if (!length(order)) return(rows)
  keys <- lapply(order, function(one) sort_key(one, site)[rows])
  rows[do.call(base::order, c(unname(keys), method = "radix", na.last = TRUE))]
}

# Numbers that stand as the values do: of texts, their place among all.
sort_key <- function(one, site) {
  x <- full_length(evaluate(one$by, site), site$rows)
  if (is.character(x)) x <- match(x, sort_points(unique(x[!is.na(x)])))
  if (one$down) -xtfrm(x) else xtfrm(x)
}

# Some rows of variables in memory.
pick_window <- function(site, names, rows, id = NULL) {
  list(rows = rows, id = if (!is.null(id)) column_of(site$variable(id))$x[rows],
    columns = lapply(self_named(names), function(name) window_column(site$variable(name), rows)))
}

window_column <- function(variable, rows) {
  x <- column_of(variable)$x[rows]
  reason <- rep(NA_character_, length(rows))
  gone <- is.na(x)
  if (any(gone)) reason[gone] <- told_reasons(variable)[match(rows[gone],
    which(is.na(column_of(variable)$x)))]
  list(x = x, reason = reason)
}
