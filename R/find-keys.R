# Whether an answer key is right: those who answer the other items right should choose the keyed
# answer more often than another. Looked for once a turn, with the first of its items, in a sample
# of the rows where there are many.
find_in_key <- function(made, book) {
  turn <- made$turn
  first <- identical(made$out$from, turn$from[1])
  if (!first || length(turn$from) < 3) return(NULL)
  given <- given_answers(turn$from, book)
  if (is.null(given) || sum(given$times) < 100) return(NULL)
  suspect <- moved_key(turn$right, given) %||% better_answers(turn$right, given)
  if (length(suspect)) list(new_finding("key-suspect", made$out$name, values = suspect))
}

# The answers of some rows and how many rows each stands for, `times`. `items`: of each its `name`,
# the different answers `met`, the `place` of each row's among these, and its value `labels`.
given_answers <- function(items, book) {
  found <- counts_at(site_of(book), lapply(items, as.name), most = most_answers_together,
    sample = TRUE)
  if (is.null(found)) return(NULL)
  columns <- found$keys
  times <- found$rows
  each <- Map(function(x, name) {
    met <- unique(x[!is.na(x)])
    list(name = name, met = normal_text(show_value(met)), place = match(x, met),
      labels = meaning_in(book, name)$codes)
  }, columns, items)
  list(items = each, times = times)
}

most_answers_together <- 65535

# The place of a keyed answer, which may be given by its label, among those that were met.
keyed_place <- function(right, item) {
  if (is.character(right) && right %in% names(item$labels)) right <- item$labels[[right]]
  match(normal_text(show_value(right)), item$met, nomatch = 0L)
}

# Which rows hold the keyed answers, a column for each item; no answer is none of them.
key_hits <- function(right, items, times) {
  matrix(unlist(Map(function(value, item) {
    as.double(item$place %in% keyed_place(value, item))
  }, right, items)), length(times))
}

# How well marks hang together, and the share of right answers.
key_facts <- function(right, items, times) {
  hits <- key_hits(right, items, times)
  share <- colSums(hits * times) / sum(times)
  total <- weighted_spread(rowSums(hits), times)
  k <- length(share)
  list(alpha = k / (k - 1) * (1 - sum(share * (1 - share)) / total^2), share = mean(share))
}

weighted_spread <- function(x, times) {
  mean <- sum(x * times) / sum(times)
  sqrt(sum((x - mean)^2 * times) / sum(times))
}

# The key with each answer at the item after or before its own, where that is clearly better.
moved_key <- function(right, given) {
  k <- length(right)
  for (step in c(1, -1)) {
    to <- which(seq_len(k) + step >= 1 & seq_len(k) + step <= k)
    now <- key_facts(right[to], given$items[to], given$times)
    then <- key_facts(right[to + step], given$items[to], given$times)
    more <- c(then$alpha - max(now$alpha, 0), then$share - now$share)
    if (isTRUE(all(more > c(0, 0.05)) && any(more > 0.2))) {
      first <- vapply(given$items[1:2], `[[`, "", "name")[c(1 + (step > 0), 1 + (step < 0))]
      return(paste0("moved by one item (the answer of `", first[1], "` for `", first[2],
        "` and so on) it gives ", percent_right(then), " instead of ", percent_right(now)))
    }
  }
}

percent_right <- function(facts) {
  paste0(round(100 * facts$share), " % right answers and alpha ", two_digits(facts$alpha))
}

# Answers that go clearly more with the other items than the keyed ones do, in words.
better_answers <- function(right, given) {
  hits <- key_hits(right, given$items, given$times)
  total <- rowSums(hits)
  unlist(Map(function(item, value, i) {
    if (length(item$met) > 20) return(NULL)
    r <- answers_with(total - hits[, i], item, given$times)
    keyed <- keyed_place(value, item)
    best <- which.max(replace(r, keyed, -1))
    # surely above zero, though as many were looked at
    sure <- stats::qnorm(1 - 0.01 / (length(right) * length(r))) / sqrt(sum(given$times))
    if (!length(best) || r[best] < sure || r[best] - c(r[keyed], 0)[1] < sure) return(NULL)
    paste0("to `", item$name, "` ", answer_in_words(item$met[best], item),
      " goes more with the other items (r = ", two_digits(r[best]), ") than the keyed ",
      answer_in_words(value, item), if (keyed) paste0(" does (r = ", two_digits(r[keyed]), ")") else
        ", which nobody gave")
  }, given$items, right, seq_along(right)))
}

# The correlation of each answer, given or not, with the score of the other items.
answers_with <- function(rest, item, times) {
  n <- sum(times)
  at <- !is.na(item$place)
  sums <- function(x) {
    as.vector(tapply(x[at], factor(item$place[at], seq_along(item$met)), sum))
  }
  share <- sums(times) / n
  product <- sums(rest * times) / n - share * sum(rest * times) / n
  product / sqrt(share * (1 - share)) / weighted_spread(rest, times)
}

answer_in_words <- function(value, item) {
  quote_text(label_of(value, item$labels) %|% show_value(value))
}
