# Changes what originals mean; what was made ready for analysis is dropped with it.
set_meanings <- function(book, vars, meaning) {
  meanings <- held(book, "meanings")
  for (name in vars) meanings[[name]] <- merge_meaning(meanings[[name]], meaning)
  with_parts(book, meanings = meanings, cache = cache_without(book, vars))
}

cache_without <- function(book, vars) {
  kept <- as.list(held(book, "cache"), all.names = TRUE)
  list2env(kept[setdiff(names(kept), vars)], new.env())
}

# The meanings as they came with the data.
came_with <- function(book, vars) {
  meanings <- held(book, "meanings")
  first <- held(book, "info")$meanings %||% list()
  for (name in intersect(vars, names(meanings))) meanings[[name]] <- first[[name]] %||% new_meaning()
  meanings
}
