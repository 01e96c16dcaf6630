# What is known of a variable's values; of an original it is found once and kept as long as its
# meaning holds, of a derived variable it stands with its column.
facts_of <- function(book, name) {
  if (is_derived(book, name)) return(held(book, "columns")[[name]]$facts)
  keep_once(book, facts_key(name), facts_of_column(column_in(book, name)$x))
}

# Those of several originals at once.
learn_facts <- function(book, names) {
  names <- intersect(names, original_names(book))
  cache <- held(book, "cache")
  names <- Filter(function(name) is.null(cache[[facts_key(name)]]), names)
  found <- facts_of_columns(lapply(names, function(name) column_in(book, name)$x))
  for (i in seq_along(names)) cache[[facts_key(names[i])]] <- found[[i]]
}

# The distinct numbers of an original in their order and how many rows hold each.
numbers_in <- function(book, name) {
  keep_once(book, values_key(name), number_counts(column_in(book, name)$x, facts_of(book, name)))
}

keep_once <- function(book, key, value) {
  cache <- held(book, "cache")
  if (is.null(cache[[key]])) cache[[key]] <- value
  cache[[key]]
}

# The values of an original that look like missing codes nobody declared.
suspects_in <- function(book, name) {
  if (!may_hold_suspects(facts_of(book, name))) return(numeric())
  seen <- numbers_in(book, name)
  suspect_values(seen$values, seen$rows)
}

# The distinct values of a variable, numbers or texts, and how many rows hold each.
values_met <- function(book, name) {
  facts <- facts_of(book, name)
  if (facts$few) return(facts[c("values", "rows")])
  x <- column_in(book, name)$x
  counts_of(x[!is.na(x)])
}
