# Dates of the formula language. Text is a date where it is written as 2031-03-01.
iso_date <- "^[0-9]{4}-[0-9]{2}-[0-9]{2}$"

# The same with a time of the day, which may be followed by its distance from universal time.
iso_moment <- "^[0-9]{4}-[0-9]{2}-[0-9]{2}([ T][0-9]{2}:[0-9]{2}[0-9:.]*( ?(Z|[-+][0-9:]+))?)?$"

as_date <- function(x) {
  if (inherits(x, "Date")) return(x)
  if (is.numeric(x)) return(structure(as.double(x), class = "Date"))
  x[!grepl(iso_moment, x)] <- NA
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

# Completed years; who is born on 29 February is a year older on 1 March in common years.
years_between <- function(birth, on) {
  birth <- as.POSIXlt(as_date(birth))
  on <- as.POSIXlt(as_date(on))
  as.numeric(on$year - birth$year - (100 * on$mon + on$mday < 100 * birth$mon + birth$mday))
}
