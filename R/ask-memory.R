# Rows in memory as a site, and answers in memory, each of which stands for `times` rows. Formulas
# are evaluated over the values of its variables, see evaluate(), to which such a site is the
# context.
new_memory_site <- function(variable, rows, times = NULL) {
  structure(list(
    variable = variable, value = function(name) values_of(variable(name)),
    cells = if (is.null(times)) function(name) cells_of(variable(name)),
    kind = function(name, kind) is_kind(column_of(variable(name)), kind),
    rows = rows, times = times, memo = new.env()
  ), class = "ableturn_memory")
}

#' @export
scoped.ableturn_memory <- function(site, variable) {
  new_memory_site(variable, site$rows, site$times)
}

#' @export
with_rows_of.ableturn_memory <- function(site, variable) {
  site$rows <- if (is.null(variable$x)) length(variable$raw) else length(variable$x)
  site
}

#' @export
can.ableturn_memory <- function(site, ability) TRUE

#' @export
read_index.ableturn_memory <- function(site, variable) index_of_raw(variable$raw)

#' @export
read_facts.ableturn_memory <- function(site, variable) {
  if (is.null(index_of(variable))) return(facts_of_column(values_of(variable)))
  column <- column_of(variable)
  if (is.null(column$cells)) facts_of_column(column$x) else facts_by_index(column)
}

#' @export
read_original.ableturn_memory <- function(site, variable) {
  index <- index_of(variable)
  meaning <- variable$meaning
  column <- if (is.null(index)) valid_column(source_of(variable), meaning) else
    valid_by_index(index, meaning)
  asked <- asked_node(meaning)
  if (is.null(asked)) return(column)
  asked_by_cells(column, asked, variable, site) %||% set_not_asked(column,
    as_truth(evaluate(asked, scoped(site, function(name) variable$asked[[name]]))))
}

# How many rows there are of each combination; a single variable of few answers is counted by its
# cells.
#' @export
counts.ableturn_memory <- function(site, keys = list(), where = NULL, most = Inf, sums = list(),
                                   frequent = FALSE, sample = FALSE, ...) {
  at <- rows_asked(site, where, sample)
  times <- if (!sample) site$times
  rows <- if (is.null(at)) site$rows else length(at)
  columns <- lapply(unname(keys), key_column, site = site, at = at)
  groups <- groups_among(columns, rows)
  each <- if (is.null(times)) NULL else as.double(if (is.null(at)) times else times[at])
  told <- sums_in_groups(each, groups, rows)
  found <- list(keys = lapply(columns, `[`, groups$first), rows = told,
    sums = matrix(as.double(unlist(lapply(sums, function(node) {
      x <- as.double(key_column(node, site, at)) %|% 0
      sums_in_groups(if (is.null(each)) x else x * each, groups, rows)
    }))), length(groups$first), length(sums)))
  if (length(groups$first) <= most) return(in_order_of_keys(found))
  if (frequent) in_order_of_keys(some_groups(found, order(-told)[seq_len(most)]))
}

# The rows for which a condition holds; NULL for all. As a sample, a fixed one of about 10,000.
rows_asked <- function(site, where, sample = FALSE) {
  at <- if (!is.null(where)) which(as_truth(full_length(evaluate(where, site), site$rows)))
  if (!sample) return(at)
  times <- if (is.null(at)) site$times else (site$times %||% rep(1, site$rows))[at]
  chosen <- hint_places(if (is.null(at)) site$rows else length(at), times)
  if (is.null(at)) chosen else at[chosen]
}

# A fixed sample of the rows for what is only a hint: one from each of 10,000 stretches of equal
# length, at places that no regular order of the rows can meet time and again.
hint_rows <- function(rows, most = 10000) {
  if (rows <= most) return(seq_len(rows))
  stretch <- seq_len(most)
  as.integer((stretch - 1 + (stretch * (sqrt(5) - 1) / 2) %% 1) * rows / most) + 1L
}

# The same of cells that stand for some rows each, as if these stood one after the other.
hint_places <- function(rows, times = NULL) {
  if (is.null(times)) return(hint_rows(rows))
  ends <- cumsum(as.double(times))
  findInterval(hint_rows(ends[length(ends)]) - 1, ends) + 1L
}

full_length <- function(x, rows) if (length(x) == rows) x else rep_len(x, rows)

# A formula as a column that tells groups apart, in some rows: 0 has no sign.
key_column <- function(node, site, at = NULL) {
  x <- if (is_reason_node(node)) reason_codes(column_of(site$variable(as.character(node[[2]])))) else
    if (is_stored_node(node)) plain_values(source_of(site$variable(as.character(node[[2]])))) else
      full_length(evaluate(node, site), site$rows)
  if (is.logical(x)) x <- as.double(x)
  if (is.double(x) && !is.object(x)) x <- x + 0
  if (is.null(at)) x else x[at]
}

# Why a variable is missing in each row, as a place among its kinds; a question may ask for it.
reason_node <- function(name) call("reason of", as.name(name))

is_reason_node <- function(node) is.call(node) && identical(node[[1]], as.name("reason of"))

# A column as it came, in a question.
as_it_came <- function(name) call("as it came", as.name(name))

is_stored_node <- function(node) is.call(node) && identical(node[[1]], as.name("as it came"))

reason_codes <- function(column) {
  code <- rep(NA_integer_, length(column$x))
  code[is.na(column$x)] <- column$why
  code
}

# The numbers that a formula gives, a row each.
number_column <- function(site, x) {
  x <- full_length(evaluate(x, site), site$rows)
  if (is.logical(x)) as.integer(x) else as_number(x)
}

#' @export
extent.ableturn_memory <- function(site, x, keys = list()) {
  x <- as.double(number_column(site, x))
  columns <- lapply(unname(keys), key_column, site = site)
  groups <- groups_among(columns, site$rows)
  each <- as.double(site$times %||% rep(1, site$rows))
  finite <- is.finite(x)
  total <- function(held) sums_in_groups(each * held, groups, site$rows)
  at <- split(which(finite), factor(groups$place[finite], seq_along(groups$first)))
  end <- function(which) {
    vapply(at, function(i) if (length(i)) which(x[i]) else NA_real_, 0, USE.NAMES = FALSE)
  }
  in_order_of_keys(list(keys = lapply(columns, `[`, groups$first), n = total(TRUE),
    valid = total(!is.na(x)), rows = total(finite), low = end(min), high = end(max),
    fractions = total(finite & x != floor(x))))
}

#' @export
moments_at.ableturn_memory <- function(site, x, keys = list(), weight = NULL, of = "mean") {
  if (!length(keys) && is.null(weight)) {
    known <- known_moments(x, site)
    if (!known[["rows"]]) return(no_moments(list()))
    return(c(list(keys = list()), as.list(known)))
  }
  part <- weighed_numbers(site, x, keys, weight)
  groups <- part$groups
  if (is.null(weight) && is.null(site$times)) return(moments_by_kernel(part, of))
  each <- split(part$use, factor(groups$place[part$use], seq_along(groups$first)))
  told <- vapply(each, function(i) {
    weighed_moments(part$x[i], part$w[i], some_of(part$times, i))
  }, c(rows = 0, sum = 0, mean = 0, sd = 0, min = 0, max = 0))
  some <- told["rows", ] > 0
  found <- c(list(keys = lapply(part$columns, `[`, groups$first[some])),
    as.list(as.data.frame(t(told[, some, drop = FALSE]))))
  of_known_groups(in_order_of_keys(found))
}

no_moments <- function(keys) {
  c(list(keys = lapply(keys, `[`, 0)), rep(list(numeric()), 6) |>
    setNames(c("rows", "sum", "mean", "sd", "min", "max")))
}

# The numbers that a statistic rests on: `use` tells the rows with a finite number and, where there
# is a weight, with one above zero.
weighed_numbers <- function(site, x, keys, weight) {
  x <- number_column(site, x)
  w <- if (!is.null(weight)) as.double(as_number(site$value(weight)))
  columns <- lapply(unname(keys), key_column, site = site)
  use <- is.finite(x)
  if (!is.null(w)) use <- use & !is.na(w) & w > 0
  list(x = x, w = w, columns = columns, groups = groups_among(columns, site$rows),
    use = which(use), times = site$times %||% 1)
}

# Groups in memory in one pass for each statistic that is wanted.
moments_by_kernel <- function(part, of) {
  groups <- part$groups
  x <- as.double(part$x)
  k <- length(groups$first)
  told <- lapply(self_named(of), function(what) {
    group_statistics(x, groups$place, k, what)
  })
  some <- told[[1]]$rows > 0
  found <- c(list(keys = lapply(part$columns, `[`, groups$first[some]),
    rows = as.double(told[[1]]$rows[some])), lapply(told, function(one) one$value[some]))
  of_known_groups(in_order_of_keys(found))
}

weighed_moments <- function(x, w, times) {
  if (!length(x)) return(c(rows = 0, sum = NA, mean = NA, sd = NA, min = NA, max = NA))
  x <- as.double(x)
  c(rows = rows_in(x, times), sum = weighted_sum(x, w, times), mean = weighted_mean(x, w, times),
    sd = weighted_sd(x, w, times), min = min(x), max = max(x))
}

#' @export
ranks_at.ableturn_memory <- function(site, x, shares, keys = list(), weight = NULL) {
  if (!length(keys) && is.null(weight)) {
    values <- plain_quantiles(as.double(number_column(site, x)), shares, known_moments(x, site),
      site$times %||% 1)
    return(list(keys = list(), values = matrix(values, 1)))
  }
  part <- weighed_numbers(site, x, keys, weight)
  groups <- part$groups
  k <- length(groups$first)
  each <- split(part$use, factor(groups$place[part$use], seq_len(k)))
  plain <- is.null(weight) && is.null(site$times) && identical(shares, 0.5)
  values <- if (plain) group_statistics(as.double(part$x), groups$place, k, "median")$value else
    vapply(each, function(i) {
      if (!length(i)) return(rep(NA_real_, length(shares)))
      weighted_quantiles(as.double(part$x[i]), part$w[i], shares, some_of(part$times, i))
    }, numeric(length(shares)))
  values <- matrix(values, k, byrow = TRUE)
  some <- lengths(each) > 0
  in_order_of_keys(list(keys = lapply(part$columns, `[`, groups$first[some]),
    values = values[some, , drop = FALSE]))
}

# What is known of a variable is found once for all statistics of a turn.
known_moments <- function(node, site) {
  if (!is.null(site$times)) return(moments_in(as.double(number_column(site, node)), site$times))
  key <- if (is.symbol(node)) as.character(node) else formula_text(node)
  if (is.null(site$memo[[key]])) assign(key, moments_of_column(node, site), site$memo)
  site$memo[[key]]
}

# Of a variable of few answers from these, and not from its rows.
moments_of_column <- function(node, site) {
  cells <- if (is.symbol(node)) site$cells(as.character(node))
  if (is.null(cells)) return(moments(number_column(site, node)))
  moments_of_cells(as.double(as_number(cells$values)), cells$rows)
}

# Over the rows that have a number in all of some formulas: how many these are, and how the formulas
# go together. `total`: with the sum of all of them alone.
#' @export
products_at.ableturn_memory <- function(site, xs, weight = NULL, total = FALSE, pairwise = FALSE,
                                        sample = FALSE, ...) {
  places <- if (sample) hint_places(site$rows, site$times)
  at <- if (is.null(places)) site else site_of_rows(without_times(site), places)
  items <- same_length(lapply(xs, item_of, context = at, value_of = evaluate))
  if (is.null(weight) && is.null(at$times) && !pairwise) return(products_by_kernel(items, total))
  columns <- do.call(cbind, lapply(items, function(item) finite_numbers(item_values(item))))
  w <- if (!is.null(weight)) as.double(as_number(at$value(weight))) %|% 0
  products_of_columns(columns, w, pairwise, at$times %||% 1, total)
}

without_times <- function(site) {
  site["times"] <- list(NULL)
  site
}

products_by_kernel <- function(items, total) {
  kernel <- kernel_items(items)
  if (total) return(item_sums(kernel, items_shift(items), items_sign(items)))
  complete <- Reduce(`&`, lapply(items, function(item) is.finite(item$x)))
  list(complete = sum(complete),
    cov = item_spread(kernel, items_shift(items), items_sign(items)),
    mean = vapply(items, function(item) mean(item_values(item)[complete]), 0))
}

products_of_columns <- function(columns, w, pairwise, times, total) {
  use <- stats::complete.cases(columns) & (if (is.null(w)) TRUE else w > 0)
  complete <- sum(use * times)
  if (pairwise) return(list(cov = pair_covariances(columns, w, times), complete = complete))
  part <- columns[use, , drop = FALSE]
  cov <- weighted_covariance(part, w[use], some_of(times, use))
  if (total) return(list(complete = complete, own = diag(cov), with_total = rowSums(cov),
    total = sum(cov)))
  each <- (if (is.null(w)) rep(1, sum(use)) else w[use]) * some_of(times, use)
  list(complete = complete, cov = cov, mean = colSums(each * part) / sum(each))
}

weighted_covariance <- function(matrix, w, times = 1) {
  if (is.null(w) && identical(times, 1)) return(stats::cov(matrix))
  n <- rows_in(matrix[, 1], times)
  w <- (w %||% rep(1, nrow(matrix))) * times
  centred <- sweep(matrix, 2, colSums(w * matrix) / sum(w))
  crossprod(centred, w * centred) / (sum(w) * (n - 1) / n)
}

pair_covariances <- function(matrix, w, times = 1) {
  k <- ncol(matrix)
  out <- matrix(0, k, k, dimnames = list(colnames(matrix), colnames(matrix)))
  for (i in seq_len(k)) for (j in seq_len(k)) {
    use <- stats::complete.cases(matrix[, c(i, j)]) & (if (is.null(w)) TRUE else w > 0)
    out[i, j] <- weighted_covariance(matrix[use, c(i, j), drop = FALSE], w[use],
      some_of(times, use))[1, 2]
  }
  out
}


#' @export
differ_at.ableturn_memory <- function(site, a, b, exact, ...) {
  x <- site$value(a)
  y <- site$value(b)
  rows <- rows_that_differ(x, y)
  times <- site$times %||% rep(1L, site$rows)
  list(differ = sum(times[rows]), only_missing = sum(times[rows[is.na(x[rows]) != is.na(y[rows])]]),
    first = rows[1])
}

# In twenty rows first, which tell most of them apart.
#' @export
seem_equal.ableturn_memory <- function(site, name, others, exact) {
  all <- some_rows(site$rows)
  x <- site$value(name)
  few <- x[all[seq_len(min(20, length(all)))]]
  some <- x[all]
  Filter(function(other) {
    theirs <- site$value(other)
    same_values(few, theirs[all[seq_along(few)]]) && same_values(some, theirs[all])
  }, others)
}

some_rows <- function(rows) {
  if (rows <= 1000) seq_len(rows) else 1 + (0:999 * (rows - 1)) %/% 999
}

same_values <- function(a, b) {
  if (any(is.na(a) != is.na(b))) return(FALSE)
  if (is.character(a) || is.character(b)) return(!any(a != b, na.rm = TRUE))
  a <- as.numeric(a)
  b <- as.numeric(b)
  !any(abs(a - b) > 1e-9 * (abs(a) + abs(b)), na.rm = TRUE)
}

#' @export
repeats_at.ableturn_memory <- function(site, keys) {
  found <- counts(site, keys)
  known <- !Reduce(`|`, lapply(found$keys, is.na)) & found$rows > 1
  if (!any(known)) return(NULL)
  first <- which(known)[1]
  list(values = lapply(found$keys, `[`, first), rows = sum(found$rows[known] - 1))
}

#' @export
steps_at.ableturn_memory <- function(site, order, unit, occasions) {
  place <- match(site$value(order), occasions)
  earlier <- place[row_before(site$value(unit), place)]
  sum(place - earlier > 1, na.rm = TRUE)
}

#' @export
check_unit.ableturn_memory <- function(site, call) invisible(NULL)

#' @export
home.ableturn_memory <- function(site) in_memory

# Numbers, what is infinite left out.
finite_numbers <- function(x) {
  x <- as.double(as_number(x))
  x[!is.finite(x)] <- NA
  x
}
