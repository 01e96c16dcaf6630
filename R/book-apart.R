# In how many rows two variables differ whose rows are elsewhere.

# Each is told by its name and a book; both books are of the same table.
rows_apart <- function(name, book, other, its_book) {
  columns <- list(column_in(book, name), column_in(its_book, other))
  # drafts of one name cannot be told apart in one question
  made <- any(vapply(columns, function(column) !is.null(column$cells$codes$site$kept), NA))
  both <- if (!(made && name == other)) columns_in_few_cells(columns)
  if (!is.null(both)) {
    return(sum(both$times[rows_that_differ(both$columns[[1]]$x, both$columns[[2]]$x)]))
  }
  beside <- beside_each_other(book, name, its_book)
  node <- unlike_node(as.name(beside$name), as.name(other),
    exact = is_exact(column_in(book, name)$x))
  as.integer(tallies_at_site(info_of(its_book)$site, beside$book, list(node)))
}

# The originals that may equal a variable which is not in the book yet: of its type, with the same
# codes, and the same in some rows, whichever are read first. What cannot be asked about is none.
alike_originals <- function(column, meaning, book) {
  names <- Filter(function(name) {
    its <- meaning_in(book, name)
    identical(names(its$codes), names(meaning$codes)) &&
      typeof_alike(column$x, valid_column(original_in(book, name)[0], its)$x)
  }, original_names(book))
  seem_equal_at_site(names, book_with(book, guest, column), is_exact(column$x))
}

# Those of some originals that are the same as the guest of a book in all rows that are read first.
seem_equal_at_site <- function(names, book, exact) {
  one_by_one <- function(e) {
    if (length(names) > 1) unlist(lapply(names, seem_equal_at_site, book, exact))
  }
  tryCatch(names[unlike_first_at_site(info_of(book)$site, book, guest, names, exact) == 0],
    ableturn_error_sql_refused = one_by_one)
}

# Both texts, both dates, or both numbers.
typeof_alike <- function(a, b) {
  is.character(a) == is.character(b) && inherits(a, "Date") == inherits(b, "Date")
}

# In how many rows a variable is missing in one of two books alone.
rows_missing_in_one <- function(name, book, its_book) {
  beside <- beside_each_other(book, name, its_book)
  rows_where(beside$book, unlike_missing(as.name(beside$name), as.name(name)))
}

unlike_missing <- function(a, b) {
  gone <- function(x) call("unanswered", x)
  call("|", call("&", gone(a), call("!", gone(b))), call("&", gone(b), call("!", gone(a))))
}

is_exact <- function(x) is.character(x) || is.integer(x) || inherits(x, "Date")

# One book with the variables of another that `name` rests on, under names of their own where they
# are not the same.
beside_each_other <- function(book, name, its_book) {
  if (!is_derived(book, name)) return(list(book = its_book, name = name))
  needed <- intersect(derived_names(book), needs_of(book, name))
  called <- setNames(paste0(guest, needed), needed)
  by <- lapply(called, as.name)
  columns <- lapply(needed, function(one) {
    column <- derived_of(book)[[one]]
    column$expr <- replace_names(column$expr, by)
    column
  })
  known <- derived_of(its_book)
  list(name = called[[name]], book = with_parts(its_book, columns = c(known[setdiff(names(known),
    called)], setNames(columns, called))))
}

# A derived variable with all others that its formula reads, directly or in steps.
needs_of <- function(book, name) {
  if (!is_derived(book, name)) return(name)
  unique(c(unlist(lapply(formula_vars(derived_of(book)[[name]]$expr), needs_of, book = book)),
    name))
}

# 1 for rows that differ as rows_that_differ() has it, else 0: equal ones do not, nor numbers with
# one part in 1e12 between them.
unlike_node <- function(a, b, exact) {
  gone <- function(x) call("unanswered", x)
  size <- function(x) call("abs", x)
  near <- call("<=", size(call("-", a, b)), call("*", 1e-12, call("row_max", size(a), size(b),
    at_least = 1)))
  apart <- if (exact) 1 else call("first_valid", call("choose", near, 0, 1), 1)
  call("choose", unlike_missing(a, b), 1, gone(a), 0, call("==", a, b), 0, apart)
}
