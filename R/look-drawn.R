# The numbers of a variable as they are drawn, wherever its rows are: the site where they are asked
# about, `at`, the `node` of the variable, a condition that it is `finite`, whether they are days
# since 1970, `dates`, and the node of a second variable, `beside`.
drawn_numbers <- function(book, name, beside = NULL) {
  site <- site_of(book)
  at <- nearest_site(site, c(name, beside))
  list(at = at, node = as.name(name), finite = finite_node(as.name(name)),
    dates = value_type(variable_in(book, name)) == "date",
    beside = if (!is.null(beside)) as.name(beside))
}

# The lowest and the highest, whether all are whole, and where 1 and 99 % lie; NULL of none.
drawn_shape <- function(drawn) {
  ends <- extent_at(drawn$at, drawn$node)
  if (!isTRUE(ends$rows > 0)) return(NULL)
  list(ends = c(ends$low, ends$high), whole = ends$fractions == 0, main = function() {
    as.double(ranks_at(drawn$at, drawn$node, c(0.01, 0.99))$values)
  })
}

# How many rows lie from each of some breaks to below the next one, the last with its end; beyond
# the ends, in the first and the last. With a second variable, by its `code`.
drawn_rows <- function(drawn, breaks) {
  below <- call("cuts_below", call("-", 0, drawn$node), rev(-breaks))
  found <- counts_at(drawn$at, c(list(below), drawn$beside), drawn$finite, most = 1e5)
  place <- length(breaks) - as.double(found$keys[[1]])
  list(place = pmin(pmax(place, 1), length(breaks) - 1), rows = found$rows,
    code = if (length(found$keys) > 1) found$keys[[2]])
}

rows_beyond <- function(drawn, ends) {
  rows_where(drawn$at, call("&", drawn$finite, outside_node(drawn$node, ends)))
}

# For each code of the second variable, the missing one as well, its rows and the median there.
drawn_middles <- function(drawn) {
  known <- extent_at(drawn$at, drawn$node, list(drawn$beside))
  some <- known$rows > 0
  code <- known$keys[[1]][some]
  found <- ranks_at(drawn$at, drawn$node, 0.5, list(drawn$beside))
  list(code = code, rows = known$rows[some],
    middle = found$values[match_keys(list(code), found$keys), 1])
}

# Halfway between the last value of one code and the first of the next, in the order of the values.
drawn_changes <- function(drawn) {
  known <- extent_at(drawn$at, drawn$node, list(drawn$beside))
  use <- which(!is.na(known$keys[[1]]) & known$rows > 0)
  use <- use[order(known$low[use])]
  (utils::head(known$high[use], -1) + known$low[use][-1]) / 2
}

# The values of a variable and its reasons for missing ones, as levels_of_column() has them, with
# the `rows` of each; `first`: the value of other variables in the first group that has it.
drawn_levels <- function(book, name, others = NULL) {
  site <- site_of(book)
  names <- c(name, others)
  at <- nearest_site(site, names)
  nodes <- unlist(lapply(names, function(one) list(as.name(one), reason_node(one))))
  found <- counts_at(at, nodes, most = most_crossed)
  if (is.null(found)) refuse_rows()
  levels <- levels_of_keys(found$keys[1:2], variable_in(book, name))
  first <- match(seq_len(nrow(levels$levels)), levels$place)
  levels$levels$rows <- rows_at_places(levels$place, nrow(levels$levels), found$rows)
  list(levels = levels$levels, first = lapply(seq_along(others), function(i) {
    found$keys[[2 * i + 1]][first]
  }))
}
