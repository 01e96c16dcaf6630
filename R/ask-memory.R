# Rows in memory as a site, and answers in memory, each of which stands for `times` rows. Formulas
# are evaluated over the values of its variables, see evaluate(), to which such a site is the
# context.
# `columns` gives all columns that there are: originals as they came, and the variables that were
# made.
new_memory_site <- function(variable, rows, times = NULL, columns = NULL) {
  site <- list(
    variable = variable, value = function(name) values_of(variable(name)),
    cells = if (is.null(times)) function(name) cells_of(variable(name)),
    kind = function(name, kind) is_kind(column_of(variable(name)), kind),
    rows = rows, times = times, columns = columns, memo = new.env()
  )
  class(site) <- "ableturn_memory" # structure() takes its time, and many sites are made
  site
}

#' @export
scoped.ableturn_memory <- function(site, variable) {
  new_memory_site(variable, site$rows, site$times, site$columns)
}

#' @export
with_rows_of.ableturn_memory <- function(site, variable) {
  site$rows <- if (is.null(variable$x)) length(variable$raw) else length(variable$x)
  site
}

#' @export
site_can.ableturn_memory <- function(site, ability) TRUE

#' @export
in_one_state.ableturn_memory <- function(site, code) code

#' @export
read_together.ableturn_memory <- function(site, variables) NULL

# How many rows there are of each combination; a single variable of few answers is counted by its
# cells.
#' @export
counts_at.ableturn_memory <- function(site, keys = list(), where = NULL, most = Inf, sums = list(),
                                   frequent = FALSE, sample = FALSE, ...) {
  at <- rows_asked(site, where, sample)
  times <- if (!sample) site$times
  rows <- if (is.null(at)) site$rows else length(at)
  columns <- lapply(unname(keys), key_column, site = site, at = at)
  groups <- groups_among(columns, rows)
  each <- if (is.null(times)) NULL else as.double(if (is.null(at)) times else times[at])
  told <- sums_in_groups(each, groups)
  found <- list(keys = lapply(columns, `[`, groups$first), rows = told,
    sums = matrix(as.double(unlist(lapply(sums, function(node) {
      x <- as.double(key_column(node, site, at)) %|% 0
      sums_in_groups(if (is.null(each)) x else x * each, groups)
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
  x <- if (is_reason_node(node))
    reason_codes(column_of(site$variable(as.character(node[[2]])))) else
    if (is_stored_node(node)) plain_values(source_of(site$variable(as.character(node[[2]])))) else
      full_length(evaluate(node, site), site$rows)
  if (is.logical(x)) x <- as.double(x)
  if (is.double(x) && !is.object(x)) x <- x + 0
  if (is.null(at)) x else x[at]
}

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
differ_at.ableturn_memory <- function(site, a, b, exact, ...) {
  x <- values_of_node(a, site)
  y <- values_of_node(b, site)
  rows <- rows_that_differ(x, y)
  times <- site$times %||% rep(1L, site$rows)
  list(differ = sum(times[rows]), only_missing = sum(times[rows[is.na(x[rows]) != is.na(y[rows])]]),
    first = rows[1])
}

# In some rows, of which few tell most columns apart: neither what is missing there nor what a
# column means has to be known for that.
#' @export
look_alike.ableturn_memory <- function(site, name, names) {
  others <- site$columns()[names]
  x <- site$variable(name)$x
  alike <- alike_at_a_glance(x, unname(others), some_rows(site$rows, 100))
  unknown <- which(is.na(alike))
  alike[unknown] <- vapply(others[unknown], function(other) {
    is_text_like(if (is.environment(other)) other$x else other) == is_text_like(x)
  }, NA)
  names[alike]
}

# In twenty rows first, which tell most of them apart.
#' @export
seem_equal.ableturn_memory <- function(site, a, b, exact) {
  for (most in c(20, 1000)) {
    part <- site_of_rows(site, some_rows(site$rows, most))
    if (!same_values(values_of_node(a, part), values_of_node(b, part))) return(FALSE)
  }
  TRUE
}

values_of_node <- function(node, site) full_length(evaluate(as_node(node), site), site$rows)

# Some of the rows, over all of them.
some_rows <- function(rows, most = 1000) {
  if (rows <= most) seq_len(rows) else 1 + (seq_len(most) - 1) * (rows - 1) %/% (most - 1)
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
  found <- counts_at(site, keys)
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

# Some rows of a site in memory.
site_of_rows <- function(site, rows) {
  part <- site
  part$value <- function(name) values_in_rows(site$variable(name), rows)
  part$kind <- function(name, kind) site$kind(name, kind)[rows]
  part["cells"] <- list(NULL)
  part$rows <- length(rows)
  part$times <- site$times[rows]
  part$memo <- new.env()
  part
}

# The values of a variable in some rows; of its index, where it has one of a byte a row, as that is
# the least to be looked through.
values_in_rows <- function(variable, rows) {
  cells <- variable$cells
  if (!is.raw(cells$codes) || length(cells$codes) > sum(cells$rows)) {
    return(values_of(variable)[rows])
  }
  cells$values[as.integer(cells$codes[rows]) + 1L]
}

# What is in memory, without any variables: rows and their number are those of the variables.
in_memory <- structure(list(), class = "ableturn_memory")
