# Whether the items of a score are on one scale.
mixed_ranges <- function(nodes, facts, made, book) {
  out <- made$out
  if (!out$scale) return(NULL)
  names <- names(nodes)
  limits <- lapply(made$sources[names], function(source) source$meaning$limits)
  known <- !vapply(limits, is.null, NA)
  # the limits of a reversal say nothing of the others where these have none
  if (!all(known)) known <- known & !are_turned(nodes, made)
  stated <- vapply(limits[known], range_words, "")
  if (length(unique(stated)) > 1) {
    return(new_finding("mixed-ranges", out$name, values = paste(names[known], stated)))
  }
  verbs <- vapply(made$sources[names], function(source) source$verb %||% "original", "")
  standard <- verbs == "standardize"
  if (any(standard) && !all(standard)) return(beside_standard(names, standard, facts, out))
  scaled <- vapply(verbs, has_trait, NA, "sets the scale") & !are_turned(nodes, made)
  if (all(known) || any(scaled)) return(NULL)
  if (any(known)) {
    return(beyond_the_others(nodes[!known], facts[!known], limits[known][[1]], names[known], made))
  }
  whole <- vapply(facts, is_answer_scale, NA)
  unlike_reaches(nodes, facts, made) %||% if (all(whole)) unlike_spans(nodes, facts, made)
}

# Raw answers beside scores with mean 0 or the like.
beside_standard <- function(names, standard, facts, out) {
  told <- vapply(facts, function(f) range_words(signif(c(f$low, f$high), 3)), "")
  new_finding("mixed-ranges", out$name, values = paste0(names, " ", told,
    ifelse(standard, " (standardized)", "")))
}

# Items that were turned round, before or inside the score.
are_turned <- function(nodes, made) {
  turned <- vapply(made$sources[names(nodes)], function(source) {
    identical(source$verb, "reverse") || identical(source$verb, "compute") &&
      is_turned_node(source$expr)
  }, NA)
  turned | vapply(nodes, is_turned_node, NA)
}

# Few whole answers, each counted.
is_answer_scale <- function(f) {
  f$valid > 0 && f$few && sum(f$rows) == f$valid && length(f$values) <= 20 && is_whole(f$values)
}

# Of items with few whole answers: one whose own span, the answers that 1 percent or more give,
# leaves that of another by more than a third of it, where both have 100 rows and four answers; a
# reversal that leaves the span of the others at all. Else, where spans leave each other so, a note.
unlike_spans <- function(nodes, facts, made) {
  spans <- lapply(facts, function(f) range(f$values[f$rows >= 0.01 * f$valid]))
  sure <- vapply(facts, function(f) {
    f$valid >= 100 && sum(f$rows >= 0.01 * f$valid) >= 4
  }, NA)
  ends <- vapply(spans, identity, c(0, 0) + spans[[1]])
  low <- ends[1, ]
  high <- ends[2, ]
  beyond <- pmax(outer(high, high, "-"), -outer(low, low, "-"))
  leaves <- beyond > rep((high - low) / 3, each = length(spans))
  reversed <- are_turned(nodes, made)
  others <- if (any(!reversed)) range(unlist(spans[!reversed]))
  off <- reversed & sure & vapply(spans, function(s) {
    !is.null(others) && (s[1] < others[1] || s[2] > others[2])
  }, NA)
  warns <- any(leaves & outer(sure, sure)) || any(off) && any(sure[!reversed])
  if (!warns && !any(leaves)) return(NULL)
  told <- paste(names(nodes), vapply(spans, range_words, ""))
  new_finding("mixed-ranges", made$out$name, values = told, severity = if (!warns) "note")
}

# Of amounts: one of which 5 percent of the rows lie outside the range of another by more than that
# is wide.
unlike_reaches <- function(nodes, facts, made) {
  ranges <- lapply(facts, function(f) if (!is.na(f$low)) c(f$low, f$high))
  if (length(unique(ranges)) == 1) return(NULL)
  reaches <- mapply(reaches_beyond, nodes, facts, MoreArgs = list(ranges = ranges, made = made))
  if (!any(reaches)) return(NULL)
  new_finding("mixed-ranges", made$out$name, values = paste(names(nodes),
    vapply(ranges, range_words, "")))
}

range_words <- function(range) paste(show_number(as.double(range)), collapse = " to ")

# Where some items have limits: those without that leave them in 5 percent or more of their rows.
beyond_the_others <- function(nodes, facts, limits, stated, made) {
  leaves <- mapply(function(node, f) {
    f$valid > 0 && rows_off_ranges(node, f, list(limits), made) >= 0.05 * f$valid
  }, nodes, facts)
  if (!any(leaves)) return(NULL)
  range_of <- function(f) range_words(c(f$low, f$high))
  new_finding("mixed-ranges", made$out$name, values = c(paste(stated[1], range_words(limits)),
    paste(names(nodes)[leaves], vapply(facts[leaves], range_of, ""))))
}

# In how many rows an item lies beyond each of some ranges.
rows_off_ranges <- function(node, facts, ranges, made) {
  if (facts$few && sum(facts$rows) >= facts$valid) {
    return(vapply(ranges, function(r) {
      as.double(sum(facts$rows[facts$values < r[1] | facts$values > r[2]]))
    }, 0))
  }
  node <- call("+", node, 0)
  beyond <- function(r) tally_node(call("&", finite_node(node), outside_node(node, r)))
  as.double(counts_at(made$outcome$at, sums = lapply(ranges, beyond))$sums)
}

# Whether 5 percent or more of an item's rows lie outside another's range by more than that range is
# wide.
reaches_beyond <- function(node, facts, ranges, made) {
  wide <- lapply(unique(compact(ranges)), function(r) r + c(-1, 1) * diff(r))
  wide <- Filter(function(r) isTRUE(facts$low < r[1] || facts$high > r[2]), wide)
  length(wide) > 0 && any(rows_off_ranges(node, facts, wide, made) >= 0.05 * facts$valid)
}
