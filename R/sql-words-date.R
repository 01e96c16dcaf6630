# Dates as terms of SQL: days since 1970, as in memory. What a calendar says of them is worked out
# with whole numbers, alike in all engines (Hinnant 2013, chrono-compatible low-level date
# algorithms).

# The year, month and day of a date, each a column: the year begins in March, so that the leap day
# is its last.
calendar_of <- function(term, state) {
  held <- hold_term(term, "date", state)
  hold <- function(sql, called, before) {
    hold_term(new_term(sql, "number", before$level), called, state)
  }
  z <- paste0("(", held$sql, " + 719468)")
  era <- hold(paste0("FLOOR(", z, " / 146097)"), "era", held)
  day <- hold(paste0(z, " - ", era$sql, " * 146097"), "day_of_era", era)
  d <- day$sql
  year <- hold(paste0("FLOOR((", d, " - FLOOR(", d, " / 1460) + FLOOR(", d, " / 36524) - FLOOR(", d,
    " / 146096)) / 365)"), "year_of_era", day)
  y <- year$sql
  in_year <- hold(paste0(d, " - (365 * ", y, " + FLOOR(", y, " / 4) - FLOOR(", y, " / 100))"),
    "day_of_year", year)
  month <- hold(paste0("FLOOR((5 * ", in_year$sql, " + 2) / 153)"), "month_from_march", in_year)
  m <- month$sql
  list(
    year = hold(cast_sql(paste0(y, " + ", era$sql, " * 400 + ", case_sql(paste(m, ">= 10"), "1",
      "0")), state$engine$real), "year", month),
    month = hold(cast_sql(paste0(m, " + ", case_sql(paste(m, "< 10"), "3", "-9")),
      state$engine$real), "month", month),
    day = hold(paste0(in_year$sql, " - FLOOR((153 * ", m, " + 2) / 5) + 1"), "day", month)
  )
}

# The days since 1970 of a year, a month and a day, all columns.
days_of <- function(y, m, d, level, state) {
  hold <- function(sql, called, before) {
    hold_term(new_term(sql, "number", before), called, state)
  }
  year <- hold(paste0(y, " - ", case_sql(paste(m, "<= 2"), "1", "0")), "year_from_march", level)
  era <- hold(paste0("FLOOR(", year$sql, " / 400)"), "era", year$level)
  in_era <- hold(paste0(year$sql, " - ", era$sql, " * 400"), "year_of_era", era$level)
  in_year <- hold(paste0("FLOOR((153 * (", m, " + ", case_sql(paste(m, "> 2"), "-3", "9"),
    ") + 2) / 5) + ", d, " - 1"), "day_of_year", level)
  e <- in_era$sql
  new_term(paste0(era$sql, " * 146097 + ", e, " * 365 + FLOOR(", e, " / 4) - FLOOR(", e,
    " / 100) + ", in_year$sql, " - 719468"), "date", top_level(list(in_era, in_year)), 6)
}

# Monday is 1: day 0 was a Thursday. Counted from a Monday before all dates, as whole numbers below
# 0 are divided otherwise.
weekday_in_sql <- function(node, state) {
  held <- hold_term(date_term(node[[2]], state), "date", state)
  since <- paste0("(FLOOR(", held$sql, ") + 1400003)")
  new_term(paste0(since, " - 7 * FLOOR(", since, " / 7) + 1"), "number", held$level, 6)
}

date_part_in_sql <- function(part) {
  function(node, state) calendar_of(date_term(node[[2]], state), state)[[part]]
}

date_term <- function(node, state) {
  term <- sql_term(node, state)
  switch(term$type, text = date_of_text(term, state),
    truth = replace_type(typed_null(state$engine$real), "date"), replace_type(term, "date"))
}

date_in_sql <- function(node, state) date_term(node[[2]], state)

# Completed years and months.
years_in_sql <- function(node, state) {
  ends <- lapply(as.list(node)[-1], function(part) calendar_of(date_term(part, state), state))
  late <- paste0("100 * ", ends[[2]]$month$sql, " + ", ends[[2]]$day$sql, " < 100 * ",
    ends[[1]]$month$sql, " + ", ends[[1]]$day$sql)
  new_term(paste0(ends[[2]]$year$sql, " - ", ends[[1]]$year$sql, " - ", case_sql(late, "1", "0")),
    "number", top_level(unlist(ends, recursive = FALSE)), 6)
}

months_in_sql <- function(node, state) {
  ends <- lapply(as.list(node)[-1], function(part) calendar_of(date_term(part, state), state))
  late <- paste(ends[[2]]$day$sql, "<", ends[[1]]$day$sql)
  new_term(paste0("12 * (", ends[[2]]$year$sql, " - ", ends[[1]]$year$sql, ") + ",
    ends[[2]]$month$sql, " - ", ends[[1]]$month$sql, " - ", case_sql(late, "1", "0")), "number",
  top_level(unlist(ends, recursive = FALSE)), 6)
}

# A date written as 2031-03-01, or with a time after it, that is in the calendar.
date_of_text <- function(term, state) {
  held <- hold_term(term, "text", state)
  test <- moment_test(held, state)
  written <- hold_term(new_term(case_sql(test$sql, held$sql), "text", test$level), "written", state)
  digits <- function(from, to, called) {
    sql <- cast_sql(paste0("SUBSTR(", written$sql, ", ", from, ", ", to, ")"), state$engine$real)
    hold_term(new_term(sql, "number", written$level), called, state)
  }
  y <- digits(1, 4, "year")
  m <- digits(6, 2, "month")
  d <- digits(9, 2, "day")
  days <- hold_term(days_of(y$sql, m$sql, d$sql, y$level, state), "date", state)
  back <- calendar_of(days, state)
  same <- paste0(back$month$sql, " = ", m$sql, " AND ", back$day$sql, " = ", d$sql, " AND ", m$sql,
    " BETWEEN 1 AND 12")
  new_term(case_sql(same, days$sql), "date", back$day$level)
}

# Whether a text is a date, maybe with a time: iso_moment. Without patterns, by what is left when
# allowed signs are taken off.
moment_test <- function(held, state) {
  x <- held$sql
  if (!is.null(state$engine$fits)) {
    return(new_term(fits_sql(x, iso_datetime, state$engine), "truth", held$level, 5))
  }
  hold <- function(sql, called, level) hold_term(new_term(sql, "text", level), called, state)
  signs <- "'0123456789:.'"
  rest <- hold(paste0("LTRIM(SUBSTR(", x, ", 17), ", signs, ")"), "after_time", held$level)
  zone <- hold(case_sql(paste0("SUBSTR(", rest$sql, ", 1, 1) = ' '"),
    paste0("SUBSTR(", rest$sql, ", 2)"), rest$sql), "zone", rest$level)
  z <- zone$sql
  hours <- paste0("SUBSTR(", z, ", 1, 1) IN ('-', '+') AND LENGTH(", z, ") > 1 AND LTRIM(SUBSTR(",
    z, ", 2), '0123456789:') = ''")
  day <- "[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9]"
  new_term(paste0(x, " GLOB '", day, "' OR (", x, " GLOB '", day,
    "[ T][0-9][0-9]:[0-9][0-9]*' AND (", rest$sql, " = '' OR ", z, " = 'Z' OR (", hours, ")))"),
  "truth", zone$level, 2)
}

# The hour on the clock, from a date with a time.
hour_in_sql <- function(node, state) {
  timed <- timed_term(node[[2]], state)
  new_term(cast_sql(paste0("SUBSTR(", timed$sql, ", 12, 2)"), state$engine$real), "number",
    timed$level)
}

timed_term <- function(node, state) {
  held <- hold_term(text_of(sql_term(node, state), state), "text", state)
  test <- moment_test(held, state)
  long <- paste0(within_sql(test, 3), " AND LENGTH(", held$sql, ") > 10")
  hold_term(new_term(case_sql(long, held$sql), "text", test$level), "moment", state)
}

# Hours between dates with a time, where both say how far they are from universal time, or neither.
hours_in_sql <- function(node, state) {
  ends <- lapply(as.list(node)[-1], function(part) seconds_of(timed_term(part, state), state))
  zones <- paste(ends[[1]]$zoned$sql, "=", ends[[2]]$zoned$sql)
  between <- paste0("(", ends[[2]]$seconds$sql, " - ", ends[[1]]$seconds$sql, ") / 3600")
  new_term(case_sql(zones, between), "number",
    top_level(unlist(ends, recursive = FALSE)))
}

# Seconds since 1970, and whether the text has a zone.
seconds_of <- function(timed, state) {
  engine <- state$engine
  x <- timed$sql
  hold <- function(sql, called, level, type = "number") {
    hold_term(new_term(sql, type, level), called, state)
  }
  digits <- function(of, from, size) {
    cast_sql(paste0("SUBSTR(", of, ", ", from, ", ", size, ")"), engine$real)
  }
  clock <- hold(paste0("SUBSTR(", x, ", 17)"), "after_minute", timed$level, "text")
  signs <- paste0("LTRIM(", clock$sql, ", ':.0123456789 ')")
  zone <- hold(signs, "zone", clock$level, "text")
  z <- zone$sql
  plain <- hold(paste0("REPLACE(", z, ", ':', '')"), "zone", zone$level, "text")
  p <- plain$sql
  known <- paste0("LENGTH(", p, ") = 5")
  zoned <- hold(case_sql(c(paste(p, "IS NULL"), paste0(p, " = 'Z' OR ", known)), c("NULL", "1"),
    "0"), "zoned", plain$level)
  sign <- case_sql(paste0("SUBSTR(", p, ", 1, 1) = '-'"), "-60", "60")
  from_zone <- paste0(sign, " * (60 * ", digits(p, 2, 2), " + ", digits(p, 4, 2), ")")
  away <- hold(case_sql(c(paste(p, "IS NULL"), known), c("NULL", from_zone), "0"), "zone_seconds",
    plain$level)
  second <- hold(number_before(clock, zone, engine), "second", zone$level)
  day <- hold_term(replace_type(date_of_text(timed, state), "number"), "day", state)
  list(zoned = zoned, seconds = hold(paste0("86400 * ", day$sql, " + 3600 * ", digits(x, 12, 2),
    " + 60 * ", digits(x, 15, 2), " + ", second$sql, " - ", away$sql), "seconds",
  top_level(list(day, second, away))))
}

# What stands between the minutes and the zone, as a number of seconds.
number_before <- function(clock, zone, engine) {
  between <- paste0("SUBSTR(", clock$sql, ", 1, LENGTH(", clock$sql, ") - LENGTH(", zone$sql, "))")
  bare <- fill_sql(engine$trim, between, "': '")
  case_sql(c(paste(clock$sql, "IS NULL"), paste0(bare, " = ''")), c("NULL", "0"),
    cast_sql(bare, engine$real))
}

date_as_text <- function(term, state) {
  held <- hold_term(term, "date", state)
  new_term(cast_sql(fill_sql(state$engine$from_days, held$sql), state$engine$text), "text",
    held$level, null = held$null)
}

date_words_in_sql <- list(
  as.Date = date_in_sql, year = date_part_in_sql("year"), month = date_part_in_sql("month"),
  day = date_part_in_sql("day"), weekday = weekday_in_sql, years_between = years_in_sql,
  months_between = months_in_sql,
  hour = hour_in_sql, hours_between = hours_in_sql
)
