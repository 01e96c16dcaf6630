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
profile_of <- function(name, book) {
  facts <- facts_of(book, name)
  profile <- list(rows = row_count(book), missing = row_count(book) - facts$valid)
  profile$unit <- given_units(book, name)
  values <- if (facts$few) values_met(book, name)$values else c(facts$low, facts$high)
  dated <- inherits(values_of(book, name), "Date")
  if (is.double(values) && !dated) values <- values[is.finite(values)]
  if (facts$few && listed_values(values, meaning_in(book, name))) {
    return(c(profile, list(values = sort_values(values))))
  }
  if (is.numeric(values) && length(values) && !dated) profile$range <- range(values)
  profile
}

# The unit that came with the data, of a span of time.
given_units <- function(book, name) {
  raw <- original_source(book, name)
  if (inherits(raw, "difftime")) attr(raw, "units", exact = TRUE)
}

# Codes and categories are kept one by one, amounts by their range.
listed_values <- function(values, meaning) {
  coded <- length(meaning$codes) > 0 || isTRUE(meaning$level %in% c("nominal", "ordinal"))
  length(values) > 0 && !inherits(values, "Date") && length(values) <= if (is.character(values) ||
    coded) 50 else 8
}

news_row <- function(variable, what, detail, rows) {
  data.frame(variable = variable, what = what, detail = detail, rows = as.integer(rows))
}

news_of <- function(name, seen, book) {
  column <- column_in(book, name)
  times <- NULL
  if (is_long(column)) {
    column <- compared_at_site(name, seen$range %||% c(-Inf, Inf), column, book)
    times <- column$times
  } else if (is_far(column)) {
    times <- column$cells$rows
    column <- column_of_cells(column)
  }
  few <- !is_long(column_in(book, name))
  rbind(if (few) new_values(name, seen, column$x, times),
    beyond_range(name, seen, column$x, times), other_share(name, seen, column$x, times))
}

# A value below, above and within a range, and none, with how many rows are like it.
compared_at_site <- function(name, range, column, book) {
  x <- as.name(name)
  told <- groups_at_site(info_of(book)$site, book, list(call("choose", call("<", x, range[1]), 1,
    call(">", x, range[2]), 2, 3)), 4)
  list(x = c(-Inf, Inf, range[1], NA), times = rows_by(told$keys[[1]] %|% 4, 1:4, told$rows))
}

# `times`: how many rows each value stands for, if not one.
new_values <- function(name, seen, x, times = NULL) {
  if (is.null(seen$values)) return(NULL)
  x <- show_value(x)
  is_new <- !is.na(x) & !x %in% show_value(seen$values)
  if (!any(is_new)) return(NULL)
  values <- sort_values(unique(x[is_new]))
  news_row(name, "new value", values, rows_by(match(x[is_new], values), values, times[is_new]))
}

beyond_range <- function(name, seen, x, times = NULL) {
  if (is.null(seen$range)) return(NULL)
  number <- as_number(x)
  told <- function(out, word, end) {
    rows <- sum((!is.na(number) & out) * (times %||% 1L))
    if (rows) news_row(name, "beyond the range", paste0(word, " ", brief_number(end)), rows)
  }
  rbind(told(number < seen$range[1], "below", seen$range[1]),
    told(number > seen$range[2], "above", seen$range[2]))
}

other_share <- function(name, seen, x, times = NULL) {
  n <- c(seen$rows, if (is.null(times)) length(x) else sum(times))
  gone <- c(seen$missing, sum(is.na(x) * (times %||% 1L)))
  if (any(n == 0)) return(NULL)
  share <- gone / n
  all <- sum(gone) / sum(n)
  error <- sqrt(all * (1 - all) * sum(1 / n))
  apart <- abs(diff(share))
  if (apart < 0.02 || apart < 3 * error) return(NULL)
  percent <- paste0(with_point(sprintf("%.1f", 100 * share)), " %")
  news_row(name, "share missing", paste(percent[1], "on record, now", percent[2]), gone[2])
}
