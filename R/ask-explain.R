# Why each missing row of a result in memory is missing: `why`, in the order of the rows, a position
# in `kinds`. `full` is what the formula gave, `sources` the variables it is made from.
explain_missing <- function(full, out, sources, site) {
  if (!is.null(full$lost)) return(told_kinds(full$lost, item_kinds))
  if (by_sources_alone(full, out, sources)) {
    return(explain_by_sources(full$x, out, sources, is.null(site$times)))
  }
  gone <- gone_rows(full$x)
  if (!length(gone)) return(list(why = integer(), kinds = character()))
  told <- explain_sources(gone, out, sources, site)
  if (!is.null(full$branch)) told <- explain_rules(told, full$branch[gone], out)
  told_kinds(told$why, told$kinds)
}

# A column that is missing in the rows of its one source and no others has the reasons of that.
column_as_source <- function(full, out, sources) {
  if (length(sources) != 1 || !out$carry || !is.null(full$branch) || !is.null(full$lost)) {
    return(NULL)
  }
  source <- column_of(sources[[1]])
  if (gone_alike(full$x, source$x)) new_column(full$x, source$why, source$kinds)
}

# Nothing but its sources decides why a row is missing.
by_sources_alone <- function(full, out, sources) {
  is.null(full$branch) && !uses(out$expr, c("previous", "baseline")) &&
    !length(numbers_in_text(out$expr, sources)) && !length(dates_in_text(out$expr, sources))
}

# In one pass over the rows; with `lacking`, how many rows lack each source, where several are
# needed.
explain_by_sources <- function(x, out, sources, of_rows) {
  columns <- lapply(sources, column_of)
  found <- explain_gone(x, lapply(unname(columns), kernel_source),
    lengths(lapply(columns, `[[`, "kinds")))
  single <- length(columns) == 1
  kinds <- if (single && out$carry) columns[[1]]$kinds else "a source is missing"
  if (single && !out$carry) found$why <- pmin(found$why, 2L)
  told <- told_kinds(found$why, c(own_reason(out, "undefined"), kinds))
  if (!single && of_rows) told$lacking <- Map(function(column, rows) {
    counts_by_kind(rows, column$kinds)
  }, columns, found$rows)
  told
}

# A source as the kernel reads it.
kernel_source <- function(column) {
  if (is.null(column$cells)) list(column$x, column$why) else
    list(column$cells$codes, column$cells$kind)
}

# Each kind once, and only those that some row has.
told_kinds <- function(why, kinds) {
  met <- unique(kinds[tabulate(why, length(kinds)) > 0])
  list(why = match(kinds, met)[why], kinds = met)
}

# A row that no rule caught, one that a rule made missing, or one that could not be decided.
explain_rules <- function(told, branch, out) {
  kinds <- c(told$kinds, own_reason(out, "unmatched"), out$kinds)
  if (is_lone_na(choose_parts(out$expr)$default)) {
    told$why[which(branch == 0)] <- length(told$kinds) + 1L
  }
  ruled <- which(branch > 0)
  ruled <- ruled[!is.na(out$kinds[branch[ruled]])]
  told$why[ruled] <- length(told$kinds) + 1L + branch[ruled]
  list(why = told$why, kinds = kinds)
}

# The last reason of reasons_in_order whose condition holds for each of the missing rows, then those
# that are carried from the source.
explain_sources <- function(gone, out, sources, site) {
  kinds <- c(own_reason(out, "undefined"), vapply(reasons_in_order, `[[`, "", "kind"))
  why <- rep(1L, length(gone))
  for (i in seq_along(reasons_in_order)) {
    test <- reasons_in_order[[i]]$test(out$expr, sources)
    if (!is.null(test)) why[which(holds_in_rows(test, gone, site))] <- i + 1L
  }
  if (length(sources) != 1 || !out$carry) return(list(why = why, kinds = kinds))
  source <- column_of(sources[[1]])
  carried <- kinds_at(source, gone)
  known <- which(carried > 0)
  why[known] <- length(kinds) + carried[known]
  list(why = why, kinds = c(kinds, source$kinds))
}

# What depends on other rows is worked out for all of them.
holds_in_rows <- function(test, rows, site) {
  if (reads_other_rows(test)) return(as_truth(evaluate(test, site))[rows])
  as_truth(full_length(evaluate(test, site_of_rows(site, rows)), length(rows)))
}

# The reasons of a made variable, one for each missing row; where several sources were needed, by
# source: "income: Refused; hours: blank".
told_reasons <- function(variable) {
  told <- reasons(variable)
  vague <- which(told %in% "a source is missing")
  if (length(variable$from) < 2 || !length(vague)) return(told)
  at <- which(is.na(variable$x))[vague]
  by_source <- rep("", length(at))
  for (name in variable$from) {
    part <- pick_rows(column_of(variable$sources[[name]]), at)
    gone <- which(is.na(part$x))
    by_source[gone] <- paste0(by_source[gone], ifelse(nzchar(by_source[gone]), "; ", ""), name,
      ": ", reasons(part))
  }
  told[vague] <- by_source
  told
}
