# Whether an answer key is right: those who answer the other items right should choose the keyed
# answer more often than another. Looked for once a turn, with the first of its items, in a sample
# of the rows where there are many.
find_in_key <- function(made, book) {
  turn <- made$turn
  first <- turn$verb == "key" && identical(made$out$from, turn$from[1])
  if (!first || length(turn$from) < 3) return(NULL)
  given <- given_answers(turn$from, book)
  if (is.null(given) || sum(given$times) < 100) return(NULL)
  moved <- moved_key(turn$right, given, turn$from, book)
  if (!is.null(moved)) return(list(new_finding("key-suspect", made$out$name, values = moved)))
  wrong <- compact(lapply(seq_along(turn$from), better_answer,
    hits = key_hits(turn$right, given, turn$from, book), given = given, turn = turn, book = book))
  if (length(wrong)) list(new_finding("key-suspect", made$out$name, values = unlist(wrong)))
}

# The answers of some rows: `x`, a column for each item, and how many rows each place stands for.
given_answers <- function(items, book) {
  if (!is_on_site(book)) {
    places <- hint_rows(row_count(book))
    return(list(x = lapply(items, function(name) values_of(book, name)[places]),
      times = rep(1, length(places))))
  }
  site <- info_of(book)$site
  found <- groups_at_site(site, book, lapply(items, as.name), max(site$most, 20000), hint = TRUE)
  if (!is.null(found)) list(x = found$keys, times = as.double(found$rows))
}

# Which rows hold the keyed answers, a column for each item; no answer is none of them.
key_hits <- function(right, given, items, book) {
  vapply(seq_along(items), function(i) {
    value <- right[[i]]
    codes <- meaning_in(book, items[i])$codes
    if (is.character(value) && is.numeric(given$x[[i]])) value <- codes[value]
    as.double(normal_text(show_value(given$x[[i]])) %in% normal_text(show_value(value)))
  }, given$times)
}

# How well marks hang together, and the share of right answers.
key_facts <- function(hits, times) {
  spread <- stats::cov.wt(hits, times / sum(times))$cov
  list(alpha = alpha_of(spread), share = sum(hits * times) / sum(times) / ncol(hits))
}

# The key with each answer at the item after or before its own, where that is clearly better.
moved_key <- function(right, given, items, book) {
  k <- length(items)
  for (step in c(1, -1)) {
    to <- which(seq_len(k) + step >= 1 & seq_len(k) + step <= k)
    part <- list(x = given$x[to], times = given$times)
    facts <- function(right) key_facts(key_hits(right, part, items[to], book), given$times)
    now <- facts(right[to])
    then <- facts(right[to + step])
    more <- c(then$alpha - max(now$alpha, 0), then$share - now$share)
    if (isTRUE(all(more > c(0, 0.05)) && any(more > 0.2))) {
      return(paste0("moved by one item (the answer of `", items[1 + (step > 0)], "` for `",
        items[1 + (step < 0)], "` and so on) it gives ", percent_right(then),
        " instead of ", percent_right(now)))
    }
  }
}

percent_right <- function(facts) {
  paste0(round(100 * facts$share), " % right answers and alpha ", two_digits(facts$alpha))
}

# An answer to an item that goes clearly more with the others than the keyed one does.
better_answer <- function(i, hits, given, turn, book) {
  rest <- rowSums(hits[, -i, drop = FALSE])
  answers <- show_value(given$x[[i]])
  met <- unique(answers[!is.na(answers)])
  if (length(met) > 20) return(NULL)
  with_rest <- function(hit) weighted_correlation(hit, rest, given$times)
  keyed <- with_rest(hits[, i])
  others <- vapply(met, function(answer) with_rest(as.double(answers %in% answer)), 0)
  others[vapply(met, function(answer) all(hits[answers %in% answer, i] == 1), NA)] <- -1
  best <- which.max(others)
  if (!length(best)) return(NULL)
  # surely above zero, though as many were looked at
  sure <- stats::qnorm(1 - 0.01 / (length(turn$from) * length(met))) / sqrt(sum(given$times))
  if (others[best] < sure || others[best] - (keyed %|% 0) < sure) return(NULL)
  label <- function(value) {
    quote_text(label_of(value, meaning_in(book, turn$from[i])$codes) %|% show_value(value))
  }
  paste0("to `", turn$from[i], "` ", label(as_given(met[best], given$x[[i]])),
    " goes more with the other items (r = ", two_digits(others[best]), ") than the keyed ",
    label(turn$right[[i]]), " does (r = ", two_digits(keyed), ")")
}

as_given <- function(text, x) if (is.numeric(x)) as.numeric(text) else text

weighted_correlation <- function(x, y, times) {
  stats::cov.wt(cbind(x, y), times / sum(times), cor = TRUE)$cor[1, 2]
}
