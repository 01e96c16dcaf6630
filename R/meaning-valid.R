# The words for reasons that no codebook declares.
standard_kinds <- c(
  "blank", "not asked", "unmatched", "undefined", "unreadable", "too few items",
  "no earlier occasion", "no baseline", "not in the table", "outside the norms",
    "a source is missing"
)

# A column ready for analysis: `x` with NA wherever there is no valid answer, and for the NA rows in
# their order `why`, a position in `kinds`.
new_column <- function(x, why = rep(1L, sum(is.na(x))), kinds = "blank") {
  list(x = x, why = why, kinds = kinds)
}

# An original column, its declared missing codes set aside.
valid_column <- function(raw, meaning) {
  x <- plain_values(raw)
  if (!is.null(meaning$read) && is.character(x)) return(read_column(x, meaning))
  if (is.character(x)) return(valid_text(x, meaning$missing))
  codes <- missing_points(meaning$missing, x)
  found <- set_aside(x, codes$points, codes$kinds, codes$ranges)
  new_column(found$x, found$why, c("blank", names(meaning$missing)))
}

# The texts of a column read as its meaning says. Declared missing codes are texts as they stand, or
# numbers as read.
read_column <- function(texts, meaning) {
  texts <- normal_text(texts)
  blank <- is.na(texts) | !grepl("[^[:space:]]", texts)
  missing <- missing_by_stage(meaning)
  x <- read_texts_as(texts, meaning$read)
  kind <- kind_of_rows(texts, missing$texts)
  kind <- ifelse(kind > 0, kind, kind_of_rows(x, missing$numbers))
  kind[blank] <- 1L
  kind[kind == 0 & is.na(x)] <- length(meaning$missing) + 2L
  x[kind > 0] <- NA
  new_column(x, as.integer(kind[kind > 0]), c("blank", names(meaning$missing), "unreadable"))
}

# Declared missing codes of a column that is read: texts as they stand, and numbers as read.
missing_by_stage <- function(meaning) {
  as_read <- function(m) ways_to_read[[meaning$read]]$gives == "number" && !is.character(m$values)
  list(texts = lapply(meaning$missing, function(kind) Filter(Negate(as_read), kind)),
    numbers = lapply(meaning$missing, function(kind) Filter(as_read, kind)))
}

# Missing codes of a column as points and ranges, each with its kind: 1 is blank, the declared ones
# follow.
missing_points <- function(missing, x) {
  kind <- rep(seq_along(missing) + 1L, lengths(missing))
  matchers <- unlist(unname(missing), recursive = FALSE)
  ranged <- vapply(matchers, function(m) m$type == "range", NA)
  values <- lapply(matchers[!ranged], function(m) as.double(fit_type(m$values, x)))
  ranges <- vapply(matchers[ranged], function(m) c(m$low, m$high, m$low_in, m$high_in), rep(0, 4))
  list(points = as.double(unlist(values)), kinds = rep(kind[!ranged], lengths(values)),
    ranges = cbind(t(matrix(ranges, 4)), kind[ranged]))
}

valid_text <- function(x, missing) {
  x <- normal_text(x)
  blank <- is.na(x) | x == ""
  if (!length(missing)) {
    if (any(blank & !is.na(x))) x[blank] <- NA
    return(new_column(x))
  }
  kind <- kind_of_rows(x, missing)
  kind[blank] <- 1L
  gone <- kind > 0L
  x[gone] <- NA
  new_column(x, kind[gone], c("blank", names(missing)))
}

# 0 for a valid value, else the position of its kind (1 is blank).
kind_of_rows <- function(x, missing) {
  kind <- integer(length(x))
  for (i in rev(seq_along(missing))) kind[match_rows(x, missing[[i]])] <- i + 1L
  kind
}

# An original as the plain vector that is worked with: factors by their labels, dates with a time as
# text.
plain_values <- function(raw) {
  if (is.factor(raw)) return(as.character(raw))
  if (inherits(raw, "Date")) return(raw)
  if (inherits(raw, "POSIXct")) return(datetime_text(raw))
  if (is.object(raw) || !is.null(attributes(raw))) raw <- as.vector(unclass(raw))
  raw
}

# Whether a column is worked with as text.
is_text_like <- function(raw) is.character(raw) || is.factor(raw) || inherits(raw, "POSIXct")

# The rows that were not asked lose what stands there, and their reason is that alone.
# `rows`: how many each stands for, if not one.
set_not_asked <- function(column, asked, rows = NULL) {
  out <- which(!asked)
  reason <- integer(length(column$x))
  reason[is.na(column$x)] <- column$why
  answered <- out[!is.na(column$x[out])]
  answered <- if (is.null(rows)) length(answered) else sum(rows[answered])
  column$x[out] <- NA
  reason[out] <- length(column$kinds) + 1L
  made <- new_column(column$x, reason[is.na(column$x)], c(column$kinds, "not asked"))
  made$answered_unasked <- answered
  made
}

# Rows that are missing for this reason.
is_kind <- function(column, kind) {
  hit <- logical(length(column$x))
  gone <- which(is.na(column$x))
  hit[gone[column$why == match(kind, column$kinds, nomatch = 0L)]] <- TRUE
  hit
}

# How many rows are missing for each reason, the largest first; of a column each of whose values
# stands for some rows, how many of these.
count_kinds <- function(column, rows = NULL) {
  why <- column$why
  if (!is.null(rows)) {
    rows <- rows[is.na(column$x)]
  } else if (!is.null(column$cells)) {
    gone <- which(column$cells$kind > 0)
    why <- column$cells$kind[gone]
    rows <- column$cells$rows[gone]
  }
  counts_by_kind(rows_at_places(why, length(column$kinds), rows), column$kinds)
}

# The frequent first.
counts_by_kind <- function(counts, kinds) {
  met <- which(counts > 0)
  if (length(met) > 1) met <- met[order(-counts[met], kinds[met], method = "radix")]
  found <- as_row_counts(counts[met])
  names(found) <- kinds[met]
  found
}

# The reasons as text, one for each NA row.
reasons <- function(column) column$kinds[column$why]

# Dates with a time, kept as text such as "2031-03-01 08:15:00+0100": the clock of their own zone,
# and how far it is from universal time, so that the day and the hour are those of the place and
# differences are exact.
datetime_text <- function(raw) format(raw, datetime_form(raw))

# Thousandths of seconds only where there are any.
datetime_form <- function(raw) {
  seconds <- as.numeric(raw)
  whole <- all(seconds == floor(seconds), na.rm = TRUE)
  if (whole) "%Y-%m-%d %H:%M:%S%z" else "%Y-%m-%d %H:%M:%OS3%z"
}
