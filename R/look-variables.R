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
#' @param together Columns of ticked answers (0 or 1) are shown in one table: the rows that
#'   ticked each, in percent of the rows that have answered any of them, and of all ticks.
#' @return A data frame, printed as a table for each variable: `variable`,
#'   `group`, `part` ("value", "statistic" or "missing"), `value`, `label`,
#'   `rows`, `weighted`, `percent` of all rows, `valid_percent` of the valid
#'   ones, and `amount` of a statistic. With `together`, a row for each column: `variable`, `label`,
#'   `rows`, `percent` of rows, `percent_answers`.
#' @section Errors: Class `ableturn_error` for unknown variables or a negative weight.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' look(book, crossings, age)
#' look(book, log10(wait_min))
#' look(book, island, by = gender_code, weight = weight)
#' look(book, use_work:use_shop, together = TRUE)
#' @export
look <- function(book, ..., by = NULL, weight = NULL, together = FALSE) {
  book <- as_book(book)
  on.exit(let_go_of_copies(book))
  dots <- rlang::enquos(...)
  group <- rlang::enquo(by)
  stated <- !missing(weight)
  weigh <- rlang::enquo(weight)
  subjects <- if (length(dots)) unlist(lapply(dots, look_subjects, book = book), recursive = FALSE)
  else lapply(names(book), subject_of_variable, book = book)
  by <- if (!rlang::quo_is_null(group)) one_var(book, group, "by")
  weight <- weight_var(book, weigh, stated)
  if (check_flag(together, "together")) {
    if (!is.null(by)) fail("together-by")
    return(look_together(book, vapply(subjects, `[[`, "", "name"), weight))
  }
  # of the weight itself as it is
  if (!stated && identical(unique(vapply(subjects, `[[`, "", "name")), weight)) weight <- NULL
  look_at(book, subjects, by, weight)
}

look_at <- plainly(function(book, subjects, by = NULL, weight = NULL) {
  site <- site_of(book)
  if (!is.null(weight)) check_weight(weight, site)
  seen <- lapply(subjects, look_one, site = site, by = by, weight = weight)
  out <- rows_of_all(lapply(seen, `[[`, "table"))
  if (is.null(weight)) out$weighted <- NULL
  if (is.null(by)) out$group <- NULL
  as_table(out,
    "ableturn_look", subjects = lapply(seen, `[[`, "subject"),
    by = by, weight = weight
  )
})

# A selection gives variables; any other call is a formula.
look_subjects <- function(dot, book) {
  expr <- rlang::quo_get_expr(dot)
  if (is_selection(expr)) {
    return(lapply(select_vars(book, dot, "..."), subject_of_variable, book = book))
  }
  node <- items_written_out(tidy_node(expr), book, rlang::quo_get_env(dot))
  list(subject_of_formula(node, book))
}

subject_of_variable <- function(name, book) {
  variable <- variable_in(book, name)
  list(name = name, variable = variable, meaning = variable$meaning, derived = is_made(variable))
}

subject_of_formula <- function(node, book) {
  text <- formula_text(node)
  turn <- new_turn("compute", "tried", formula = text)
  check_turn(turn)
  made <- make_columns(book, turn)
  variable <- made$columns$tried
  list(name = text, variable = variable, meaning = variable$meaning, formula = text,
    learned = made$turn$learned, derived = TRUE)
}

# What is seen of a variable: a table, and the subject with its `kind` and what views need of it.
# Where it spans few cells with the groups and the weight, these are asked in place of the rows.
look_one <- function(subject, site, by = NULL, weight = NULL) {
  site <- also_knowing(site, list(subject = subject$variable))
  names <- c("subject", by, weight)
  at <- nearest_site(site, names, many = !is.null(weight))
  subject$kind <- look_kind(subject$variable, subject$meaning, at)
  seen <- if (subject$kind %in% c("summary", "dates")) seen_by_statistics(at, by, weight) else
    seen_by_answers(at, subject, by, weight)
  if (subject$kind == "times") seen <- seen_by_times(seen, by, weight)
  subject$infinite <- sum(seen$infinite)
  subject$suspects <- if (!subject$derived && subject$kind != "times" &&
    is.numeric(subject$variable$x)) suspects_of(subject$variable)
  subject$column <- shown_column(at, subject)
  groups <- groups_to_show(at, by, seen)
  tables <- Map(group_table, groups$labels, seq_along(groups$labels),
    MoreArgs = list(subject = subject, seen = seen, groups = groups, weight = weight))
  list(table = rows_of_all(unname(tables)), subject = subject)
}

# Few whole values or labelled ones are counted, others summed up.
look_kind <- function(variable, meaning, at) {
  x <- column_of(variable)$x
  named <- is.character(x) || identical(meaning$level, "nominal")
  if (named && !length(meaning$codes)) return(kind_of_texts(at))
  if (is.character(x) || is.logical(x) || length(meaning$codes)) return("counts")
  if (inherits(x, "Date")) return("dates")
  values <- few_answers(variable)$values
  if (!is.null(values) && is_whole(values) && length(values) <= 12) "counts" else "summary"
}

kind_of_texts <- function(at) {
  texts <- counts_at(at, list(as.name("subject")), most = register_values)$keys[[1]]
  if (are_many_datetimes(texts)) "times" else "counts"
}

# Texts that are dates with a time, more than a count can show.
are_many_datetimes <- function(x) {
  values <- unique(x[!is.na(x)])
  length(values) > 12 && all(nchar(values) > 10) && all(grepl(iso_datetime, values))
}

# The groups of `by`, in the order of their categories, those without an answer last: their labels
# and keys; one group where there is none.
groups_to_show <- function(at, by, seen) {
  if (is.null(by)) return(list(labels = "", keys = NULL))
  codes <- at$variable(by)$meaning$codes
  keys <- unique(c(seen$valid$keys[[1]], seen$gone$keys[[1]]))
  values <- category_order(keys[!is.na(keys)], codes)
  list(labels = c(label_of(values, codes) %|% show_value(values), if (anyNA(keys)) "(missing)"),
    keys = c(values, if (anyNA(keys)) NA))
}

# The answers in each group, those without an answer by their reasons, and of both the rows and
# their weight.
seen_by_answers <- function(at, subject, by, weight) {
  x <- as.name("subject")
  most <- at$most %||% Inf
  told <- call("!", call("unanswered", x))
  all <- counts_at(at, c(lapply(by, as.name), list(x)), told, sums = weight_sums(weight),
    most = max(most, register_values))
  if (is.null(all)) all <- frequent_answers(at, by, told, weight)
  values <- all$keys[[length(all$keys)]]
  list(valid = all, gone = gone_in_groups(at, by, weight),
    infinite = if (is.double(values) && !inherits(values, "Date")) all$rows[is.infinite(values)])
}

# The 25 most frequent texts, and how many rows there are beside them.
frequent_answers <- function(at, by, told, weight) {
  if (!is.null(by) || !is.null(weight)) {
    fail("answers-many", name = at$variable("subject")$name, most = grouped(register_values))
  }
  top <- counts_at(at, list(as.name("subject")), told, most = 25, frequent = TRUE)
  c(top, list(others = rows_where(at, told) - sum(top$rows)))
}

weight_sums <- function(weight) {
  if (!is.null(weight)) list(call("first_valid", as.name(weight), 0))
}

gone_in_groups <- function(at, by, weight) {
  counts_at(at, c(lapply(by, as.name), list(reason_node("subject"))), call("unanswered",
    as.name("subject")), sums = weight_sums(weight))
}

# The statistics of numbers or dates in each group.
seen_by_statistics <- function(at, by, weight) {
  x <- as.name("subject")
  keys <- lapply(by, as.name)
  valid <- counts_at(at, keys, call("!", call("unanswered", x)), sums = weight_sums(weight))
  used <- if (!is.null(weight) && !weighs_one(at, weight)) weight
  stats <- statistics_in_groups(at, x, keys, used)
  apart <- if (!is.null(by) && anyNA(valid$keys[[1]])) statistics_in_groups(at, call("choose",
    call("unanswered", as.name(by)), x), list(), used)
  used_rows <- if (is.null(used)) sum(stats$rows, apart$rows) else
    sum(statistics_in_groups(at, x, list(), NULL)$rows)
  list(valid = valid, gone = gone_in_groups(at, by, weight), stats = with_group(stats, apart),
    infinite = sum(valid$rows) - used_rows)
}

# The statistics that looking at a number shows, a row for each group.
statistics_in_groups <- function(at, x, keys, weight) {
  known <- moments_at(at, x, keys, weight, c("mean", "sd", "min", "max"))
  found <- ranks_at(at, x, c(0.25, 0.5, 0.75), keys, weight)
  known$cuts <- found$values[match_keys(known$keys, found$keys), , drop = FALSE]
  if (!length(known$rows)) known$cuts <- matrix(0, 0, 3)
  known[c("keys", "rows", "mean", "sd", "min", "cuts", "max")]
}

# With the group of those without an answer, whose key is missing.
with_group <- function(stats, apart) {
  if (is.null(apart) || !length(apart$rows)) return(stats)
  stats$keys[[1]] <- c(stats$keys[[1]], NA)
  for (what in c("rows", "mean", "sd", "min", "max")) stats[[what]] <- c(stats[[what]],
    apart[[what]])
  stats$cuts <- rbind(stats$cuts, apart$cuts)
  stats
}

weighs_one <- function(at, weight) {
  ends <- extent_at(at, as.name(weight))
  isTRUE(ends$low == 1 && ends$high == 1)
}

# Dates with a time are summed up from their answers, in seconds.
seen_by_times <- function(seen, by, weight) {
  keys <- seen$valid$keys
  texts <- keys[[length(keys)]]
  w <- if (!is.null(weight)) seen$valid$sums[, 1] / seen$valid$rows
  seen$times <- list(texts = texts, seconds = moment_seconds(texts), rows = seen$valid$rows, w = w,
    group = if (length(keys) > 1) keys[[1]])
  seen
}

# The values of a subject as views draw them, `x`, and how many rows hold each, `times`.
shown_column <- function(at, subject) UseMethod("shown_column")

#' @export
shown_column.ableturn_memory <- function(at, subject) {
  c(as.list(column_of(at$variable("subject")))[c("x", "why", "kinds")], at["times"])
}

# Of a long variable its most frequent texts; of numbers the ends, and the lowest of each of twenty
# bands with its rows: enough for the shape.
#' @export
shown_column.ableturn_table_site <- function(at, subject) {
  node <- as.name("subject")
  if (subject$kind == "counts") {
    found <- counts_at(at, list(node), call("!", call("unanswered", node)), most = 2000,
      frequent = TRUE)
    return(list(x = found$keys[[1]], times = found$rows))
  }
  facts <- facts_of(subject$variable)
  if (!isTRUE(facts$high > facts$low)) return(list(x = facts$low, times = facts$valid))
  bands <- bands_at(at, node, seq(facts$low, facts$high, length.out = 21)[2:20], TRUE)
  met <- bands$rows > 0
  list(x = c(bands$low[met], facts$high), times = c(bands$rows[met], 0))
}
