# Variables as they are worked with: columns with NA and the reason wherever there is no valid
# answer, their indexes, and what is known of their values. Of an original all this is found once
# and kept.

# The column of a variable, with NA and the reason for it wherever it has no valid answer.
column_in <- function(book, name) {
  derived <- derived_in(book, name)
  if (!is.null(derived)) return(derived)
  keep_once(book, name, "column", ready_column(book, name))
}

ready_column <- function(book, name) {
  meaning <- meaning_in(book, name)
  index <- index_in(book, name)
  if (is.null(index) && is_on_site(book)) return(long_original(book, name))
  column <- if (is.null(index)) valid_column(original_source(book, name), meaning) else
    valid_by_index(index, meaning)
  asked <- asked_node(meaning)
  if (is.null(asked)) column else asked_column(column, asked, book)
}

# The column of those who were asked, worked out for cells where these are few.
asked_column <- function(column, asked, book) {
  vars <- formula_vars(asked)
  few <- !is.null(column$cells) && all_indexed(vars, book)
  index <- if (few) {
    index_of_several(c(list(column), lapply(vars, column_in, book = book)),
      row_count(book))
  }
  if (is.null(index)) {
    return(set_not_asked(column, as_truth(evaluate(asked, context_of(book)))))
  }
  others <- Map(function(name, places) column_of_cells(column_in(book, name), places),
    self_named(vars), index$places[-1])
  small <- book_of_cells(others, index$rows, book)
  made <- set_not_asked(column_of_cells(column, index$places[[1]]),
    as_truth(evaluate(asked, context_of(small))), index$rows)
  c(spread_column(made, index$codes, index$rows), made["answered_unasked"])
}

# For whom a question was asked: a condition kept as text, with codes for labels.
asked_node <- function(meaning) if (!is.null(meaning$asked_if)) parse_formula(meaning$asked_if)

# The cells of a variable, see new_indexed(); NULL where its answers are not few.
cells_in <- function(book, name) {
  derived <- derived_in(book, name)
  if (!is.null(derived)) return(derived$cells)
  if (!is.null(index_in(book, name))) column_in(book, name)$cells
}

all_indexed <- function(vars, book) {
  all(vapply(vars, function(name) !is.null(cells_in(book, name)), NA))
}

# The index of an original: of its answers as they came, whatever they mean. NULL where they are not
# few, or where its texts are read from the file anew.
index_in <- function(book, name) {
  if (!is.null(info_of(book)$stand_for) || read_from_spelling(book, name)) return(NULL)
  site <- info_of(book)$site
  index <- keep_once(book, name, "index", (if (is.null(site)) index_of_raw(original_in(book,
    name)) else index_at_site(site, name)) %||% FALSE)
  if (is.list(index)) index
}

# The index of several columns together: its codes, how many rows are in each of its cells, and the
# `places` of these in the cells of each column. NULL where there would be too many of them.
index_of_several <- function(columns, rows) {
  if (is_far(columns[[1]])) return(index_of_far(columns))
  codes <- lapply(columns, function(column) column$cells$codes)
  own <- match_objects(codes)
  first <- unique(own)
  sizes <- lengths(lapply(columns[first], function(column) column$cells$rows))
  if (length(first) == 1) {
    return(c(columns[[first]]$cells[c("codes", "rows")],
      list(places = rep(list(seq_len(sizes)), length(own)))))
  }
  if (prod(sizes) > min(4096, rows / 4)) return(NULL)
  places <- unclass(expand.grid(lapply(sizes, seq_len), KEEP.OUT.ATTRS = FALSE))
  c(joint_index(unname(codes[first]), sizes), list(places = unname(places)[match(own, first)]))
}

# The book with these short columns in place of its own; meanings and record stay. `rows`: how many
# rows of the data each row of them stands for.
book_of_cells <- function(columns, rows, book) {
  derived <- intersect(names(columns), derived_names(book))
  made <- derived_of(book)
  made[derived] <- lapply(derived, function(name) {
    replace(made[[name]], c("x", "why", "kinds", "cells"),
      columns[[name]][c("x", "why", "kinds", "cells")])
  })
  originals <- columns[setdiff(names(columns), derived)]
  cache <- list2env(lapply(originals, function(column) list(column = column)), new.env())
  info <- info_of(book)
  info$rows <- length(rows)
  info$stand_for <- rows
  info["site"] <- list(NULL)
  with_parts(book, columns = made, cache = cache, info = info)
}

# What is known of a variable's values; of an original it is found once and kept as long as its
# meaning holds, of a derived variable it stands with its column.
facts_of <- function(book, name) {
  derived <- derived_in(book, name)
  if (!is.null(derived)) return(derived$facts)
  keep_once(book, name, "facts", facts_of_original(book, name))
}

facts_of_original <- function(book, name) {
  if (is_on_site(book) && is_long(column_in(book, name))) return(column_in(book, name)$facts)
  if (is.null(index_in(book, name))) return(facts_of_column(values_of(book, name)))
  column <- column_in(book, name)
  if (is.null(column$cells)) facts_of_column(column$x) else facts_by_index(column)
}

learn_facts <- function(book, names) {
  for (name in intersect(names, original_names(book))) facts_of(book, name)
}

# The values alone: those of an original that nothing has to be set aside of are used as they are.
values_of <- function(book, name) {
  derived <- derived_in(book, name)
  if (!is.null(derived)) return(derived$x)
  ready <- cache_of(book)[[name]]$column
  if (!is.null(ready) && !is_not_written(ready$x)) return(ready$x)
  x <- original_in(book, name)
  meaning <- meaning_in(book, name)
  as_it_is <- !length(meaning$missing) && is.null(meaning$asked_if) && is.null(meaning$read)
  plain <- is.numeric(x) && !is.object(x) && as_it_is
  if (plain) plain_values(x) else column_in(book, name)$x
}

# An original as it came; where its meaning says how it is read, the texts that stand in its file.
original_source <- function(book, name) {
  raw <- original_in(book, name)
  if (!read_from_spelling(book, name)) return(raw)
  texts <- as.character(spelled_in_file(raw, info_of(book)$spelling[[name]]))
  texts[is.na(raw)] <- NA
  texts
}

# The texts of a column in its file: kept where they are spelled otherwise than the package writes
# them; or it is told how what is missing is spelled.
spelled_in_file <- function(raw, spelling) {
  if (is.character(spelling)) return(spelling)
  texts <- show_value(raw)
  if (!is.null(spelling)) texts[is.na(raw)] <- spelling$na
  texts
}

read_from_spelling <- function(book, name) {
  !is.null(meaning_in(book, name)$read) && !is.null(info_of(book)$file) &&
    !is_text_like(original_in(book, name))
}

# The context in which formulas are evaluated, see evaluate().
context_of <- function(book, memo = new.env()) {
  list(
    value = function(name) values_of(book, name),
    cells = if (is.null(info_of(book)$stand_for)) function(name) cells_in(book, name),
    kind = function(name, kind) is_kind(column_in(book, name), kind),
    rows = row_count(book), stand_for = info_of(book)$stand_for, memo = memo
  )
}
