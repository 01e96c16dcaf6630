# Axes of dates. The panels of a figure may hold dates and numbers, and share how an axis is
# written: days are drawn 2^31 further on, by which the axis of a panel knows them.

days_of_axis <- 2^31

on_axis <- function(x, dates) x + days_of_axis * dates

are_days_of_axis <- function(x) {
  x <- x[is.finite(x)]
  length(x) > 0 && all(abs(x - days_of_axis) < 4e6) # ten thousand years to either side
}

# `...`: of the scale.
date_axis <- function(...) {
  scale <- ggplot2::scale_x_continuous(..., breaks = function(ends) {
    if (!are_days_of_axis(ends)) return(pretty(ends, 5))
    on_axis(date_breaks(ends - days_of_axis, 4), TRUE)
  }, labels = function(x) {
    if (are_days_of_axis(x)) date_words(x - days_of_axis) else show_number(x)
  }, guide = ggplot2::guide_axis(check.overlap = TRUE))
  list(scale, ggplot2::theme(plot.margin = ggplot2::margin(14, 44, 12, 14))) # for the last date
}

# Round dates as days, about `n`; beyond the calendar round numbers of days.
date_breaks <- function(days, n) {
  if (any(abs(days) > 3e6)) return(pretty(days, n))
  as.double(pretty(as.Date(days, origin = "1970-01-01"), n))
}

# As short as they may be: by the year, by the month, or whole.
date_words <- function(days) {
  whole <- format(as.Date(days, origin = "1970-01-01"))
  told <- whole[!is.na(whole)]
  if (all(endsWith(told, "-01-01"))) return(substr(whole, 1, 4))
  if (all(endsWith(told, "-01"))) substr(whole, 1, 7) else whole
}
