# A book in a file of R: its columns are written once, as plain vectors, so that also without this
# package a data frame comes back. What it remembers is written beside them, by pack_book(), and
# read when a function of ours first needs it. What was undone is not kept.
packed_format <- 1L

# The fields of a derived variable that are written; its values stand in the data frame, and its
# cells are found again from them.
packed_fields <- c("name", "meaning", "why", "kinds", "facts", "expr", "rules", "rule_kinds",
  "carry", "looked_up", "from", "counts", "learned", "reads", "found", "verb")

pack_book <- plainly(function(book, columns) {
  if (is.null(columns)) return(book) # as it came from a file
  shown <- part_of_book(book, "shown")$columns
  originals <- originals_of(book)
  standing <- same_objects(originals, shown[names(originals)])
  originals[standing] <- list(NULL)
  structure(list(format = packed_format, names = names(columns), rows = row_count(book),
    prints = column_prints(columns), standing = standing, originals = originals,
    meanings = meanings_of(book), log = steps_of(book), info = info_of(book),
    derived = lapply(derived_of(book), packed_variable)), class = "ableturn_packed")
})

column_prints <- function(columns) vapply(columns, column_fingerprint, "", USE.NAMES = FALSE)

packed_variable <- function(variable) {
  fields <- mget(intersect(packed_fields, names(variable)), variable)
  fields$sources <- names(variable$sources)
  fields
}

# The book of a data frame that came from a file; NULL where its columns are others than it was
# written with.
unpack_book <- plainly(function(packed, frame) {
  if (!identical(packed$format, packed_format)) fail("book-of-other-version")
  if (!setequal(names(frame), packed$names) || .row_names_info(frame, 2L) != packed$rows) {
    return(NULL)
  }
  columns <- as.list(plain_frame(frame))[packed$names]
  if (!identical(column_prints(columns), packed$prints)) return(NULL)
  originals <- packed$originals
  names <- names(originals)[packed$standing]
  originals[names] <- columns[names]
  book <- new_turnbook(originals, packed$meanings, packed$info)
  shown <- list(meanings = packed$meanings, columns = columns[names(originals)])
  for (fields in packed$derived) {
    made <- unpacked_variable(fields, columns[[fields$name]], book)
    book <- with_parts(book, columns = c(derived_of(book), setNames(list(made), fields$name)))
  }
  with_parts(book, log = packed$log, shown = shown)
})

unpacked_variable <- function(fields, x, book) {
  column <- with_index(new_column(x, fields$why, fields$kinds))
  fields[names(column)] <- column
  fields$sources <- variables_in(book, as.character(fields$sources))
  do.call(new_variable, c(fields, list(site = home(site_of(book)))), quote = TRUE)
}
