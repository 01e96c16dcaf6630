# Changes what originals mean; what was made ready for analysis is dropped with it.
set_meanings <- function(book, vars, meaning) {
  meanings <- held(book, "meanings")
  for (name in vars) {
    meanings[[name]] <- merge_meaning(meanings[[name]], meaning)
    # What a factor says of its levels holds for the texts, not for what is read from them.
    read_levels <- !is.null(meaning$read) && is.factor(held(book, "data")[[name]])
    if (read_levels) meanings[[name]] <- merge_meaning(without_fields(meanings[[name]], c("codes", "level")), meaning)
  }
  book <- with_parts(book, meanings = meanings)
  with_parts(book, cache = cache_without(book, c(vars, asked_by(book, vars))))
}

cache_without <- function(book, vars) {
  kept <- as.list(held(book, "cache"), all.names = TRUE)
  stale <- c(vars, facts_key(vars), values_key(vars), suspects_key(vars), profile_key(vars), marks_key)
  list2env(kept[setdiff(names(kept), stale)], new.env())
}
