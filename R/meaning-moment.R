# Dates with a time, kept as text such as "2031-03-01 08:15:00+0100": the clock of their own zone, and how far it is
# from universal time, so that the day and the hour are those of the place and differences are exact.
moment_text <- function(raw) format(raw, moment_form(raw))

# Thousandths of seconds only where there are any.
moment_form <- function(raw) {
  seconds <- as.numeric(raw)
  whole <- all(seconds == floor(seconds), na.rm = TRUE)
  if (whole) "%Y-%m-%d %H:%M:%S%z" else "%Y-%m-%d %H:%M:%OS3%z"
}
