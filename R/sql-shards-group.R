# A statistic of groups that lie on several servers: it is asked for over all of them, and stands in
# the query as a table from the group to its value.

group_as_table <- function(node, state) {
  parts <- row_items(node)
  within <- unname(parts[-1])
  site <- scoped(state$site, state$variable)
  found <- group_over_shards(parts[[1]], within, as.list(node)$how, site)
  if (is.null(found)) refuse_unit(node, within, site)
  known <- !is.na(found$value) & !Reduce(`|`, lapply(found$keys, is.na))
  columns <- lapply(within, function(part) hold_term(key_term(part, state), "group", state))
  keys <- Map(function(values, column) {
    literal_sql(member_keys(values[known], column), state$engine)
  }, found$keys, columns)
  values <- as.double(found$value[known])
  if (gives_date(parts[[1]], as.list(node)$how, state)) values <- as_date(floor(values))
  table_term(columns, keys, values, state)
}

groups_at_most <- 50000

# `keys`, the groups, and the `value` of each; NULL where there are too many of them.
group_over_shards <- function(x, within, how, site) {
  groups <- counts_at(site, within, most = groups_at_most)
  if (is.null(groups)) return(NULL)
  at <- function(keys, values) values[match_keys(groups$keys, keys)]
  list(keys = groups$keys, value = switch(how,
    size = groups$rows,
    valid = {
      some <- counts_at(site, within, call("!", call("is.na", x)), most = groups_at_most)
      at(some$keys, some$rows) %|% 0
    },
    median = {
      found <- ranks_at(site, x, 0.5, within)
      at(found$keys, found$values[, 1])
    }, {
      known <- moments_at(site, x, within)
      at(known$keys, known[[how]])
    }))
}

# Whether a query that each shard answers for itself would miss rows of a unit.
lies_apart <- function(vars, site) {
  length(site$shards$each) > 1 && !is_unit_of_shards(as.character(vars), site)
}

refuse_unit <- function(call, vars, site) {
  fail("unit-of-shards", part = formula_text(call), unit = as.character(vars),
    key = site$shards$key %||% "an expression")
}

# Whether all rows of a unit lie on one shard: among its variables are the columns that decide on
# it. What is read in another way than it is stored might put two units together.
is_unit_of_shards <- function(names, site) {
  key <- site$shards$key
  variables <- lapply(names, site$variable)
  originals <- Filter(Negate(is_made), variables)
  stored <- vapply(originals, `[[`, "", "name")
  if (is.null(key) || !all(key %in% stored)) return(FALSE)
  all(vapply(originals[match(key, stored)], function(variable) {
    is.null(variable$meaning$read) && is_composed(site, variable$name)
  }, NA))
}

# Whether no two texts of a column are the same text in other bytes.
is_composed <- function(site, name) {
  if (!is_text_like(site$columns[[name]])) return(TRUE)
  question <- new_plain_question(site, name)
  odd <- paste("WHERE", question$columns, "<>", fill_sql(site$engine$composed, question$columns))
  fetch_grouped(question, character(), c(n = "COUNT(*)"), where = odd)$told$n == 0
}
