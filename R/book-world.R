# What a turn may know of the book while it lowers itself.
world_of <- function(book, recorded = list(), context = learning_context(book, new.env())) {
  list(
    is_recorded = function(note) any(vapply(recorded, function(r) identical(r$of, note$of), NA)),
    names = names(book), id = info_of(book)$id, rows = row_count(book),
    learn_all = function(call) learn_notes(call, context, recorded),
    learn = function(call) learn_call(call, context, recorded)$note,
    meaning = function(name) meaning_in(book, name),
    facts = function(name) facts_of(book, name), met = function(name) values_met(book, name),
    column = function(name) values_of(book, name),
    values = function(name) values_held(book, name),
    outside = function(name, limits) values_outside(book, name, limits),
    is_long = function(name) is_long(column_in(book, name)),
    answers = function(name, most) answers_upto(book, name, most),
    is_whole = function(name) has_whole_values(book, name),
    bands = function(name, cuts, ends) bands_of(book, name, cuts, ends),
    gaps = function(order, unit, occasions) rows_after_gaps(book, order, unit, occasions),
    is_text = function(name) has_text(book, name) || is_empty(book, name),
    kinds = function(name) kinds_known(book, name)
  )
}

# How many different answers a variable has, or `most`, if there are more.
answers_upto <- function(book, name, most) {
  if (!is_long(column_in(book, name))) return(min(most, length(values_met(book, name)$values)))
  found <- groups_at_site(info_of(book)$site, book, list(as.name(name)), most)
  if (is.null(found)) most else min(most, sum(!is.na(found$keys[[1]])))
}

# Where statistics are learned: what is met in a variable, and what a turn knows of it already.
learning_context <- function(book, memo) {
  c(context_of(book, memo), list(
    joint = if (is_on_site(book)) function(names) context_over(names, book),
    few = if (is_on_site(book)) function(names) context_of_few(names, book),
    ask = if (is_on_site(book)) questions_of(book),
    met = function(name) values_met(book, name),
    codes = function(name) meaning_in(book, name)$codes
  ))
}

# How many rows of a unit come two occasions or more after the row before. `occasions` are not asked
# for where they are too many.
rows_after_gaps <- function(book, order, unit, occasions) {
  if (is_long(column_in(book, order))) {
    return(gaps_at_site(info_of(book)$site, book, order, unit))
  }
  if (is_on_site(book) && is.null(context_of_few(c(order, unit), book))) {
    place <- lookup_node(as.double(seq_along(occasions)), setNames(list(occasions), order))
    before <- call("previous", place, unit = as.name(unit), order = as.name(order))
    if (is.character(occasions)) before$steps <- occasions
    far <- tally_node(call(">", call("-", place, before), 1))
    return(tallies_at_site(info_of(book)$site, book, list(far)))
  }
  context <- context_over(c(order, unit), book)
  place <- match(context$value(order), occasions)
  earlier <- place[row_before(context$value(unit), place)]
  sum(place - earlier > 1, na.rm = TRUE)
}

# Where some variables are looked at side by side: the rows, or, where these are elsewhere, the
# cells that they span together.
context_over <- function(names, book) {
  if (!is_on_site(book)) return(context_of(book))
  context_of_few(names, book) %||% refuse_rows()
}

# NULL where they span too many cells to be fetched.
context_of_few <- function(names, book) {
  cells <- if (all_indexed(names, book)) cells_of_index(names, book)
  if (!is.null(cells)) context_of(cells$book)
}

# What may be asked about formulas where the rows are, see book-ask.R.
questions_of <- function(book) {
  site <- info_of(book)$site
  plain <- function(nodes) lapply(nodes, rewrite_kinds, book = book)
  list(
    groups = function(nodes, most, where = NULL) {
      groups_at_site(site, book, plain(nodes), most,
        if (!is.null(where)) rewrite_kinds(where, book))
    },
    moments = function(node, within) {
      moments_at_site(site, book, rewrite_kinds(node, book), plain(within))
    },
    ends = function(node, within) {
      ends_at_site(site, book, rewrite_kinds(node, book), plain(within))
    },
    ranks = function(node, ranks, within) {
      ranks_at_site(site, book, rewrite_kinds(node, book), ranks, plain(within))
    },
    most = register_values
  )
}

# A column without any answer and any labels may be anything, text too.
is_empty <- function(book, name) {
  !length(meaning_in(book, name)$codes) && facts_of(book, name)$valid == 0
}

# A place where statistics are learned, which takes its time before the first step is done.
telling <- function(context, progress) {
  value <- context$value
  context$value <- function(name) {
    progress(0)
    value(name)
  }
  context
}
