# What counts as a number written as text: digits with an optional point and exponent.
plain_number <- "^[ \t]*[-+]?([0-9]+[.]?[0-9]*|[.][0-9]+)([eE][-+]?[0-9]+)?[ \t]*$"

# Values as numbers; text that is no plain number becomes NA.
as_number <- function(x) {
  if (is.numeric(x) || is.logical(x)) return(x)
  if (inherits(x, "Date")) return(as.numeric(x))
  read <- rep(NA_real_, length(x))
  plain <- grepl(plain_number, x)
  read[plain] <- as.numeric(x[plain])
  read
}

is_whole <- function(x) is.integer(x) || is.logical(x) || (is.numeric(x) && all_whole(as.double(x)))

# Doubles that are all whole become integers, so that codes are codes in every back end.
as_code <- function(x) {
  if (!is.double(x) || inherits(x, "Date") || !is_whole(x)) return(x)
  storage.mode(x) <- "integer"
  x
}

# Numbers in the shortest form that reads back the same.
show_number <- function(x) {
  if (!is.double(x)) return(as.character(x))
  out <- with_point(sprintf("%.15g", x))
  out[is.na(x)] <- NA
  for (form in c("%.16g", "%.17g")) {
    off <- which(is.finite(x) & as.numeric(out) != x)
    out[off] <- with_point(sprintf(form, x[off]))
  }
  out
}

# For words rather than for code: at most six figures.
brief_number <- function(x) show_number(signif(as.double(x), 6))

# Any values as text, numbers in their shortest form.
show_value <- function(x) {
  if (is.factor(x)) return(as.character(x))
  if (is.numeric(x) && !is.object(x)) show_number(x) else as.character(x)
}

# A numeric or text vector that fits the type of the column it is compared with.
fit_type <- function(values, column) {
  if (is.character(column) && !is.character(values)) return(show_value(values))
  if (!is.character(column) && is.character(values)) return(as_number(values))
  values
}
