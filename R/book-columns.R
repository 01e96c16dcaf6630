#' The columns of a turnbook
#'
#' `book$name` gives one column for analysis, `as.data.frame()` all of them,
#' originals first. Declared missing codes are `NA` unless asked for. The
#' originals inside the book stay as they came: nothing can be assigned to.
#'
#' @param x A turnbook.
#' @param row.names,optional Not used.
#' @param columns The columns in the order wanted, a tidyselect selection; left out, all.
#' @param values `"codes"`, or `"labels"` for factors where values have labels.
#' @param missing `"na"`, or `"codes"` to leave declared missing codes of the
#'   originals in place.
#' @param ... Not used.
#' @param name,i,value Name of a column.
#' @return A data frame, or a column.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' mean(book$wait_min, na.rm = TRUE)
#' head(as.data.frame(book, values = "labels")$island)
#' @export
as.data.frame.turnbook <- function(x, row.names = NULL, optional = FALSE, ...,
                                   columns = NULL, values = "codes", missing = "na") {
  refuse_dots(...)
  check_choice(values, "values", c("codes", "labels"))
  check_choice(missing, "missing", c("na", "codes"))
  chosen <- rlang::enquo(columns)
  names <- if (rlang::quo_is_null(chosen)) names(x) else select_vars(x, chosen, "columns")
  out <- lapply(self_named(names), function(name) {
    analysis_column(x, name, values == "labels", missing == "codes")
  })
  structure(out, class = "data.frame", row.names = .set_row_names(row_count(x)))
}

analysis_column <- function(book, name, labels = FALSE, keep_codes = FALSE) {
  raw <- keep_codes && !is_derived(book, name)
  column <- if (raw) plain_values(held(book, "data")[[name]]) else column_in(book, name)$x
  if (labels) as_labels(column, meaning_in(book, name)) else column
}

as_labels <- function(x, meaning) {
  codes <- meaning$codes
  if (!length(codes)) return(x)
  others <- sort_points(setdiff(unique(x[!is.na(x)]), codes))
  values <- c(show_value(unname(codes)), show_value(others))
  factor(show_value(x), values, c(names(codes), show_value(others)), ordered = identical(meaning$level, "ordinal"))
}

#' @rdname as.data.frame.turnbook
#' @export
`$.turnbook` <- function(x, name) x[[name]]

#' @rdname as.data.frame.turnbook
#' @export
`[[.turnbook` <- function(x, i) {
  if (!is.character(i) || length(i) != 1) fail("column-by-name", got = describe_type(i))
  if (!i %in% names(x)) fail_unknown(i, names(x))
  analysis_column(x, i)
}

#' @rdname as.data.frame.turnbook
#' @export
`[.turnbook` <- function(x, i) {
  if (!is.character(i)) fail("column-by-name", got = describe_type(i))
  if (!all(i %in% names(x))) fail_unknown(i, names(x))
  as.data.frame(x)[i]
}

#' @rdname as.data.frame.turnbook
#' @export
`$<-.turnbook` <- function(x, name, value) refuse_assignment(x, name)

#' @rdname as.data.frame.turnbook
#' @export
`[[<-.turnbook` <- function(x, i, value) refuse_assignment(x, i)

#' @rdname as.data.frame.turnbook
#' @export
`[<-.turnbook` <- function(x, i, value) refuse_assignment(x, i)

#' @rdname as.data.frame.turnbook
#' @export
`names<-.turnbook` <- function(x, value) refuse_assignment(x, "names")

refuse_assignment <- function(book, name) {
  id <- if (name[1] %in% original_names(book)) "assign-original" else "assign-derived"
  fail(id, name = name)
}

#' @importFrom utils .DollarNames
#' @export
.DollarNames.turnbook <- function(x, pattern = "") grep(pattern, names(x), value = TRUE)

#' @export
as.list.turnbook <- function(x, ...) as.list(as.data.frame(x))
