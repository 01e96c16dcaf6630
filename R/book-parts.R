# A book is a list with a class; of rows in memory analysts have it as a data frame, see
# book-frame.R. Its parts are reached by the functions below, and by with_parts() for a book with
# others:
#   data      the originals, a list of columns as they came
#   meanings  what the originals mean: a meaning for each
#   log       the steps that were done, in order: definitions, turns and checks
#   columns   the derived variables, see new_derived()
#   past      what the last step changed, so that it can be undone
#   undone    what leads back to steps that were undone, the last one first
#   info      name, file, id, rows, sheet
#   cache     the originals as variables, by name; valid while their meaning holds
#   came      what is known of the columns as they came, whatever they mean
#   shown     the originals as columns of a data frame, and the meanings by which they are so
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
  class(parts) <- if (is.null(.subset2(.subset2(parts, "info"), "site"))) "ableturn_book" else
    c("turnbook_table", "ableturn_book")
  parts
}

# A book before any step.
new_turnbook <- function(data, meanings, info) {
  with_parts(list(data = data, meanings = meanings, log = list(), columns = list(), info = info,
    cache = new.env(), came = list2env(list(columns = new.env(), prints = list()))))
}

row_count <- function(book) info_of(book)$rows

original_names <- function(book) names(originals_of(book))

derived_names <- function(book) names(derived_of(book)) %||% character()

is_derived <- function(book, name) !is.null(derived_in(book, name))

# A variable of the book by its name.
variable_in <- function(book, name) {
  made <- .subset2(.subset2(book, "columns"), name)
  if (!is.null(made)) return(made)
  cache <- .subset2(book, "cache")
  known <- cache[[name]]
  if (!is.null(known)) return(known)
  variable <- original_of(book, name)
  if (!is.null(variable$raw)) assign(name, variable, cache)
  variable
}

variables_in <- function(book, names) {
  lapply(self_named(names), function(name) variable_in(book, name))
}

# What a variable means: of a made one as its turn has it.
meaning_in <- function(book, name) variable_in(book, name)$meaning

# The turn that made each of some variables, or "original".
verbs_in <- function(book, names) {
  vapply(names, function(name) derived_in(book, name)$verb %||% "original", "", USE.NAMES = FALSE)
}

original_of <- function(book, name) {
  meaning <- meanings_of(book)[[name]] %||% new_meaning()
  raw <- original_in(book, name)
  info <- info_of(book)
  spelled <- !is.null(meaning$read) && !is.null(info$file) && !is_text_like(raw)
  asked <- if (!is.null(meaning$asked_if)) variables_in(with_parts(book, columns = NULL),
    formula_vars(asked_node(meaning)))
  original_variable(name, raw, meaning, info$site %||% in_memory, came_with(book, name),
    texts = if (spelled) function() known_texts(raw, info$spelling[[name]]), asked = asked)
}

# The texts of a column in its file: kept where they are spelled otherwise than the package writes
# them; or it is told how what is missing is spelled.
spelled_in_file <- function(raw, spelling) {
  if (is.character(spelling)) return(spelling)
  texts <- show_value(raw)
  if (!is.null(spelling)) texts[is.na(raw)] <- spelling$na
  texts
}

known_texts <- function(raw, spelling) {
  texts <- as.character(spelled_in_file(raw, spelling))
  texts[is.na(raw)] <- NA
  texts
}

# The environment that keeps what is known of a column as it came.
came_with <- function(book, name) {
  columns <- part_of_book(book, "came")$columns
  if (is.null(columns[[name]])) assign(name, new.env(parent = emptyenv()), columns)
  columns[[name]]
}

# The rows of a book with all its variables, as what questions are put to.
site_of <- function(book) {
  variable <- function(name) variable_in(book, name)
  site <- info_of(book)$site
  if (is.null(site)) new_memory_site(variable, row_count(book),
    columns = function() c(originals_of(book), derived_of(book))) else scoped(site, variable)
}

# The cache of a book whose meanings of some originals change: the only place where anything is
# dropped from it.
cache_without <- function(book, vars) {
  cache <- cache_of(book)
  list2env(mget(setdiff(names(cache), vars), cache), new.env())
}

# Of long data, no copy of an original is kept from one step to the next: making it ready again
# takes less than waiting for memory.
let_go_of_copies <- function(book) {
  if (row_count(book) < 100000) return(invisible())
  for (variable in as.list(cache_of(book))) {
    copied <- !is.null(variable$x) && !is_not_written(variable$x) &&
      !same_objects(list(variable$raw), list(variable$x))
    if (copied) rm(list = intersect(c("x", "why", "kinds", "cells"), names(variable)),
      envir = variable)
  }
}

#' @export
selectable.ableturn_book <- function(book) {
  c(originals_of(book), lapply(derived_of(book), `[[`, "x"))
}

#' @export
names.ableturn_book <- function(x) c(original_names(x), derived_names(x))

#' @export
dim.ableturn_book <- function(x) c(row_count(x), length(names(x)))

#' @export
length.ableturn_book <- function(x) length(names(x))
