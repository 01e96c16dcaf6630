# Looks at variables that span more cells than are fetched for every purpose: up to a million of
# them are; beyond that sums, ends and values at ranks are asked for.

# A book in which a subject is a variable, and its name there.
subject_in_book <- function(subject, book) {
  if (subject$name %in% names(book) && is.null(subject$formula)) {
    return(list(book = book, name = subject$name))
  }
  list(book = book_with(book, guest, subject$column), name = guest)
}

# The subject beside other variables, as columns_in_cells() has it; NULL where the combinations are
# very many, or where texts would be fetched that nearly every row has one of its own of.
columns_in_groups <- function(subject, others, book) {
  here <- subject_in_book(subject, book)
  names <- c(here$name, others)
  columns <- lapply(names, column_in, book = here$book)
  own_texts <- any(vapply(columns, function(column) is_long(column) && is.character(column$x), NA))
  if (own_texts) return(NULL)
  nodes <- unlist(Map(function(name, column) {
    list(as.name(name), reason_node(name, column$kinds, here$book))
  }, names, columns), recursive = FALSE)
  found <- groups_at_site(info_of(book)$site, here$book, nodes, register_values)
  if (is.null(found)) return(NULL)
  list(columns = Map(function(column, i) {
    told_column(as_column(found$keys[[2 * i - 1]], column$x), as.integer(found$keys[[2 * i]]),
      column$kinds)
  }, columns, seq_along(columns)), times = found$rows)
}

# What look_one() gives, of a subject of which not even so many answers can be fetched.
look_far <- function(subject, book, by, weight) {
  if (!is.null(weight)) fail("weighted-ranks", what = paste("looking at", subject$name))
  here <- subject_in_book(subject, book)
  subject$kind <- far_kind(subject$column$x)
  subject$infinite <- 0
  groups <- far_groups(by, book)
  tables <- Map(look_far_group, names(groups), groups,
    MoreArgs = list(subject = subject, here = here))
  subject$column <- if (subject$kind == "counts") sample_column(here) else shape_column(here)
  suspect <- !isTRUE(subject$derived) && subject$kind == "summary"
  subject$suspects <- if (suspect) suspects_in(book, subject$name)
  list(table = rows_of_all(unname(tables)), subject = subject)
}

far_kind <- function(x) {
  if (is.character(x)) "counts" else if (inherits(x, "Date")) "dates" else "summary"
}

# A condition for the rows of each group; of the whole, none.
far_groups <- function(by, book) {
  if (is.null(by)) return(setNames(list(TRUE), ""))
  codes <- meaning_in(book, by)$codes
  met <- category_order(values_met(book, by)$values, codes)
  groups <- lapply(met, function(value) call("==", as.name(by), value))
  names(groups) <- label_of(met, codes) %|% show_value(met)
  gone <- call("unanswered", as.name(by))
  c(groups, if (rows_where(book, gone)) list("(missing)" = gone))
}

look_far_group <- function(group, where, subject, here) {
  main <- if (subject$kind == "counts") frequent_rows(here, where) else
    summary_rows(here, where, subject$kind)
  gone <- missing_at_site(here, where)
  valid <- rows_where(here$book, both_hold(where, call("!", call("unanswered",
    as.name(here$name)))))
  out <- rows_of_all(list(main, gone))
  out$percent <- 100 * out$weighted / (valid + sum(gone$rows))
  out$valid_percent <- ifelse(out$part == "value", 100 * out$weighted / valid, NA)
  do.call(quick_table, c(list(variable = rep(subject$name, nrow(out)),
    group = rep(group, nrow(out))), out))
}

both_hold <- function(where, condition) {
  if (isTRUE(where)) condition else call("&", where, condition)
}

# The 25 most frequent texts, and all others in one row.
frequent_rows <- function(here, where) {
  node <- as.name(here$name)
  told <- both_hold(where, call("!", call("unanswered", node)))
  top <- groups_at_site(info_of(here$book)$site, here$book, list(node), 25, told, frequent = TRUE)
  order <- order(top$keys[[1]], method = "radix")
  rest <- rows_where(here$book, told) - sum(top$rows)
  rows <- c(top$rows[order], if (rest) rest)
  look_rows("value", c(top$keys[[1]][order], if (rest) "..."), rep(c("", "all others"),
    c(length(order), rest > 0)), rows, as.double(rows))
}

# The statistics of a number or a date.
summary_rows <- function(here, where, kind) {
  stats <- far_statistics(here, where)
  if (kind == "dates") stats <- stats[c("valid", "lowest", "median", "highest")]
  look_rows("statistic", names(stats), rep("", length(stats)), as.integer(stats[["valid"]]),
    stats[["valid"]], unname(stats))
}

# See statistics().
far_statistics <- function(here, where) {
  x <- as.name(here$name)
  if (!isTRUE(where)) x <- call("choose", where, x)
  ask <- questions_of(here$book)
  known <- ask$moments(x, list())
  if (!nrow(known$told)) return(statistics(numeric(), numeric()))
  cuts <- ranked_far(x, c(0.25, 0.5, 0.75), known, list(), ask)
  told <- known$told[1, ]
  names <- names(statistics(numeric(), numeric()))
  setNames(c(told[c("rows", "mean", "sd", "min")], cuts, told["max"]), names)
}

missing_at_site <- function(here, where) {
  kinds <- column_in(here$book, here$name)$kinds
  rows <- rows_by_reason(here$book, here$name, kinds, if (!isTRUE(where)) where)
  out <- look_rows("missing", kinds, rep("", length(kinds)), rows, as.double(rows))
  out[out$rows > 0, ]
}

# Its most frequent texts, which tell how they are spelled.
sample_column <- function(here) {
  node <- as.name(here$name)
  found <- groups_at_site(info_of(here$book)$site, here$book, list(node), 2000,
    call("!", call("unanswered", node)), frequent = TRUE)
  list(x = found$keys[[1]], times = found$rows)
}

# The ends, and the lowest number of each of twenty bands with its rows: enough for the shape.
shape_column <- function(here) {
  facts <- facts_of(here$book, here$name)
  if (!isTRUE(facts$high > facts$low)) return(list(x = facts$low, times = facts$valid))
  cuts <- seq(facts$low, facts$high, length.out = 21)[2:20]
  bands <- far_bands(as.name(here$name), cuts, TRUE, questions_of(here$book))
  met <- bands$rows > 0
  list(x = c(bands$low[met], facts$high), times = c(bands$rows[met], 0))
}
