# A column that is missing in the rows of its one source and no others has the reasons of that.
column_as_source <- function(full, out, book) {
  if (length(out$from) != 1 || !out$carry || !is.null(full$branch) || !is.null(full$lost)) {
    return(NULL)
  }
  source <- column_in(book, out$from)
  if (gone_alike(full$x, source$x)) new_column(full$x, source$why, source$kinds)
}

# The reasons of rows without a score.
item_kinds <- c("too few items", "undefined")

# Why each missing row of a derived variable is missing: `why`, in the order of the rows, a position
# in `kinds`.
explain_missing <- function(full, out, book) {
  if (!is.null(full$lost)) return(told_kinds(full$lost, item_kinds))
  if (by_sources_alone(full, out, book)) return(explain_by_sources(full$x, out, book))
  gone <- gone_rows(full$x)
  if (!length(gone)) return(list(why = integer(), kinds = character()))
  told <- if (is.null(full$branch)) explain_sources(gone, out, book) else
    explain_rules(full$branch[gone], gone, out, book)
  told_kinds(told$why, told$kinds)
}

# Nothing but its sources decides why a row is missing.
by_sources_alone <- function(full, out, book) {
  is.null(full$branch) && !uses(out$expr, "previous") && !length(numbers_in_text(out$expr, book)) &&
    !length(dates_in_text(out$expr, book))
}

# In one pass over the rows; with `lacking`, see lacking_sources(), where several sources are
# needed.
explain_by_sources <- function(x, out, book) {
  sources <- lapply(self_named(out$from), column_in, book = book)
  found <- explain_gone(x, lapply(unname(sources), kernel_source),
    lengths(lapply(sources, `[[`, "kinds")))
  undefined <- out$lost %||% "undefined"
  single <- length(sources) == 1
  kinds <- if (single && out$carry) sources[[1]]$kinds else
    reasons_in_order[[length(reasons_in_order)]]$kind
  if (single && !out$carry) found$why <- pmin(found$why, 2L)
  told <- told_kinds(found$why, c(undefined, kinds))
  of_rows <- is.null(info_of(book)$stand_for)
  if (!single && of_rows) told$lacking <- by_kind(sources, found$rows)
  told
}

# A source as the kernel reads it.
kernel_source <- function(column) {
  if (is.null(column$cells)) list(column$x, column$why) else
    list(column$cells$codes, column$cells$kind)
}

# How many rows lack each source, for each of its kinds.
by_kind <- function(sources, rows) {
  Map(function(column, counts) {
    counts_by_kind(counts, column$kinds)
  }, sources, rows)
}

# Each kind once, and only those that some row has.
told_kinds <- function(why, kinds) {
  met <- unique(kinds[tabulate(why, length(kinds)) > 0])
  list(why = match(kinds, met)[why], kinds = met)
}

# A row that no rule caught, one that a rule made missing, or one that could not be decided.
explain_rules <- function(branch, gone, out, book) {
  told <- explain_sources(gone, out, book)
  kinds <- c(told$kinds, out$lost %||% "unmatched", out$kinds)
  if (is_lone_na(choose_parts(out$expr)$default)) {
    told$why[which(branch == 0)] <- length(told$kinds) + 1L
  }
  ruled <- which(branch > 0)
  ruled <- ruled[!is.na(out$kinds[branch[ruled]])]
  told$why[ruled] <- length(told$kinds) + 1L + branch[ruled]
  list(why = told$why, kinds = kinds)
}

explain_sources <- function(gone, out, book) {
  kinds <- c(out$lost %||% "undefined", vapply(reasons_in_order, `[[`, "", "kind"))
  why <- rep(1L, length(gone))
  earlier <- earlier_occasions(gone, out, book)
  for (i in seq_along(reasons_in_order)) {
    why[reasons_in_order[[i]]$rows(gone, out, book, earlier)] <- i + 1L
  }
  if (length(out$from) != 1 || !out$carry) return(list(why = why, kinds = kinds))
  source <- column_in(book, out$from)
  carried <- kinds_at(source, gone)
  known <- which(carried > 0)
  why[known] <- length(kinds) + carried[known]
  list(why = why, kinds = c(kinds, source$kinds))
}

# Which sources lack an answer where several are needed: their reasons and how many rows have each,
# named by source. Where none of them does, it is lacking on the occasion before. `shown` holds the
# rows of the data, or cells with how many rows each stands for.
lacking_sources <- function(out, shown) {
  column <- shown$column
  vague <- match("a source is missing", column$kinds)
  if (length(out$from) < 2 || is.na(vague)) return(NULL)
  if (!is.null(column$lacking)) return(most_first(column$lacking))
  rows <- gone_rows(column$x)[column$why == vague]
  before <- rep(TRUE, length(rows))
  counts <- lapply(self_named(out$from), function(name) {
    source <- column_in(shown$book, name)
    why <- kinds_at(source, rows)
    gone <- which(why > 0)
    before[gone] <<- FALSE
    some <- list(x = rep(NA, length(gone)), why = why[gone], kinds = source$kinds)
    if (length(gone)) count_kinds(some, shown$rows[rows[gone]])
  })
  if (any(before)) counts[["the occasion before"]] <- c(
    missing = if (is.null(shown$rows)) sum(before) else sum(shown$rows[rows[before]]))
  most_first(counts)
}

most_first <- function(counts) {
  counts <- Filter(length, counts)
  counts[order(-vapply(counts, sum, 0), method = "radix")]
}

# The reasons of a derived variable, one for each NA row; where several sources were needed, by
# source: "income: Refused; hours: blank".
told_reasons <- function(book, name) {
  column <- column_in(book, name)
  told <- reasons(column)
  from <- derived_in(book, name)$from
  vague <- which(told %in% "a source is missing")
  if (length(from) < 2 || !length(vague)) return(told)
  at <- which(is.na(column$x))[vague]
  by_source <- rep("", length(at))
  for (source in from) {
    part <- pick_rows(column_in(book, source), at)
    gone <- which(is.na(part$x))
    by_source[gone] <- paste0(by_source[gone], ifelse(nzchar(by_source[gone]), "; ", ""), source,
      ": ", reasons(part))
  }
  told[vague] <- ifelse(nzchar(by_source), by_source, "the occasion before: missing")
  told
}
