#' Show the working of rows
#'
#' The arithmetic of single rows, from the originals down: what each value was
#' made from, with missing answers shown as a dot, and rules shown by the one that
#' caught the row.
#'
#' @param book A turnbook.
#' @param var A derived variable.
#' @param rows Positions of rows; a table of a database has none, its rows are named by `id`.
#' @param id Identifiers of rows, in place of positions.
#' @param ... Not used.
#' @return A data frame with a row for each step: `row`, `variable`, `how` ("formula" or "rule"),
#'   `working`, `value` (the result as text) and `reason` (why it is missing). It prints as
#'   lines such as `strain = (4 + 2 + . + 5) / 3 = 3.667`.
#' @section Errors: `ableturn_error_not_derived`, `ableturn_error_no_such_row`.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_composite(book, st_1:st_6, reversed = c(st_2, st_5), at_least = 5, as = "strain")
#' book <- turn_standardize(book, strain)
#' show_working(book, strain_z, rows = 2)
#' @export
show_working <- function(book, var, rows = 1, id = NULL, ...) {
  refuse_dots(...)
  book <- as_book(book)
  name <- derived_var(book, rlang::enquo(var), "worked out")
  heads <- list()
  if (!site_can(site_of(book), "row numbers")) {
    book <- book_of_ids(book, name, id)
    heads <- setNames(as.list(paste(info_of(book)$id, show_value(id))), rows_of_id(id, book))
  }
  places <- if (is.null(id)) check_rows(rows, book) else rows_of_id(id, book)
  steps <- working_order(name, book)
  parts <- lapply(places, function(row) {
    do.call(rbind, lapply(steps, working_step, row = row, book = book))
  })
  as_table(do.call(rbind, parts), "ableturn_working", id = info_of(book)$id, heads = heads)
}

# The rows of some identifiers in memory, with all others that have a part in their working.
book_of_ids <- function(book, names, id) {
  known <- info_of(book)$id
  if (is.null(known)) fail("no-id")
  if (is.null(id)) fail("working-by-id", name = known)
  related <- unlist(lapply(names, related_vars, book = book))
  related <- intersect(related, original_names(book))
  where <- setNames(list(id), known)
  if (length(related)) {
    near <- rows_at(site_of(book), related, where)
    where <- c(where, as.list(near))
  }
  local_book(book, names, where)
}

# The variables whose equal values bring other rows into the working of one.
related_vars <- function(name, book) {
  made <- Filter(function(v) is_derived(book, v), behind(name, book))
  unique(unlist(lapply(made, function(v) {
    expr <- derived_in(book, v)$expr
    c(unlist(lapply(calls_of(expr, "previous"), function(call) as.character(call$unit))),
      unlist(lapply(calls_of(expr, "group"), function(call) {
        unlist(lapply(row_items(call)[-1], formula_vars))
      })))
  })))
}

check_rows <- function(rows, book) {
  ok <- is.numeric(rows) && length(rows) && all(rows %in% seq_len(row_count(book)))
  if (ok) as.integer(rows) else fail("no-such-row", rows = paste(rows), most = row_count(book))
}

rows_of_id <- function(id, book) {
  name <- info_of(book)$id
  if (is.null(name)) fail("no-id")
  rows <- match(show_value(id), show_value(original_in(book, name)))
  if (anyNA(rows)) fail("no-such-id", value = show_value(id[is.na(rows)]), name = name)
  rows
}

# The derived variables that lead to this one, each after what it is made from.
working_order <- function(name, book) {
  if (!is_derived(book, name)) return(character())
  before <- unlist(lapply(derived_in(book, name)$from, working_order, book = book))
  unique(c(before, name))
}

working_step <- function(name, row, book) {
  derived <- derived_in(book, name)
  x <- derived$x[row]
  gone <- is.na(x)
  data.frame(
    row = row, variable = name, how = if (is.null(derived$rules)) "formula" else "rule",
    working = working_text(derived, row, book), value = if (gone) "." else shown_value(x),
    reason = if (gone) told_reasons(derived)[match(row, which(is.na(derived$x)))] else ""
  )
}

shown_value <- function(x) {
  if (is.double(x) && !inherits(x, "Date")) brief_number(x) else show_value(x)
}

working_text <- function(derived, row, book) {
  node <- row_constants(derived$expr, row, book)
  context <- context_of_row(row, book)
  if (!is.call(node) || call_head(node) != "choose") return(filled_text(node, context))
  branch <- evaluate_full(node, context)$branch
  if (!is.null(derived$rules)) return(rule_text(derived, branch, row, book))
  tests <- choose_parts(node)$tests
  told <- vapply(tests[seq_len(if (is.na(branch) || branch == 0) length(tests) else branch)],
    filled_text, "", context = context)
  paste(told, collapse = ", else ")
}

# The rule that caught the row, with what it was asked about.
rule_text <- function(derived, branch, row, book) {
  shown <- vapply(derived$from, function(v) {
    paste(v, value_text(values_of(variable_in(book, v))[row]))
  }, "")
  given <- Filter(function(r) !r$rest, derived$rules)
  rest <- Filter(function(r) r$rest, derived$rules)
  rule <- if (is.na(branch)) NULL else if (branch > 0 &&
    branch <= length(given)) given[[branch]] else if (length(rest)) rest[[1]]
  paste0(paste(shown, collapse = ", "), ": ", if (is.null(rule)) "no rule" else describe_rule(rule))
}

# What depends on other rows is worked out beforehand, over all of them.
row_constants <- function(node, row, book) {
  if (!is.call(node)) return(node)
  site <- site_of(book)
  if (call_head(node) %in% c("group", "previous", "baseline")) {
    return(full_length(evaluate(node, site), site$rows)[row])
  }
  as.call(c(node[[1]], lapply(as.list(node)[-1], row_constants, row = row, book = book)))
}

context_of_row <- function(row, book) site_of_rows(site_of(book), row)

# The formula with the values of the row in place of names.
filled_text <- function(node, context) {
  formula_text(node, list(name = function(name) value_text(context$value(name)),
    calls = working_calls(context)))
}

value_text <- function(x) {
  if (is.na(x)) return(".")
  if (is.character(x)) return(quote_text(x))
  text <- shown_value(x)
  if (is.numeric(x) && !is.object(x) && x < 0) paste0("(", text, ")") else text
}

working_calls <- function(context) {
  found <- function(node, write) value_text(evaluate(node, context))
  item_text <- function(item, write) {
    if (!is.call(item)) return(write(item))
    if (is.na(evaluate(item, context))) "." else paste0("(", write(item), ")")
  }
  items <- function(node, write) vapply(row_items(node), item_text, "", write = write)
  valid <- function(node) {
    values <- vapply(row_items(node), function(item) as.double(as_number(evaluate(item, context))),
      0)
    sum(!is.na(values))
  }
  c(
    list(
      row_mean = function(node, write) {
        paste0("(", paste(items(node, write), collapse = " + "),
          ") / ", valid(node))
      },
      row_sum = function(node, write) paste(items(node, write), collapse = " + ")
    ),
    lapply(self_named(c("lookup", "rows_below", "rows_equal", "cuts_below")), function(word) found)
  )
}
