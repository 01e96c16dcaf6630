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

# Numbers in the shortest form that reads back the same. 0 and -0 are one number.
show_number <- function(x) {
  if (!is.double(x)) return(as.character(x))
  x <- x + 0
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
  if (inherits(column, "Date") && is.character(values)) return(days_in_texts(values))
  if (!is.character(column) && is.character(values)) return(as_number(values))
  values
}

# A day as text.
iso_date <- "^[0-9]{4}-[0-9]{2}-[0-9]{2}$"

days_in_texts <- function(texts) {
  texts[!grepl(iso_date, texts)] <- NA
  as.Date(texts, "%Y-%m-%d")
}

# A number with a point, whatever sign the locale has for it.
with_point <- function(text) {
  if (sprintf("%.1f", 0.5) == "0.5") text else sub(",", ".", text, fixed = TRUE)
}

# Whole numbers with commas; most need none.
grouped <- function(n) {
  if (isTRUE(all(abs(n) < 999.5))) sprintf("%.0f", n + 0) else formatC(n, format = "f",
    digits = 0, big.mark = ",", decimal.mark = ".")
}

# "1 row", "1,200 rows".
counted <- function(n, one, many = paste0(one, "s")) paste(grouped(n), ifelse(n == 1, one, many))

two_digits <- function(x) with_point(sprintf("%.2f", round(x, 2) + 0))

# Whole numbers with a thousands mark, others to four figures.
show_cell <- function(x) {
  whole <- all(x == round(x) & abs(x) < 1e15, na.rm = TRUE)
  text <- if (whole) grouped(x) else vapply(x, show_amount, "")
  text[is.na(x)] <- ""
  text
}

show_amount <- function(x) {
  if (is.na(x)) return("")
  if (x == round(x) && abs(x) < 1e15) return(grouped(x))
  if (abs(x) >= 1e6 || abs(x) < 1e-3) {
    return(formatC(x, digits = 4, format = "g", decimal.mark = "."))
  }
  digits <- max(0, 3 - floor(log10(abs(x))))
  if (abs(x) < 999) return(with_point(sprintf("%.*f", min(digits, 4), round(x, digits))))
  formatC(round(x, digits), digits = min(digits, 4), format = "f", big.mark = ",",
    decimal.mark = ".")
}

to_percent <- function(x) ifelse(is.na(x), "", with_point(sprintf("%.1f", x)))
