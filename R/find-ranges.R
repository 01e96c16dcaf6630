# Whether the items of a score are on one scale.
mixed_ranges <- function(items, facts, out, book) {
  if (!out$scale) return(NULL)
  names <- names(items)
  limits <- lapply(names, function(name) meaning_in(book, name)$limits)
  known <- !vapply(limits, is.null, NA)
  # the limits of a reversal say nothing of the others where these have none
  if (!all(known)) known <- known & !are_turned(names, items, book)
  stated <- vapply(limits[known], range_words, "")
  if (length(unique(stated)) > 1) {
    return(new_finding("mixed-ranges", out$name, values = paste(names[known], stated)))
  }
  standard <- verb_of(book, names) == "standardize"
  if (any(standard) && !all(standard)) return(beside_standard(names, standard, facts, out))
  scaled <- vapply(names, scaled_before, NA, book = book) & !are_turned(names, items, book)
  if (all(known) || any(scaled)) return(NULL)
  if (any(known)) {
    return(beyond_the_others(items[!known], facts[!known], limits[known][[1]], names[known], out,
      book))
  }
  whole <- vapply(facts, is_answer_scale, NA)
  unlike_reaches(items, facts, out, book) %||% if (all(whole)) unlike_spans(items, facts, out, book)
}

# Raw answers beside scores with mean 0 or the like.
beside_standard <- function(names, standard, facts, out) {
  told <- vapply(facts, function(f) range_words(signif(c(f$low, f$high), 3)), "")
  new_finding("mixed-ranges", out$name, values = paste0(names, " ", told,
    ifelse(standard, " (standardized)", "")))
}

# Items that were turned round, before or inside the score.
are_turned <- function(names, items, book) {
  by_hand <- vapply(names, function(name) {
    expr <- if (verb_of(book, name) == "compute") derived_in(book, name)$expr
    is.call(expr) && call_head(expr) == "-" && length(expr) == 3 && is.numeric(expr[[2]]) &&
      is.symbol(expr[[3]])
  }, NA)
  by_hand | verb_of(book, names) == "reverse" | vapply(items, function(item) item$sign == -1, NA)
}

# Few whole answers, each counted.
is_answer_scale <- function(f) {
  f$valid > 0 && f$few && sum(f$rows) == f$valid && length(f$values) <= 20 && is_whole(f$values)
}

# Of items with few whole answers: one whose own span, the answers that 1 percent or more give,
# leaves that of another by more than a third of it, where both have 100 rows and four answers; a
# reversal that leaves the span of the others at all. Else, where spans leave each other so, a note.
unlike_spans <- function(items, facts, out, book) {
  spans <- lapply(facts, function(f) range(f$values[f$rows >= 0.01 * f$valid]))
  sure <- vapply(facts, function(f) {
    f$valid >= 100 && sum(f$rows >= 0.01 * f$valid) >= 4
  }, NA)
  leaves <- outer(seq_along(spans), seq_along(spans), Vectorize(function(i, j) {
    max(spans[[i]][2] - spans[[j]][2], spans[[j]][1] - spans[[i]][1]) > diff(spans[[j]]) / 3
  }))
  reversed <- are_turned(names(items), items, book)
  others <- if (any(!reversed)) range(unlist(spans[!reversed]))
  off <- reversed & sure & vapply(spans, function(s) {
    !is.null(others) && (s[1] < others[1] || s[2] > others[2])
  }, NA)
  warns <- any(leaves & outer(sure, sure)) || any(off) && any(sure[!reversed])
  if (!warns && !any(leaves)) return(NULL)
  told <- paste(names(items), vapply(spans, range_words, ""))
  new_finding("mixed-ranges", out$name, values = told, severity = if (!warns) "note")
}

# Of amounts: one of which 5 percent of the rows lie outside the range of another by more than that
# is wide.
unlike_reaches <- function(items, facts, out, book) {
  ranges <- lapply(facts, function(f) if (!is.na(f$low)) c(f$low, f$high))
  if (length(unique(ranges)) == 1) return(NULL)
  reaches <- mapply(reaches_beyond, items, names(items), facts, MoreArgs = list(ranges = ranges,
    book = book))
  if (!any(reaches)) return(NULL)
  new_finding("mixed-ranges", out$name, values = paste(names(items),
    vapply(ranges, range_words, "")))
}

range_words <- function(range) paste(show_number(as.double(range)), collapse = " to ")

# Where some items have limits: those without that leave them in 5 percent or more of their rows.
beyond_the_others <- function(items, facts, limits, stated, out, book) {
  leaves <- mapply(function(item, name, f) {
    f$valid > 0 && rows_off_ranges(item, name, f, list(limits), book) >= 0.05 * f$valid
  }, items, names(items), facts)
  if (!any(leaves)) return(NULL)
  range_of <- function(f) range_words(c(f$low, f$high))
  new_finding("mixed-ranges", out$name, values = c(paste(stated[1], range_words(limits)),
    paste(names(items)[leaves], vapply(facts[leaves], range_of, ""))))
}

# In how many rows an item lies beyond each of some ranges.
rows_off_ranges <- function(item, name, facts, ranges, book) {
  if (is_long(column_in(book, name))) {
    x <- if (item$sign == 1) as.name(name) else call("-", item$shift, as.name(name))
    beyond <- function(r) tally_node(call("&", finite_node(x), outside_node(x, r)))
    return(tallies_at_site(info_of(book)$site, book, lapply(ranges, beyond)))
  }
  seen <- item_counts_met(item, facts)
  vapply(ranges, function(r) sum(seen$rows[seen$values < r[1] | seen$values > r[2]]), 0)
}

# The finite numbers of an item, each with its rows.
item_counts_met <- function(item, facts) {
  cells <- item$cells
  if (!inherits(cells$codes, "far_codes")) return(number_counts(item_values(item), facts))
  x <- item_values(replace_x(item, cells$values))
  counts_of(as.double(x[is.finite(x)]), sort, cells$rows[is.finite(x)])
}

# Sources that were put on a scale of their own.
scaled_before <- function(name, book) has_trait(verb_of(book, name), "sets the scale")

# Whether 5 percent or more of an item's rows lie outside another's range by more than that range is
# wide.
reaches_beyond <- function(item, name, facts, ranges, book) {
  wide <- lapply(unique(compact(ranges)), function(r) r + c(-1, 1) * diff(r))
  wide <- Filter(function(r) isTRUE(facts$low < r[1] || facts$high > r[2]), wide)
  length(wide) > 0 && any(rows_off_ranges(item, name, facts, wide, book) >= 0.05 * facts$valid)
}
