# Dates of the formula language. Text is a date where it is written as 2031-03-01.

# A date with a time of the day, which may be followed by its distance from universal time.
iso_datetime <- "^[0-9]{4}-[0-9]{2}-[0-9]{2}([ T][0-9]{2}:[0-9]{2}[0-9:.]*( ?(Z|[-+][0-9:]+))?)?$"

as_date <- function(x) {
  if (inherits(x, "Date")) return(x)
  if (is.numeric(x)) return(structure(as.double(x), class = "Date"))
  x[!grepl(iso_datetime, x)] <- NA
  as.Date(x, "%Y-%m-%d")
}

# Numbers of the type of a column.
self_typed <- function(values, like) {
  storage.mode(values) <- typeof(like)
  if (inherits(like, "Date")) as_date(values) else values
}

# Days can be added to a date or taken from it; between two dates there are days.
date_arithmetic <- function(f, both) {
  plain <- arithmetic(f)
  function(a, b) {
    if (missing(b)) return(plain(a))
    dates <- c(inherits(a, "Date"), inherits(b, "Date"))
    out <- plain(a, b)
    if (sum(dates) == 1 && (dates[1] || both)) as_date(out) else out
  }
}

date_part <- function(field, add) {
  function(x) as.numeric(unclass(as.POSIXlt(as_date(x)))[[field]] + add)
}

# Monday is 1, Sunday 7. Day 0, the first of 1970, was a Thursday.
weekday_of <- function(x) (floor(as.numeric(as_date(x))) + 3) %% 7 + 1

# Completed years; who is born on 29 February is a year older on 1 March in common years.
years_between <- function(birth, on) {
  birth <- as.POSIXlt(as_date(birth))
  on <- as.POSIXlt(as_date(on))
  as.numeric(on$year - birth$year - (100 * on$mon + on$mday < 100 * birth$mon + birth$mday))
}

# Completed months; who begins on the 31st completes a month on the 1st after a shorter one.
months_between <- function(from, to) {
  from <- as.POSIXlt(as_date(from))
  to <- as.POSIXlt(as_date(to))
  as.numeric(12 * (to$year - from$year) + to$mon - from$mon - (to$mday < from$mday))
}

# The hour on the clock of the place, from text such as "2031-03-01 08:15".
hour_of <- function(x) {
  timed <- !is.na(x) & grepl(iso_datetime, x) & nchar(x) > 10
  hour <- rep(NA_real_, length(x))
  hour[timed] <- as.numeric(substr(x[timed], 12, 13))
  hour
}

# Exact hours between two dates with a time; where only one says how far it is from universal time
# they cannot be compared, and the result is missing.
hours_between <- function(from, to) {
  same <- has_zone(from) == has_zone(to)
  out <- (moment_seconds(to) - moment_seconds(from)) / 3600
  out[!same] <- NA
  out
}

has_zone <- function(x) grepl(zone_end, x)

zone_end <- "(Z|[-+][0-9]{2}:?[0-9]{2})$"

# Seconds since 1970, by universal time where the text says how far it is from it.
moment_seconds <- function(x) {
  timed <- !is.na(x) & grepl(iso_datetime, x) & nchar(x) > 10
  x <- ifelse(timed, x, NA)
  part <- function(from, to) as.numeric(substr(x, from, to))
  seconds <- as.numeric(sub("^.{16}:?([0-9.]*).*$", "0\\1", x))
  offset <- ifelse(has_zone(x) & !grepl("Z$", x), sub("^.*([-+])([0-9]{2}):?([0-9]{2})$",
    "\\1\\2\\3", x), "+0000")
  away <- as.numeric(paste0(substr(offset, 1, 1), "1")) *
    (as.numeric(substr(offset, 2, 3)) * 60 + as.numeric(substr(offset, 4, 5)))
  days <- as.numeric(as.Date(substr(x, 1, 10), "%Y-%m-%d"))
  86400 * days + 3600 * part(12, 13) + 60 * part(15, 16) + seconds - 60 * away
}
