#' Look at variables
#'
#' Frequencies of codes and texts, a summary of numbers, missing answers apart
#' by their reasons, and values that look like undeclared missing codes. A
#' formula is tried on the fly; nothing is recorded.
#'
#' @param book A turnbook, or a data frame.
#' @param ... Variables (a tidyselect selection) or formulas; left out, all
#'   variables.
#' @param by A variable whose groups are shown apart.
#' @param weight A variable with a weight of zero or more for each row.
#' @return A data frame, printed as a table for each variable: `variable`,
#'   `group`, `part` ("value", "statistic" or "missing"), `value`, `label`,
#'   `rows`, `weighted`, `percent` of all rows, `valid_percent` of the valid
#'   ones, and `amount` of a statistic.
#' @section Errors: Class `ableturn_error` for unknown variables or a negative weight.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' look(book, crossings, age)
#' look(book, log10(wait_min))
#' look(book, island, by = gender_code, weight = weight)
#' @export
look <- function(book, ..., by = NULL, weight = NULL) {
  book <- as_book(book)
  on.exit(let_go_of_copies(book))
  dots <- rlang::enquos(...)
  group <- rlang::enquo(by)
  weigh <- rlang::enquo(weight)
  subjects <- if (length(dots)) unlist(lapply(dots, look_subjects, book = book), recursive = FALSE)
  else lapply(names(book), subject_of_variable, book = book)
  by <- if (!rlang::quo_is_null(group)) one_var(book, group, "by")
  weight <- if (!rlang::quo_is_null(weigh)) one_var(book, weigh, "weight")
  look_at(book, subjects, by, weight)
}

look_at <- plainly(function(book, subjects, by = NULL, weight = NULL) {
  parts <- if (!is_on_site(book)) parts_of_rows(book, by, weight)
  seen <- lapply(subjects, function(subject) {
    if (is.null(parts)) parts <- parts_of_cells(book, subject, by, weight)
    if (is.null(parts)) return(look_far(subject, book, by, weight))
    subject$column <- parts$column %||% subject$column
    subject$column$times <- parts$times
    look_one(subject, parts$groups, parts$w, parts$times)
  })
  out <- rows_of_all(lapply(seen, `[[`, "table"))
  if (is.null(weight)) out$weighted <- NULL
  if (is.null(by)) out$group <- NULL
  as_table(out,
    "ableturn_look", subjects = lapply(seen, `[[`, "subject"),
    by = by, weight = weight
  )
})

# What is looked at, in rows: the rows of each group (`groups`), their weights `w`, and how many
# rows of the data each stands for (`times`). Where the rows are elsewhere, it is the cells that the
# variable spans with those of the groups and the weight, and `column` its own answers there; NULL
# where these are too many.
parts_of_rows <- function(book, by, weight) {
  list(
    groups = if (is.null(by)) list(seq_len(row_count(book))) else
      split_rows(column_in(book, by), meaning_in(book, by)),
    w = if (is.null(weight)) rep(1, row_count(book)) else
      row_weights(values_of(book, weight), weight)
  )
}

parts_of_cells <- function(book, subject, by, weight) {
  columns <- c(list(subject$column), lapply(c(by, weight), column_in, book = book))
  joined <- columns_in_few_cells(columns) %||% columns_in_groups(subject, c(by, weight), book)
  if (is.null(joined)) return(NULL)
  small <- joined$columns
  rows <- seq_along(joined$times)
  list(column = small[[1]], times = joined$times,
    groups = if (is.null(by)) list(rows) else split_rows(small[[2]], meaning_in(book, by)),
    w = if (is.null(weight)) rep(1, length(rows)) else
      row_weights(small[[length(small)]]$x, weight, joined$times))
}

# A selection gives variables; any other call is a formula.
look_subjects <- function(dot, book) {
  expr <- rlang::quo_get_expr(dot)
  if (is_selection(expr)) {
    return(lapply(select_vars(book, dot, "..."), subject_of_variable, book = book))
  }
  list(subject_of_formula(tidy_node(expr), book))
}

selection_words <- c(
  ":", "c", "!", "starts_with", "ends_with", "contains", "matches", "all_of", "any_of",
  "everything", "where", "last_col", "num_range", "one_of"
)

is_selection <- function(expr) {
  if (!is.call(expr)) return(TRUE)
  is.call(expr) && (call_head(expr) %in% selection_words ||
    (call_head(expr) == "-" && length(expr) == 2))
}

subject_of_variable <- function(name, book) {
  list(name = name, column = column_in(book, name), meaning = meaning_in(book, name),
    derived = is_derived(book, name))
}

subject_of_formula <- function(node, book) {
  text <- formula_text(node)
  turn <- new_turn("compute", "tried", formula = text)
  made <- make_columns(book, turn)
  column <- made$columns$tried
  list(name = text, column = column, meaning = column$meaning, formula = text,
    learned = made$turn$learned, derived = TRUE)
}

row_weights <- function(values, name, times = 1) {
  w <- as_number(values)
  below <- sum((w < 0) * times, na.rm = TRUE)
  if (below) fail("weight-negative", name = name, rows = counted(below, "row"))
  w[is.na(w)] <- 0
  w
}

split_rows <- function(column, meaning) {
  values <- category_order(unique(column$x[!is.na(column$x)]), meaning$codes)
  labels <- label_of(values, meaning$codes) %|% show_value(values)
  rows <- lapply(values, function(v) which(column$x == v))
  names(rows) <- labels
  gone <- which(is.na(column$x))
  if (length(gone)) rows <- c(rows, list("(missing)" = gone))
  rows
}

look_one <- function(subject, groups, w, times = NULL) {
  subject$kind <- look_kind(subject$column$x, subject$meaning)
  subject$suspects <- if (!isTRUE(subject$derived)) suspect_codes(subject$column$x, times)
  subject$infinite <- if (is.double(subject$column$x)) {
    sum(is.infinite(subject$column$x) * (times %||% 1))
  } else {
    0
  }
  tables <- Map(look_group, names(groups) %||% "", groups,
    MoreArgs = list(subject = subject, w = w, times = times))
  list(table = rows_of_all(tables), subject = subject)
}

# The times themselves, as they are written; of a median between two, the one below.
moments_at <- function(x, seconds, stats) {
  at <- vapply(stats$amount, function(amount) {
    near <- which(seconds <= amount)
    if (length(near)) near[which.max(seconds[near])] else NA_integer_
  }, 1L)
  ifelse(stats$value == "valid", "", x[at] %|% "")
}

# Few whole values or labelled ones are counted, others summed up.
look_kind <- function(x, meaning) {
  if (is.character(x) && !length(meaning$codes) && are_many_moments(x)) return("times")
  if (is.character(x) || is.logical(x) || length(meaning$codes)) return("counts")
  if (inherits(x, "Date")) return("dates")
  few <- is_whole(x) && length(unique(x[!is.na(x)])) <= 12
  if (few) "counts" else "summary"
}

# Texts that are dates with a time, more than a count can show.
are_many_moments <- function(x) {
  values <- unique(x[!is.na(x)])
  length(values) > 12 && all(nchar(values) > 10) && all(grepl(iso_moment, values))
}

look_group <- function(group, rows, subject, w, times = NULL) {
  x <- subject$column$x[rows]
  weight <- w[rows]
  valid <- !is.na(x)
  some <- times[rows][valid]
  main <- if (subject$kind == "counts") {
    value_rows(x[valid], weight[valid], subject$meaning$codes, some)
  } else {
    statistic_rows(x[valid], weight[valid], subject$kind, some)
  }
  gone <- missing_rows(subject$column, rows, w, times)
  out <- rows_of_all(list(main, gone))
  weight <- weight * (times[rows] %||% 1)
  out$percent <- 100 * out$weighted / sum(weight)
  out$valid_percent <- ifelse(out$part == "value", 100 * out$weighted / sum(weight[valid]), NA)
  do.call(quick_table, c(list(variable = rep(subject$name, nrow(out)),
    group = rep(group, nrow(out))), out))
}

value_rows <- function(x, w, codes, times = NULL) {
  values <- unique(x)
  values <- category_order(c(values, unname(codes)[!codes %in% values]), codes)
  place <- match(x, values)
  look_rows("value", show_value(values), telling_label(values, codes) %|% "",
    rows_by(place, values, times), sum_by(w * (times %||% 1), place, length(values)))
}

sum_by <- function(w, place, size) {
  out <- numeric(size)
  if (length(w)) {
    sums <- rowsum(w, place)
    out[as.integer(rownames(sums))] <- sums
  }
  out
}

look_rows <- function(part, value, label, rows, weighted, amount = NA_real_) {
  quick_table(
    part = rep(part, length(value)), value = value, label = label,
    rows = rep_len(rows, length(value)), weighted = rep_len(weighted, length(value)),
    amount = rep_len(amount, length(value))
  )
}

missing_rows <- function(column, rows, w, times = NULL) {
  gone <- which(is.na(column$x))
  here <- gone %in% rows
  why <- column$why[here]
  kinds <- column$kinds
  times <- times[gone[here]]
  out <- look_rows("missing", kinds, rep("", length(kinds)), rows_by(why, kinds, times),
    sum_by(w[gone[here]] * (times %||% 1), why, length(kinds)))
  out[out$rows > 0, ]
}

statistic_rows <- function(x, w, kind, times = NULL) {
  number <- if (kind == "times") moment_seconds(x) else as.numeric(x)
  times <- times %||% 1
  use <- is.finite(number) & w > 0
  stats <- statistics(number[use], w[use], some_of(times, use))
  if (kind %in% c("dates", "times")) stats <- stats[c("valid", "lowest", "median", "highest")]
  out <- look_rows("statistic", names(stats), rep("", length(stats)),
    as.integer(rows_in(x, times)), sum(w * times), unname(stats))
  out$weighted <- sum(w * times)
  if (kind == "times") out$label <- moments_at(x, number, out)
  out
}

# The statistics that looking at a number shows, weighted if asked.
statistics <- function(x, w, times = 1) {
  names <- c("valid", "mean", "sd", "lowest", "quarter", "median", "three quarters", "highest")
  if (!length(x)) return(setNames(c(0, rep(NA_real_, 7)), names))
  w <- if (!all(w == 1)) w
  n <- rows_in(x, times)
  cuts <- weighted_quantiles(x, w, c(0.25, 0.5, 0.75), times)
  s <- if (n > 1) weighted_sd(x, w, times) else NA_real_
  setNames(c(n, weighted_mean(x, w, times), s, min(x), cuts[1], cuts[2], cuts[3], max(x)), names)
}

#' @rdname as.data.frame.turnbook
#' @param object A turnbook.
#' @export
summary.turnbook <- function(object, ...) look(object)
