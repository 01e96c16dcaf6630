# A turnbook is a list with a class. `$` gives analysts their columns, so its own parts are
# reached by `held()`:
#   data      the originals, a list of columns as they came
#   meanings  what the originals mean: a meaning for each
#   log       what was done, in order: definitions, turns and checks
#   columns   the derived variables: x, why, kinds, facts, mark, meaning, expr, verb, and the variables it
#             is from, needs to be worked out, and reads (what it learned from as well)
#   past      what the last step changed, so that it can be undone
#   info      name, file, id, rows, fingerprint, sheet
#   cache     originals made ready for analysis and what is known of them, kept while their meaning holds
held <- function(book, name) .subset2(book, name)

with_parts <- function(book, ...) {
  parts <- unclass(book)
  new <- list(...)
  for (name in names(new)) parts[name] <- list(new[[name]])
  structure(parts, class = "turnbook")
}

# The turn that made each of some variables, or "original".
verb_of <- function(book, names) {
  vapply(names, function(name) held(book, "columns")[[name]]$verb %||% "original", "", USE.NAMES = FALSE)
}

row_count <- function(book) held(book, "info")$rows

original_names <- function(book) names(held(book, "data"))

derived_names <- function(book) names(held(book, "columns")) %||% character()

is_derived <- function(book, name) !is.null(held(book, "columns")[[name]])

# What a variable means: of a derived one as its turn made it.
meaning_in <- function(book, name) {
  if (is_derived(book, name)) held(book, "columns")[[name]]$meaning
  else held(book, "meanings")[[name]] %||% new_meaning()
}

# The column of a variable, with NA and the reason for it wherever it has no valid answer.
column_in <- function(book, name) {
  if (is_derived(book, name)) return(held(book, "columns")[[name]])
  cache <- held(book, "cache")
  if (is.null(cache[[name]])) {
    meaning <- meaning_in(book, name)
    column <- valid_column(original_source(book, name), meaning)
    asked <- asked_node(meaning)
    cache[[name]] <- if (is.null(asked)) column else set_not_asked(column, as_truth(evaluate(asked, place_of(book))))
  }
  cache[[name]]
}

# Of long data, no copy of an original is kept from one step to the next: making it ready again
# takes less than waiting for memory.
let_go_of_copies <- function(book) {
  if (row_count(book) < 100000) return(invisible())
  cache <- held(book, "cache")
  ready <- Filter(function(name) !is.null(cache[[name]]), original_names(book))
  kept <- same_objects(unclass(held(book, "data"))[ready], lapply(ready, function(name) cache[[name]]$x))
  rm(list = ready[!kept], envir = cache)
}

# The values alone: those of an original that nothing has to be set aside of are used as they are.
values_of <- function(book, name) {
  if (is_derived(book, name)) return(held(book, "columns")[[name]]$x)
  ready <- held(book, "cache")[[name]]
  if (!is.null(ready)) return(ready$x)
  x <- held(book, "data")[[name]]
  meaning <- meaning_in(book, name)
  as_it_is <- !length(meaning$missing) && is.null(meaning$asked_if) && is.null(meaning$read)
  plain <- is.numeric(x) && !is.object(x) && as_it_is
  if (plain) plain_values(x) else column_in(book, name)$x
}

# An original as it came; where its meaning says how it is read, the texts that stand in its file.
original_source <- function(book, name) {
  raw <- held(book, "data")[[name]]
  info <- held(book, "info")
  if (is.null(meaning_in(book, name)$read) || is.null(info$file) || is_text_like(raw)) return(raw)
  ifelse(is.na(raw), NA, info$spelling[[name]] %||% show_value(raw))
}

# For whom a question was asked: a condition kept as text, with codes for labels.
asked_node <- function(meaning) if (!is.null(meaning$asked_if)) parse_formula(meaning$asked_if)

# Under these names what is known of a variable's values is kept beside its column.
facts_key <- function(name) paste0(name, "\rfacts")

values_key <- function(name) paste0(name, "\rvalues")

profile_key <- function(name) paste0(name, "\rprofile")

suspects_key <- function(name) paste0(name, "\rsuspects")

# The marks of all originals, see mark_of().
marks_key <- "\rmarks"

# Where formulas are evaluated.
place_of <- function(book) {
  list(
    value = function(name) values_of(book, name),
    kind = function(name, kind) is_kind(column_in(book, name), kind),
    rows = row_count(book), stand_for = held(book, "info")$stand_for
  )
}

has_text <- function(book, name) {
  if (is_derived(book, name)) return(is_text_like(held(book, "columns")[[name]]$x))
  meaning <- meaning_in(book, name)
  if (is.null(meaning$read)) is_text_like(held(book, "data")[[name]]) else reads_as_text(meaning)
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
  c(held(book, "data"), lapply(held(book, "columns"), `[[`, "x"))
}

#' @export
names.turnbook <- function(x) c(original_names(x), derived_names(x))

#' @export
dim.turnbook <- function(x) c(row_count(x), length(names(x)))

#' @export
length.turnbook <- function(x) length(names(x))
