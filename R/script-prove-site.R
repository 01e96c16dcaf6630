# The proof of a book whose rows stay in a database: the SQL runs there, on all rows, and what it
# gives for some of them, told by their identifiers, is compared with what the same originals give
# in memory.

# The columns of a book as its script gives them, for the rows of some identifiers.
rows_by_script <- function(site, book, names, id, ids) UseMethod("rows_by_script")

# Identifiers of a table, evenly spaced in their order: at most so many.
ids_at <- function(site, id, most) UseMethod("ids_at")

rows_to_prove <- 2000

prove_at_site <- function(book, dialect, seconds) {
  foreign <- setdiff(dialect, "sql")
  if (length(foreign)) fail("prove-in-place", dialect = foreign[1])
  info <- info_of(book)
  if (is.null(info$id)) fail("prove-needs-id")
  ids <- ids_at(info$site, info$id, rows_to_prove)
  apart <- Filter(function(name) rests_on_many(name, book, ids), derived_names(book))
  names <- setdiff(derived_names(book), apart)
  if (!length(names)) fail("prove-many-rows", names = apart)
  given <- rows_by_script(info$site, book, names, info$id, ids)
  near <- book_of_ids(book, names, ids)
  at <- match(show_value(ids), show_value(original_in(near, info$id)))
  theirs <- given[match(show_value(ids), show_value(given[[info$id]])), , drop = FALSE]
  tables <- lapply(names, function(name) {
    compared_columns(name, column_of(variable_in(near, name))$x[at], theirs[[name]], "sql")
  })
  out <- do.call(rbind, tables)
  as_table(out, "ableturn_proof", of = info$rows, apart = apart, proved = all(out$differ == 0))
}

# Whether other rows have a part in a variable, and these are too many to be fetched.
rests_on_many <- function(name, book, ids) {
  related <- intersect(related_vars(name, book), original_names(book))
  if (!length(related)) return(FALSE)
  near <- rows_at(site_of(book), related, setNames(list(ids), info_of(book)$id))
  held <- Map(function(name, values) {
    call("%in%", as.name(name), unique(values[!is.na(values)]))
  }, related, near)
  rows_where(site_of(book), Reduce(function(a, b) call("|", a, b), unname(held))) > 50 * length(ids)
}

compared_columns <- function(name, ours, theirs, dialect) {
  off <- if (length(theirs) != length(ours)) seq_along(ours) else rows_that_differ(ours, theirs)
  data.frame(
    dialect = dialect, variable = name, rows = length(ours), same = length(ours) - length(off),
    differ = length(off), largest = largest_difference(ours, theirs),
    first = if (length(off)) off[1] else NA_integer_
  )
}

largest_difference <- function(ours, theirs) {
  if (!are_numbers(ours, theirs) || length(theirs) != length(ours)) return(NA_real_)
  differing_numbers(ours, theirs, FALSE)$largest
}
