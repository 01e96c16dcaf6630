# The columns of a book as the analyst gets them. A book of a table is taken apart by these methods;
# one in memory is a data frame, see book-frame.R.

#' @export
as.data.frame.ableturn_book <- function(x, row.names = NULL, optional = FALSE, ...,
                                          columns = NULL, values = "codes", missing = "na",
                                          labels = FALSE) {
  refuse_dots(...)
  check_flag(labels, "labels")
  check_choice(values, "values", value_ways)
  check_choice(missing, "missing", missing_ways)
  chosen <- rlang::enquo(columns)
  names <- if (rlang::quo_is_null(chosen)) names(x) else select_vars(x, chosen, "columns")
  x <- local_book(x, names)
  out <- lapply(self_named(names), function(name) {
    column_out(x, name, values, missing == "codes")
  })
  if (labels) out <- Map(with_labels, out, lapply(names, meaning_in, book = x))
  if (missing == "reasons") out <- beside_each(out, reason_columns(x, names))
  structure(out, class = "data.frame", row.names = info_of(x)$row_names %||%
    .set_row_names(row_count(x)))
}

missing_ways <- c("na", "codes", "reasons")
value_ways <- c("codes", "labels", "typed")

# A factor has its labels as levels.
with_labels <- function(column, meaning) {
  attr(column, "label") <- meaning$label
  if (length(meaning$codes) && !is.factor(column)) attr(column, "labels") <- meaning$codes
  column
}

# Why derived answers are missing: a text for each row, NA where there is an answer; under the names
# of `names`, if it has some.
reason_columns <- function(book, names) {
  if (is.null(base::names(names))) names <- self_named(names)
  made <- Filter(function(name) {
    is_derived(book, name) && anyNA(column_of(variable_in(book, name))$x)
  }, names)
  found <- lapply(made, function(name) {
    column <- column_of(variable_in(book, name))
    replace(rep(NA_character_, row_count(book)), is.na(column$x), told_reasons(column))
  })
  setNames(found, base::names(made))
}

# Each reason column after the variable it is about.
beside_each <- function(columns, reasons) {
  taken <- intersect(paste0(names(reasons), "_why"), names(columns))
  if (length(taken)) fail("reasons-taken", name = taken)
  unlist(lapply(names(columns), function(name) {
    c(columns[name], if (name %in% names(reasons)) setNames(reasons[name], paste0(name, "_why")))
  }), recursive = FALSE)
}

# A column as the analyst gets it.
column_out <- function(book, name, values = "codes", keep_codes = FALSE) {
  labels <- values == "labels" && length(meaning_in(book, name)$codes) > 0
  original <- !is_derived(book, name)
  if (labels && !(original && is.factor(original_in(book, name)))) {
    return(as_labels(labelled_values(book, name, keep_codes), meaning_in(book, name)))
  }
  if (original) original_out(book, name, keep_codes, values == "typed") else
    column_of(variable_in(book, name))$x
}

# The values that labels are for: of a column that is read, what was read.
labelled_values <- function(book, name, keep_codes) {
  if (is_read(book, name)) {
    column_of(variable_in(book, name))$x
  } else {
    written_values(book, name, keep_codes)
  }
}

# Plain values to be written.
written_values <- function(book, name, keep_codes, typed = FALSE) {
  if (is_read(book, name)) {
    return(if (typed) plain_values(original_out(book, name, keep_codes, TRUE)) else
      read_to_write(book, name, keep_codes))
  }
  raw <- keep_codes && !is_derived(book, name)
  if (raw) plain_values(original_in(book, name)) else column_of(variable_in(book, name))$x
}

# What is read, or, as it was `typed`, the object that came in; declared missing codes and answers
# of who was not asked are taken out of a copy.
original_out <- function(book, name, keep_codes, typed = FALSE) {
  if (!typed && is_read(book, name)) return(read_now(book, name, keep_codes))
  came <- info_of(book)$came[[name]] %||% original_in(book, name)
  meaning <- meaning_in(book, name)
  if (keep_codes || !length(meaning$missing) && is.null(meaning$asked_if)) return(came)
  values <- plain_values(original_in(book, name))
  column <- column_of(variable_in(book, name))
  gone <- is.na(column$x) & !is.na(values) & !(is.character(values) & values == "") &
    !is_kind(column, "unreadable")
  if (any(gone)) without_answers(came, gone) else came
}

# A whole number of 64 bits is missing where its bits are those of minus zero.
without_answers <- function(came, gone) {
  kept <- attributes(came)
  came <- unclass(came)
  came[gone] <- if ("integer64" %in% kept$class) -0 else NA
  attributes(came) <- kept
  came
}

as_labels <- function(x, meaning) {
  codes <- meaning$codes
  if (!length(codes)) return(x)
  values <- unique(x[!is.na(x)])
  values <- category_order(c(values, unname(codes)[!codes %in% values]), codes)
  factor(show_value(x), show_value(values), label_of(values, codes) %|% show_value(values),
    ordered = identical(meaning$level, "ordinal"))
}

#' @export
`$.ableturn_book` <- function(x, name) x[[name]]

#' @export
`[[.ableturn_book` <- function(x, i) {
  if (!is.character(i) || length(i) != 1) fail("column-by-name", got = describe_type(i))
  if (!i %in% names(x)) fail_unknown(i, names(x))
  column_out(local_book(x, i), i)
}

#' @export
`[.ableturn_book` <- function(x, i, j) {
  if (nargs() > 2) return(rows_out(x, if (missing(i)) TRUE else i, if (missing(j)) names(x) else j))
  if (!is.character(i)) fail("column-by-name", got = describe_type(i))
  if (!all(i %in% names(x))) fail_unknown(i, names(x))
  as.data.frame(x)[i]
}

# Some rows of some columns, as a data frame.
rows_out <- function(book, rows, columns) {
  if (is.character(columns) && !all(columns %in% names(book))) fail_unknown(columns, names(book))
  as.data.frame(book)[rows, columns, drop = FALSE]
}

#' @importFrom utils head tail
#' @export
head.ableturn_book <- function(x, ...) utils::head(as.data.frame(x), ...)

#' @export
tail.ableturn_book <- function(x, ...) utils::tail(as.data.frame(x), ...)

#' @export
`$<-.ableturn_book` <- function(x, name, value) refuse_assignment(x, name)

#' @export
`[[<-.ableturn_book` <- function(x, i, value) refuse_assignment(x, i)

#' @export
`[<-.ableturn_book` <- function(x, i, value) refuse_assignment(x, i)

#' @export
`names<-.ableturn_book` <- function(x, value) refuse_assignment(x, "names")

refuse_assignment <- function(book, name) {
  id <- if (name[1] %in% original_names(book)) "assign-original" else "assign-derived"
  fail(id, name = name)
}

#' @importFrom utils .DollarNames
#' @export
.DollarNames.ableturn_book <- function(x, pattern = "") grep(pattern, names(x), value = TRUE)

#' @export
as.list.ableturn_book <- function(x, ...) as.list(as.data.frame(x))
