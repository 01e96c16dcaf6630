# The numbers of a variable as they are drawn, wherever its rows are: `x`, finite values, each in
# `times` rows, with the `code` of a second variable there; or, where they are too many to be
# fetched, `far`: the questions of questions_of(), `ask`, the `node` of the variable, whether it is
# `finite`, and the node of the second, `beside`.
drawn_numbers <- function(book, name, beside = NULL) {
  columns <- lapply(c(name, beside), column_in, book = book)
  if (!is_on_site(book)) return(finite_drawn(columns, rep(1L, row_count(book))))
  cells <- columns_in_few_cells(columns)
  if (!is.null(cells)) return(finite_drawn(cells$columns, cells$times))
  node <- as.name(name)
  list(far = list(ask = questions_of(book), node = node,
    finite = finite_node(node),
    beside = if (!is.null(beside)) as.name(beside)))
}

finite_drawn <- function(columns, times) {
  x <- as.numeric(columns[[1]]$x)
  use <- is.finite(x)
  list(x = x[use], times = times[use], code = if (length(columns) > 1) columns[[2]]$x[use])
}

# The lowest and the highest, whether all are whole, and where 1 and 99 % lie; NULL of none.
drawn_shape <- function(drawn) {
  if (is.null(drawn$far)) {
    if (!length(drawn$x)) return(NULL)
    return(list(ends = range(drawn$x), whole = is_whole(drawn$x), main = function() {
      weighted_quantiles(drawn$x, NULL, c(0.01, 0.99), drawn$times)
    }))
  }
  told <- drawn$far$ask$ends(drawn$far$node, list())$told
  if (!told$rows) return(NULL)
  list(ends = c(told$low, told$high), whole = told$parts == 0, main = function() {
    ranked_far(drawn$far$node, c(0.01, 0.99), list(keys = list(), told = cbind(rows = told$rows)),
      list(), drawn$far$ask)
  })
}

# How many rows lie from each of some breaks to below the next one, the last with its end; beyond
# the ends, in the first and the last. With a second variable, by its `code`.
drawn_rows <- function(drawn, breaks) {
  if (is.null(drawn$far)) {
    place <- findInterval(drawn$x, breaks, all.inside = TRUE)
    return(list(place = place, code = drawn$code, rows = drawn$times))
  }
  far <- drawn$far
  below <- call("cuts_below", call("-", 0, far$node), rev(-breaks))
  found <- far$ask$groups(c(list(below), far$beside), 1e5, far$finite)
  place <- length(breaks) - as.double(found$keys[[1]])
  list(place = pmin(pmax(place, 1), length(breaks) - 1), rows = found$rows,
    code = if (length(found$keys) > 1) found$keys[[2]])
}

rows_beyond <- function(drawn, ends) {
  if (is.null(drawn$far)) return(sum(drawn$times[drawn$x < ends[1] | drawn$x > ends[2]]))
  far <- drawn$far
  sum(far$ask$groups(list(), 1, call("&", far$finite, outside_node(far$node, ends)))$rows)
}

# For each code of the second variable, the missing one as well, its rows and the median there.
drawn_middles <- function(drawn) {
  if (is.null(drawn$far)) {
    codes <- unique(drawn$code)
    each <- lapply(codes, function(code) which(drawn$code %in% code))
    return(list(code = codes, rows = vapply(each, function(at) sum(drawn$times[at]), 1),
      middle = vapply(each, function(at) {
        weighted_quantiles(drawn$x[at], NULL, 0.5, drawn$times[at])
      }, 1)))
  }
  far <- drawn$far
  known <- far$ask$ends(far$node, list(far$beside))
  some <- known$told$rows > 0
  code <- known$keys[[1]][some]
  rows <- known$told$rows[some]
  told <- list(keys = list(code), told = cbind(rows = rows))
  list(code = code, rows = rows,
    middle = ranked_far(far$node, 0.5, told, list(far$beside), far$ask))
}

# Halfway between the last value of one code and the first of the next, in the order of the values.
drawn_changes <- function(drawn) {
  if (is.null(drawn$far)) {
    values <- sort(unique(drawn$x))
    code <- drawn$code[match(values, drawn$x)]
    last <- which(!mapply(identical, utils::head(code, -1), code[-1]))
    return((values[last] + values[last + 1]) / 2)
  }
  far <- drawn$far
  known <- far$ask$ends(far$node, list(far$beside))
  use <- which(!is.na(known$keys[[1]]) & known$told$rows > 0)
  use <- use[order(known$told$low[use])]
  (utils::head(known$told$high[use], -1) + known$told$low[use][-1]) / 2
}

# The values of a variable and its reasons for missing ones, as levels_of_column() has them, with
# the `rows` of each; `first`: the value of other variables in the first row that has it.
drawn_levels <- function(book, name, others = NULL) {
  both <- columns_with_rows(book, c(name, others))
  found <- levels_of_column(both$columns[[1]], meaning_in(book, name)$codes)
  first <- match(seq_len(nrow(found$levels)), found$place)
  found$levels$rows <- rows_by(found$place, seq_len(nrow(found$levels)), both$times)
  list(levels = found$levels, first = lapply(both$columns[-1], function(column) column$x[first]))
}
