# Variables whose rows are in a table of a database, and stay there. Where their answers are few,
# these were fetched with their counts; of others, the long ones, only what was asked is known.
# Their values can be asked for their type, class and number; who touches one is stopped in words.

# What stands for the index of such a column. `roots`: the columns and made variables that it rests
# on; `keys`: for each of these its values in each cell, and of a made one why it is missing.
far_codes <- function(site, roots, keys) {
  structure(list(site = site, roots = roots, keys = keys), class = "far_codes")
}

# A column of such an index.
#' @export
new_indexed.far_codes <- function(cells, kinds) {
  gone <- sum(cells$rows[cells$kind > 0])
  list(x = far_values(cells$values[0], sum(cells$rows)), why = far_values(integer(), gone),
    kinds = kinds, cells = cells)
}

far_values <- function(like, rows) unread_column(like, rows, refuse_rows)

refuse_rows <- function() fail("rows-stay")

# A long column; `rows`: how many are missing for each of its kinds.
long_column <- function(like, kinds, rows, all, whole, infinite = FALSE) {
  list(x = far_values(like[0], all), why = far_values(integer(), sum(rows)), kinds = kinds,
    long = list(rows = rows, whole = whole, infinite = infinite))
}

#' @export
read_index.ableturn_table_site <- function(site, variable) {
  name <- variable$name
  at <- scoped(site, function(name) variable)
  found <- counts_at(at, list(as_it_came(name)), most = site$most)
  if (!is.null(found)) index_of_answers(site, variable, found$keys[[1]], found$rows)
}

# The index of an original by its answers as they came, each with its rows.
index_of_answers <- function(site, variable, values, rows) {
  variable$came$name <- variable$name
  list(codes = far_codes(site, list(variable$came), list(list(values))),
    rows = as_row_counts(rows), values = plain_values(values))
}

#' @export
read_facts.ableturn_table_site <- function(site, variable) {
  column <- column_of(variable)
  if (is.null(column$cells)) column$facts else facts_by_index(column)
}

#' @export
read_original.ableturn_table_site <- function(site, variable) {
  index <- index_of(variable)
  meaning <- variable$meaning
  asked <- asked_node(meaning)
  if (is.null(index)) return(read_long(site, variable, asked))
  column <- valid_by_index(index, meaning)
  if (is.null(asked)) return(column)
  asked_by_cells(column, asked, variable, site) %||% read_long(site, variable, asked)
}

# What is known of an original whose answers stay where they are.
read_long <- function(site, variable, asked) {
  meaning <- variable$meaning
  like <- valid_column(variable$raw[0], meaning)
  kinds <- c(like$kinds, if (!is.null(asked)) "not asked")
  draft <- altered(variable, x = like$x, kinds = kinds, facts = facts_of_column(numeric()))
  at <- scoped(site, function(name) if (name == draft$name) draft else variable$asked[[name]])
  known <- known_of(at, draft$name, like$x, list(reason_node(draft$name)), numbers_at)
  rows <- rows_at_places(known$keys[[1]], length(kinds), known$n)
  c(long_column(like$x, kinds, rows, site$rows, known$whole, known$infinite),
    list(facts = known$facts, moments = known$moments,
      answered_unasked = if (!is.null(asked)) unasked_answers(at, draft)))
}

# How many rows of those who were not asked hold an answer all the same.
unasked_answers <- function(at, variable) {
  all <- altered(variable, meaning = without_fields(variable$meaning, "asked_if"))
  at <- also_knowing(at, setNames(list(all), variable$name))
  not_asked <- original_condition(variable$name, "not asked", variable$meaning)
  rows_where(at, call("&", not_asked, call("!", call("unanswered", as.name(variable$name)))))
}

# The facts of a long variable, see facts_of_column(), whether all its numbers are whole, the rows
# of each group, and its moments if `asks` tells them.
known_of <- function(site, name, like, keys, asks = extent_at) {
  node <- as.name(name)
  if (is.character(like)) {
    found <- counts_at(site, c(keys, list(call("is.na", node))))
    gone <- found$keys[[length(found$keys)]]
    facts <- list(valid = sum(found$rows[gone %in% 0]), few = FALSE, low = NA_real_,
      high = NA_real_, negatives = 0L, values = character(), rows = integer())
    return(list(facts = facts, whole = FALSE, infinite = FALSE, keys = found$keys[seq_along(keys)],
      n = found$rows))
  }
  found <- asks(site, node, keys)
  ends <- ends_of_all(found)
  none <- ends$rows == 0
  below <- if (!none && ends$low < 0) counts_at(site, list(node), call("<", node, 0), most = 20)
  negatives <- if (none || ends$low >= 0) 0L else if (is.null(below)) 21L else length(below$rows)
  facts <- list(valid = ends$valid, few = FALSE, low = if (none) NA_real_ else ends$low,
    high = if (none) NA_real_ else ends$high, negatives = negatives, values = numeric(),
    rows = integer())
  few <- if (site$most < many_values) few_values(site, node)
  if (!is.null(few)) facts[c("few", "values", "rows")] <- c(TRUE, few)
  list(facts = facts, whole = ends$fractions == 0, infinite = ends$valid > ends$rows,
    keys = found$keys, n = found$n, moments = moments_of_valid(found))
}

# Those of the group whose reason is missing: the rows that have an answer.
moments_of_valid <- function(found) {
  if (is.null(found$sd)) return(NULL)
  told <- some_groups(found[c("keys", "rows", "sum", "mean", "sd", "min", "max")],
    which(is.na(found$keys[[1]]) & found$rows > 0))
  told$keys <- list()
  told
}

# The ends over all groups.
ends_of_all <- function(found) {
  some <- found$rows > 0
  list(valid = sum(found$valid), rows = sum(found$rows), fractions = sum(found$fractions),
    low = min(found$low[some], Inf), high = max(found$high[some], -Inf))
}

few_values <- function(site, node) {
  found <- counts_at(site, list(node), most = 2048)
  if (is.null(found)) return(NULL)
  values <- as.double(found$keys[[1]])
  use <- which(is.finite(values))
  list(values[use], as_row_counts(found$rows[use]))
}

# The index of several columns of a table together. One that has all roots already serves the
# others.
#' @export
index_of_several.far_codes <- function(columns, rows) {
  codes <- lapply(columns, function(column) column$cells$codes)
  site <- codes[[1]]$site
  each <- lapply(codes, `[[`, "roots")
  roots <- once_each(unlist(each, recursive = FALSE))
  whole <- which(lengths(each) == length(roots))
  joint <- if (length(whole)) {
    list(keys = codes[[whole[1]]]$keys[same_places(roots, each[[whole[1]]])],
      rows = columns[[whole[1]]]$cells$rows)
  } else {
    count_roots(site, roots, min(site$most, 50000))
  }
  if (is.null(joint)) return(NULL)
  places <- Map(function(own, code) {
    match_keys(unlist(joint$keys[same_places(own, roots)], recursive = FALSE),
      unlist(code$keys, recursive = FALSE))
  }, each, codes)
  list(codes = far_codes(site, roots, joint$keys), rows = joint$rows, places = unname(places))
}

# Environments are told apart by what they are, not by what is in them.
once_each <- function(objects) objects[unique(match_objects(objects))]

same_places <- function(objects, among) {
  vapply(objects, function(one) which(vapply(among, identical, NA, one))[1], 1L)
}

# The combinations of the columns and made variables that indexes rest on, with their rows.
count_roots <- function(site, roots, most) {
  names <- paste0("root_", seq_along(roots))
  nodes <- Map(function(root, name) {
    if (is_made(root)) list(as.name(name), reason_node(name)) else list(as_it_came(root$name))
  }, roots, names)
  at <- scoped(site, function(name) roots[[match(name, names)]])
  found <- counts_at(at, unlist(unname(nodes), recursive = FALSE), most = most, likely = TRUE)
  if (is.null(found)) return(NULL)
  own <- rep(seq_along(roots), lengths(nodes))
  keys <- lapply(seq_along(roots), function(i) {
    parts <- found$keys[own == i]
    if (is_made(roots[[i]])) parts[[1]] <- as_column(parts[[1]], roots[[i]]$x)
    parts
  })
  list(keys = keys, rows = as_row_counts(found$rows))
}

as_column <- function(values, like) {
  if (inherits(like, "Date")) return(as_date(values))
  if (is.integer(like)) as_code(as.double(values)) else values
}

# Some variables side by side in the cells that they span together, whatever their names: `columns`,
# and how many rows each cell stands for, `times`; NULL where these are too many to be fetched.
columns_in_cells <- function(columns) {
  if (!all(vapply(columns, function(column) !is.null(column$cells), NA))) return(NULL)
  index <- index_of_several(columns, Inf)
  if (is.null(index)) return(NULL)
  list(columns = Map(column_of_cells, columns, index$places), times = index$rows)
}
