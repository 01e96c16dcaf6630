# A column that is missing in the rows of its one source and no others has the reasons of that.
column_as_source <- function(full, out, book) {
  if (length(out$from) != 1 || !out$carry || !is.null(full$branch) || !is.null(full$lost)) return(NULL)
  source <- column_in(book, out$from)
  if (gone_alike(full$x, source$x)) new_column(full$x, source$why, source$kinds)
}

# Why each missing row of a derived variable is missing, as text.
explain_missing <- function(full, out, book) {
  if (!is.null(full$lost)) return(c("too few items", "undefined")[full$lost])
  gone <- which(is.na(full$x))
  if (!length(gone)) return(character())
  if (!is.null(full$branch)) return(explain_rules(full$branch[gone], gone, out, book))
  explain_sources(gone, out, book)
}

# A row that no rule caught, one that a rule made missing, or one that could not be decided.
explain_rules <- function(branch, gone, out, book) {
  reason <- explain_sources(gone, out, book)
  if (is_lone_na(choose_parts(out$expr)$default)) reason[which(branch == 0)] <- out$lost %||% "unmatched"
  if (is.null(out$kinds)) return(reason)
  kind <- out$kinds[replace(branch, branch %in% 0L, NA)]
  ifelse(is.na(kind), reason, kind)
}

explain_sources <- function(gone, out, book) {
  reason <- rep(out$lost %||% "undefined", length(gone))
  for (name in numbers_in_text(out$expr, book)) {
    reason[is.na(as_number(values_of(book, name)[gone]))] <- "unreadable"
  }
  for (name in dates_in_text(out$expr, book)) reason[is.na(as_date(values_of(book, name)[gone]))] <- "unreadable"
  for (call in calls_of(out$expr, "previous")) reason <- explain_previous(reason, call, gone, book)
  for (name in out$from) reason[is.na(values_of(book, name)[gone])] <- "a source is missing"
  if (length(out$from) == 1 && out$carry) reason <- carry_reasons(reason, gone, column_in(book, out$from))
  reason
}

# No earlier occasion, or one without a valid answer.
explain_previous <- function(reason, call, gone, book) {
  args <- as.list(call)
  at <- place_of(book)
  before <- rows_before(args, at)[gone]
  value <- evaluate(args[[2]], at)
  reason[is.na(before)] <- "no earlier occasion"
  reason[!is.na(before) & is.na(value[before])] <- "a source is missing"
  reason
}

carry_reasons <- function(reason, gone, source) {
  at <- match(gone, which(is.na(source$x)))
  known <- !is.na(at)
  reason[known] <- source$kinds[source$why[at[known]]]
  reason
}

# Which sources lack an answer where several are needed: their reasons and how many rows have each, named by source.
# Where none of them does, it is lacking on the occasion before. `shown` holds the rows of the data, or cells with how
# many rows each stands for.
lacking_sources <- function(out, shown) {
  column <- shown$column
  vague <- match("a source is missing", column$kinds)
  if (length(out$from) < 2 || is.na(vague)) return(NULL)
  hit <- logical(length(column$x))
  hit[which(is.na(column$x))[column$why == vague]] <- TRUE
  before <- hit
  counts <- lapply(self_named(out$from), function(name) {
    source <- column_in(shown$book, name)
    gone <- which(is.na(source$x))
    kept <- hit[gone]
    before[gone] <<- FALSE
    some <- list(x = rep(NA, sum(kept)), why = source$why[kept], kinds = source$kinds)
    if (any(kept)) count_kinds(some, shown$rows[gone[kept]])
  })
  if (any(before)) counts[["the occasion before"]] <- c(missing = if (is.null(shown$rows)) sum(before) else
    sum(shown$rows[before]))
  counts <- Filter(length, counts)
  counts[order(-vapply(counts, sum, 0), method = "radix")]
}

# The reasons of a derived variable, one for each NA row; where several sources were needed, by source: "income:
# Refused; hours: blank".
told_reasons <- function(book, name) {
  column <- column_in(book, name)
  told <- reasons(column)
  from <- held(book, "columns")[[name]]$from
  vague <- which(told %in% "a source is missing")
  if (length(from) < 2 || !length(vague)) return(told)
  at <- which(is.na(column$x))[vague]
  by_source <- rep("", length(at))
  for (source in from) {
    part <- pick_rows(column_in(book, source), at)
    gone <- which(is.na(part$x))
    by_source[gone] <- paste0(by_source[gone], ifelse(nzchar(by_source[gone]), "; ", ""), source, ": ", reasons(part))
  }
  told[vague] <- ifelse(nzchar(by_source), by_source, "the occasion before: missing")
  told
}
