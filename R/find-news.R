#' What new data bring
#'
#' When a sheet is replayed, the data are compared with those that the record was
#' made with: values that were not seen there, values beyond the range that was
#' seen, and shares of missing answers that differ (by two points or more, and
#' more than chance would explain).
#'
#' @param book A turnbook from [apply_turns()].
#' @return A data frame with a row for each difference: `variable`, `what`
#'   ("new value", "beyond the range" or "share missing"), `detail` and `rows`.
#'   It has no rows where there is nothing new.
#' @seealso [apply_turns()]
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"), id = person)
#' book <- turn_flag(book, wait_min > median(wait_min), as = "long_wait")
#' path <- tempfile(fileext = ".turns.yaml")
#' save_turns(book, path)
#' next_wave <- apply_turns(demo_file("ferry-wave2.csv"), path)
#' new_in_data(next_wave)
#' @export
new_in_data <- function(book) {
  book <- as_book(book)
  seen <- info_of(book)$seen
  parts <- lapply(intersect(names(seen), original_names(book)),
    function(name) news_of(name, seen[[name]], book))
  out <- do.call(rbind, c(list(news_row(character(), character(), character(), integer())), parts))
  as_table(out, "ableturn_news")
}

# What the record keeps of an original: its rows, how many are missing, and its values or range.
profile_of <- function(variable, rows) {
  if (is.null(variable$profile)) variable$profile <- new_profile(variable, rows)
  variable$profile
}

new_profile <- function(variable, rows) {
  facts <- facts_of(variable)
  profile <- list(rows = rows, missing = rows - facts$valid)
  profile$unit <- given_units(variable)
  values <- if (facts$few) answers_of(variable)$values else c(facts$low, facts$high)
  dated <- inherits(values_of(variable), "Date")
  if (is.double(values) && !dated) values <- values[is.finite(values)]
  if (facts$few && listed_values(values, variable$meaning)) {
    return(c(profile, list(values = sort_values(values))))
  }
  if (is.numeric(values) && length(values) && !dated) profile$range <- range(values)
  profile
}

# The unit that came with the data, of a span of time.
given_units <- function(variable) {
  raw <- source_of(variable)
  if (inherits(raw, "difftime")) attr(raw, "units", exact = TRUE)
}

# Codes and categories are kept one by one, amounts by their range.
listed_values <- function(values, meaning) {
  coded <- length(meaning$codes) > 0 || isTRUE(meaning$level %in% c("nominal", "ordinal"))
  length(values) > 0 && !inherits(values, "Date") && length(values) <= if (is.character(values) ||
    coded) 50 else 8
}

news_row <- function(variable, what, detail, rows) {
  data.frame(variable = variable, what = what, detail = detail, rows = as_row_counts(rows))
}

news_of <- function(name, seen, book) {
  variable <- variable_in(book, name)
  met <- answers_listed(variable)
  rbind(new_values(name, seen, met$values, met$rows), beyond_range(name, seen, variable),
    other_share(name, seen, c(row_count(book), row_count(book) - facts_of(variable)$valid)))
}

# Of those that are too many to be fetched, none is told.
new_values <- function(name, seen, values, rows) {
  if (is.null(seen$values) || !length(values)) return(NULL)
  x <- show_value(values)
  is_new <- !x %in% show_value(seen$values)
  if (!any(is_new)) return(NULL)
  met <- sort_values(unique(x[is_new]))
  news_row(name, "new value", met, rows_at_places(match(x[is_new], met), length(met),
    as.double(rows[is_new])))
}

beyond_range <- function(name, seen, variable) {
  if (is.null(seen$range)) return(NULL)
  off <- values_outside(variable, seen$range)
  told <- function(out, word, end) {
    rows <- sum(off$rows[out])
    if (rows) news_row(name, "beyond the range", paste0(word, " ", brief_number(end)), rows)
  }
  rbind(told(off$values < seen$range[1], "below", seen$range[1]),
    told(off$values > seen$range[2], "above", seen$range[2]))
}

# `now`: how many rows there are, and how many of these have no answer.
other_share <- function(name, seen, now) {
  n <- c(seen$rows, now[1])
  gone <- c(seen$missing, now[2])
  if (any(n == 0)) return(NULL)
  share <- gone / n
  all <- sum(gone) / sum(n)
  error <- sqrt(all * (1 - all) * sum(1 / n))
  apart <- abs(diff(share))
  if (apart < 0.02 || apart < 3 * error) return(NULL)
  percent <- paste0(with_point(sprintf("%.1f", 100 * share)), " %")
  news_row(name, "share missing", paste(percent[1], "on record, now", percent[2]), gone[2])
}
