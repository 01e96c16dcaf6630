# The distinct values of an original and how many rows hold each; counted once and kept as long
# as its meaning holds.
value_table <- function(book, name) {
  cache <- held(book, "cache")
  key <- values_key(name)
  if (is.null(cache[[key]])) cache[[key]] <- count_numbers(as_number(column_in(book, name)$x))
  cache[[key]]
}

count_numbers <- function(x) {
  x <- if (is.double(x)) x[is.finite(x)] else x[!is.na(x)]
  if (!length(x)) return(list(values = numeric(), rows = integer()))
  ends <- range(x)
  if (diff(ends) < 1e5 && is_whole(ends)) {
    counts <- count_whole(x, ends)
    if (!is.null(counts)) return(counts)
  }
  values <- sort(unique(x))
  list(values = as.double(values), rows = tabulate(match(x, values), length(values)))
}

# Whole numbers that lie close together are counted in one pass; NULL where some are not whole.
count_whole <- function(x, ends) {
  place <- as.integer(x) - as.integer(ends[1]) + 1L
  rows <- tabulate(place, as.integer(diff(ends)) + 1L)
  values <- seq(ends[1], ends[2])
  if (is.double(x) && sum(as.integer(x)) != sum(x)) return(NULL)
  if (is.double(x) && any(x != place + (ends[1] - 1))) return(NULL)
  list(values = as.double(values[rows > 0]), rows = rows[rows > 0])
}
