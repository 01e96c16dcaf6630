# What programs write where there is no answer, beside NA.
signs_of_none <- c("N/A", "NULL", ".", "-")

likely_missing_codes <- c(
  7, 8, 9, 77, 88, 96:99, 777, 888, 996:999, 7777, 8888, 9996:9999,
  unlist(lapply(5:7, function(n) 10^n - 1:4))
)

# Values at one end of a numeric column that look like undeclared missing codes.
#   Suspects are a run at one end that all belong to the usual codes, or are negative where
#   all others are not. With g the gap to the ordinary values, m their median step and R
#   their range: g >= 3m, and g > R or the innermost suspect is frequent, or several codes have
#   three rows together and g is 10m and R/3 or more. Beyond that, 7 to 9 past a
#   short scale, a usual code that rows heap up on, and 0 where all others are far from it.
suspect_codes <- function(x, times = NULL) {
  facts <- if (is.numeric(x)) if (is.null(times)) facts_of_column(x) else facts_in_cells(x, times)
  if (is.null(facts) || !may_hold_suspects(facts)) return(numeric())
  seen <- number_counts(x, facts)
  suspect_values(seen$values, seen$rows)
}

# Most columns end in values that nobody takes for codes; more than 20 negatives are no codes.
may_hold_suspects <- function(facts) {
  if (is.na(facts$low)) return(FALSE)
  facts$high %in% likely_missing_codes || (facts$low < 0 && facts$negatives <= 20) ||
    facts$low == 0 && (facts$few || facts$valid <= 1e5)
}

# suspect_codes() for a column that has been counted: its distinct values in order, and their rows.
suspect_values <- function(values, counts) {
  if (length(values) < 3) return(numeric())
  c(lone_zero(values, counts), suspects_below(values, counts), suspects_above(values, counts))
}

# 0 where all others, ten and more, lie further from it than they spread, as a temperature or a year
# that was not taken; not where a fifth of the rows hold it, as those who have none of something.
lone_zero <- function(values, counts) {
  if (values[1] != 0 || length(values) < 11 || counts[1] > sum(counts) / 5) return(numeric())
  if (values[2] > values[length(values)] - values[2]) 0 else numeric()
}

suspects_above <- function(values, counts) {
  usual <- values %in% likely_missing_codes
  run <- rev(seq_along(values))[seq_len(sum(cumprod(rev(usual))))]
  found <- judge_run(values, counts, run)
  if (!length(found)) found <- beyond_short_scale(values, counts)
  if (!length(found)) found <- heaped_code(values, counts, run)
  found
}

# 7, 8 and 9 beyond a scale of consecutive answers from 0 or 1, with at least one number left out
# between. The last of these is given by some rows: counts of things thin out towards the top.
beyond_short_scale <- function(values, counts) {
  if (any(values != round(values)) || !values[1] %in% 0:1 || values[length(values)] > 9) {
    return(numeric())
  }
  gap <- which(diff(values) > 1)
  if (length(gap) != 1 || gap < 3 || values[gap] > 7 || counts[gap] < max(3, 0.02 * sum(counts))) {
    return(numeric())
  }
  out <- values[-seq_len(gap)]
  if (all(out >= 7)) out else numeric()
}

# Days that programs write where there is no date.
default_days <- days_in_texts(c("0001-01-01", "1753-01-01", "1899-12-30", "1899-12-31",
  "1900-01-01", "1901-01-01", "1970-01-01", "2099-12-31", "2999-12-31", "9999-12-31"))

# Of the days of a variable those that lie by themselves, by more than five years and a quarter of
# the time that the others span; or that five times as many rows hold as any other.
suspect_days <- function(days, rows) {
  usual <- days %in% default_days
  if (!any(usual) || sum(!usual) < 10) return(days[0])
  others <- as.double(days[!usual])
  found <- vapply(which(usual), function(i) {
    away <- min(abs(as.double(days[i]) - others))
    away > max(5 * 365, diff(range(others)) / 4) || rows[i] >= 5 * max(rows[!usual])
  }, NA)
  days[usual][found]
}

# A usual missing code at the top, three steps and more away, that three times as many rows hold as
# the values near it.
heaped_code <- function(values, counts, run) {
  top <- length(values)
  if (!length(run) || top < 7) return(numeric())
  near <- seq(top - 5, top - 1)
  far <- values[top] - values[top - 1] >= 3 * middle_of(diff(values[-top]))
  if (far && counts[top] >= 3 * middle_of(counts[near])) values[top] else numeric()
}

suspects_below <- function(values, counts) {
  below <- which(values < 0)
  measured <- length(below) > 1 && any(values[below] != round(values[below]))
  if (measured || length(below) > 20) return(numeric())
  judge_run(values, counts, below, negative = TRUE)
}

# The longest outer part of the run that stands apart from the ordinary values.
judge_run <- function(values, counts, run, negative = FALSE) {
  # Negative values are suspect where the others are not; two that may be meant can be left.
  least <- if (negative) max(1, length(run) - 2) else 1
  for (size in rev(seq_along(run)[seq_along(run) >= least])) {
    out <- run[seq_len(size)]
    if (stands_apart(values, counts, out, negative)) return(sort(values[out]))
  }
  numeric()
}

stands_apart <- function(values, counts, out, negative) {
  ordinary <- setdiff(seq_along(values), out)
  if (length(ordinary) < 2) return(FALSE)
  inner <- if (negative) max(out) else min(out)
  gap <- min(abs(values[inner] - values[ordinary]))
  step <- middle_of(diff(values[ordinary]))
  far <- gap > diff(range(values[ordinary]))
  frequent <- counts[inner] >= max(3, middle_of(counts[ordinary]))
  several <- negative && counts[inner] >= 3
  # two codes side by side, such as 98 and 99, of a few rows together
  range <- diff(range(values[ordinary]))
  pair <- !negative && length(out) > 1 && sum(counts[out]) >= 3 && gap >= max(10 * step, range / 3)
  gap >= 3 * step && (far || frequent || several || pair)
}

# The median, without the ways of asking for it.
middle_of <- function(x) {
  n <- length(x)
  mean(sort.int(x, method = "quick")[c((n + 1) %/% 2, (n + 2) %/% 2)])
}
