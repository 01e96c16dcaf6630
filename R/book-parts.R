# A turnbook is a list with a class. `$` gives analysts their columns, so its own parts are reached
# by the functions below, and by with_parts() for a book with others:
#   data      the originals, a list of columns as they came
#   meanings  what the originals mean: a meaning for each
#   log       the steps that were done, in order: definitions, turns and checks
#   columns   the derived variables, see new_derived()
#   past      what the last step changed, so that it can be undone
#   undone    what leads back to steps that were undone, the last one first
#   info      name, file, id, rows, sheet
#   cache     for each original what was worked out of it, see keep_once(); valid while its meaning
#             holds
# They are written out rather than one by way of the other: a turn calls them some hundred times.
originals_of <- function(book) .subset2(book, "data")

original_in <- function(book, name) .subset2(.subset2(book, "data"), name)

derived_of <- function(book) .subset2(book, "columns")

derived_in <- function(book, name) .subset2(.subset2(book, "columns"), name)

meanings_of <- function(book) .subset2(book, "meanings")

steps_of <- function(book) .subset2(book, "log")

info_of <- function(book) .subset2(book, "info")

# What the data are called: a title that was given them, else their file, else their name.
data_title <- function(book) {
  info <- info_of(book)
  info$title %||% if (is.null(info$file)) info$name else basename(info$file)
}

# The same; of a file without its ending.
title_of <- function(book) info_of(book)$title %||% sub("\\.[^.]*$", "", data_title(book))

cache_of <- function(book) .subset2(book, "cache")

part_of_book <- function(book, name) .subset2(book, name)

with_parts <- function(book, ...) {
  parts <- unclass(book)
  new <- list(...)
  parts[names(new)] <- new
  class(parts) <- "turnbook"
  parts
}

# The turn that made each of some variables, or "original".
verb_of <- function(book, names) {
  vapply(names, function(name) derived_in(book, name)$verb %||% "original", "", USE.NAMES = FALSE)
}

row_count <- function(book) info_of(book)$rows

original_names <- function(book) names(originals_of(book))

derived_names <- function(book) names(derived_of(book)) %||% character()

is_derived <- function(book, name) !is.null(derived_in(book, name))

# What a variable means: of a derived one as its turn made it.
meaning_in <- function(book, name) {
  derived <- derived_in(book, name)
  meaning <- if (is.null(derived)) meanings_of(book)[[name]] else derived$meaning
  if (is.null(meaning)) new_meaning() else meaning
}

# What is worked out of an original once: its column ready for analysis, facts, distinct values,
# suspects, profile. To work out one may need another of them.
keep_once <- function(book, name, what, value) {
  cache <- cache_of(book)
  known <- cache[[name]][[what]]
  if (!is.null(known)) return(known)
  # First of all: while it is found, other things are found and kept.
  force(value)
  put_in_cache(cache, name, what, value)
  value
}

put_in_cache <- function(cache, name, what, value) {
  known <- cache[[name]] %||% list()
  known[[what]] <- value
  assign(name, known, cache)
}

# The cache of a book whose meanings of some originals change: the only place where anything is
# dropped from it. Indexes and the fingerprint are of the data as they came.
cache_without <- function(book, vars) {
  kept <- as.list(cache_of(book), all.names = TRUE)
  kept[vars] <- lapply(kept[vars], function(known) known[names(known) %in% "index"])
  kept[all_originals] <- lapply(kept[all_originals], function(known) {
    known[names(known) %in% "fingerprint"]
  })
  list2env(kept, new.env())
}

# The name under which stands what is known of all originals together.
all_originals <- "\rall"

# Of long data, no copy of an original is kept from one step to the next: making it ready again
# takes less than waiting for memory.
let_go_of_copies <- function(book) {
  if (row_count(book) < 100000) return(invisible())
  cache <- cache_of(book)
  ready <- Filter(function(name) !is.null(cache[[name]]$column), original_names(book))
  ready <- Filter(function(name) !is_not_written(cache[[name]]$column$x), ready)
  kept <- same_objects(unclass(originals_of(book))[ready],
    lapply(ready, function(name) cache[[name]]$column$x))
  for (name in ready[!kept]) put_in_cache(cache, name, "column", NULL)
}

has_text <- function(book, name) {
  derived <- derived_in(book, name)
  if (!is.null(derived)) return(is_text_like(derived$x))
  meaning <- meaning_in(book, name)
  if (is.null(meaning$read)) is_text_like(original_in(book, name)) else reads_as_text(meaning)
}

variable_type <- function(book, name) {
  if (has_text(book, name)) return("text")
  if (inherits(column_in(book, name)$x, "Date")) "date" else "number"
}

# The text variables that a formula reads as dates.
dates_in_text <- function(expr, book) {
  named <- Filter(is.symbol, lapply(calls_of(expr, "as.Date"), `[[`, 2))
  Filter(function(name) has_text(book, name), vapply(named, as.character, ""))
}

# The text variables that a formula reads as numbers.
numbers_in_text <- function(expr, book) texts_as_numbers(expr, function(name) has_text(book, name))

#' @export
selectable.turnbook <- function(book) {
  c(originals_of(book), lapply(derived_of(book), .subset2, "x"))
}

#' @export
names.turnbook <- function(x) c(original_names(x), derived_names(x))

#' @export
dim.turnbook <- function(x) c(row_count(x), length(names(x)))

#' @export
length.turnbook <- function(x) length(names(x))
