# Arithmetic of the formula language. A result outside the domain of a function is missing.

arithmetic <- function(f) {
  function(a, b) {
    if (missing(b)) f(as_number(a)) else without_overflow(f, as_number(a),
      as_number(b))
  }
}

# Whole numbers stay whole; what does not fit among R's whole numbers is worked out with real ones.
without_overflow <- function(f, a, b) {
  if (is.double(a) || is.double(b)) return(f(a, b))
  tryCatch(f(a, b), warning = function(w) f(as.double(a), b))
}

# `f` where a comparison with a number holds, such as list(">=", 0); missing elsewhere.
within_domain <- function(f, domain) {
  force(f)
  inside <- match.fun(domain[[1]])
  function(x) {
    x <- as_number(x)
    x[which(!inside(x, domain[[2]]))] <- NA
    f(x)
  }
}

without_zero <- function(f) {
  function(a, b) {
    b <- as_number(b)
    b[which(b == 0)] <- NA
    f(as_number(a), b)
  }
}

# R gives 1 for a missing value to the power of 0, and for 1 to the power of a missing value: here
# they are missing.
power <- function(a, b) {
  a <- as_number(a)
  b <- as_number(b)
  out <- drop_endless(suppressWarnings(a^b))
  out[is.na(a) | is.na(b)] <- NA
  out
}

exponential <- function(x) drop_endless(exp(as_number(x)))

# What runs out of the range of numbers is undefined.
drop_endless <- function(x) {
  x[!is.finite(x)] <- NA
  x
}

# Halves go to the even neighbour, as R has it, or "up", away from zero.
rounded <- function(x, digits = 0, half = "even") {
  x <- as_number(x)
  if (half == "up") half_up(x, trunc(digits)) else round(x, digits)
}

# What lies this near below a half is taken for one: 2.675 is a little less in binary figures.
half_guard <- 1e-9

half_up <- function(x, digits) {
  size <- if (digits < 0) abs(x) / 10^-digits else abs(x) * 10^digits
  whole <- floor(size)
  whole <- whole + (size - whole >= 0.5 - half_guard)
  sign(x) * if (digits < 0) whole * 10^-digits else whole / 10^digits
}

numeric_word <- function(f) function(x, ...) f(as_number(x), ...)

# Values of two kinds are compared as numbers.
comparison <- function(f) {
  function(a, b) {
    if (is.character(a) != is.character(b)) {
      a <- as_number(a)
      b <- as_number(b)
    }
    f(a, b)
  }
}

ordering <- function(f) function(a, b) f(as_number(a), as_number(b))

logic <- function(f) {
  function(a, b) if (missing(b)) f(as_truth(a)) else f(as_truth(a), as_truth(b))
}

as_truth <- function(x) if (is.logical(x)) x else as_number(x) != 0

# TRUE or FALSE for a valid left side, missing for a missing one.
is_in <- function(x, values) {
  hit <- x %in% fit_type(values, x)
  hit[is.na(x)] <- NA
  hit
}

first_of <- function(...) {
  columns <- list(...)
  alike <- all(vapply(columns, is.character, NA)) ||
    all(vapply(columns, inherits, NA, what = "Date"))
  if (!alike) columns <- lapply(columns, as_number)
  out <- columns[[1]]
  for (column in columns[-1]) {
    gap <- is.na(out)
    out[gap] <- rep_len(column, length(out))[gap]
  }
  out
}
