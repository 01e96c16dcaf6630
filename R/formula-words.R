# The closed list of what a formula may say.
#   least, most: how many unnamed arguments; options: named ones, which must be constants;
#   vars: named ones that name variables; special: gets the call itself; learned: a statistic of a
#   column, made once and recorded;
#   inner: only turns may use it.
formula_word <- function(run, least = 1, most = least, gives = "number", help = "",
                         options = character(), vars = character(), special = FALSE, learned = FALSE,
                         inner = FALSE) {
  list(
    run = run, least = least, most = most, gives = gives, help = help,
    options = options, vars = vars, special = special, learned = learned, inner = inner
  )
}

operator_words <- list(
  "+" = formula_word(date_arithmetic(`+`, TRUE), 1, 2, help = "plus; days are added to a date"),
  "-" = formula_word(date_arithmetic(`-`, FALSE), 1, 2, help = "minus; between dates, in days"),
  "*" = formula_word(arithmetic(`*`), 2, help = "times"),
  "/" = formula_word(without_zero(`/`), 2, help = "divided by; by zero is undefined"),
  "%%" = formula_word(without_zero(`%%`), 2, help = "remainder of a division"),
  "%/%" = formula_word(without_zero(`%/%`), 2, help = "whole part of a division"),
  "^" = formula_word(power, 2, help = "to the power of"),
  "==" = formula_word(comparison(`==`), 2, gives = "truth", help = "equal"),
  "!=" = formula_word(comparison(`!=`), 2, gives = "truth", help = "not equal"),
  "<" = formula_word(ordering(`<`), 2, gives = "truth", help = "less than"),
  ">" = formula_word(ordering(`>`), 2, gives = "truth", help = "more than"),
  "<=" = formula_word(ordering(`<=`), 2, gives = "truth", help = "at most"),
  ">=" = formula_word(ordering(`>=`), 2, gives = "truth", help = "at least"),
  "%in%" = formula_word(is_in, 2, gives = "truth", help = "one of several values"),
  "&" = formula_word(logic(`&`), 2, gives = "truth", help = "and"),
  "|" = formula_word(logic(`|`), 2, gives = "truth", help = "or"),
  "!" = formula_word(logic(`!`), 1, gives = "truth", help = "not"),
  "(" = formula_word(run_paren, 1, gives = "same", special = TRUE, help = "brackets"),
  "c" = formula_word(c, 1, Inf, gives = "same", help = "several constants, after %in%"),
  "if" = formula_word(run_if, 2, 3, gives = "same", special = TRUE, help = "if (test) a else b, row by row"),
  "{" = formula_word(run_block, 1, Inf, gives = "same", special = TRUE, help = "steps with temporary names"),
  "<-" = formula_word(NULL, 2, gives = "same", help = "a temporary name, inside { }"),
  "choose" = formula_word(choose_value, 2, Inf, gives = "same", special = TRUE, inner = TRUE)
)

missing_words <- list(
  "is.na" = formula_word(run_unanswered, 1, gives = "truth", special = TRUE, help = "no valid answer"),
  "unanswered" = formula_word(run_unanswered, 1, 2,
    gives = "truth", special = TRUE, help = "no valid answer, for any reason or the one named"
  ),
  "first_valid" = formula_word(first_of, 1, Inf, gives = "same",
    help = "the first valid of several; of numbers and texts together a number, a text that is none is missing"
  )
)

number_words <- list(
  "abs" = formula_word(numeric_word(abs), help = "size without sign"),
  "sqrt" = formula_word(within_domain(sqrt, function(x) x >= 0), help = "square root"),
  "exp" = formula_word(exponential, help = "e to the power of"),
  "log" = formula_word(within_domain(log, function(x) x > 0), help = "natural logarithm"),
  "log10" = formula_word(within_domain(log10, function(x) x > 0), help = "logarithm to base 10"),
  "log2" = formula_word(within_domain(log2, function(x) x > 0), help = "logarithm to base 2"),
  "log1p" = formula_word(within_domain(log1p, function(x) x > -1), help = "log(1 + x)"),
  "round" = formula_word(numeric_word(round), 1, 2, help = "rounded, to so many digits"),
  "floor" = formula_word(numeric_word(floor), help = "next whole number below"),
  "ceiling" = formula_word(numeric_word(ceiling), help = "next whole number above"),
  "trunc" = formula_word(numeric_word(trunc), help = "whole part"),
  "sign" = formula_word(numeric_word(sign), help = "-1, 0 or 1")
)

text_words <- list(
  "toupper" = formula_word(text_word(upper_case), gives = "text", help = "in capitals"),
  "tolower" = formula_word(text_word(lower_case), gives = "text", help = "in small letters"),
  "trimws" = formula_word(text_word(trimws), gives = "text", help = "without outer spaces"),
  "nchar" = formula_word(text_word(nchar), help = "number of characters"),
  "substr" = formula_word(text_word(substr), 3, gives = "text", help = "characters from, to"),
  "startsWith" = formula_word(text_word(startsWith), 2, gives = "truth", help = "text starts with"),
  "endsWith" = formula_word(text_word(endsWith), 2, gives = "truth", help = "text ends with"),
  "paste0" = formula_word(join_text, 1, Inf, gives = "text",
    help = "texts joined; whole numbers in full (100000), others with 15 figures"
  ),
  "grepl" = formula_word(pattern_word(grepl), 2, gives = "truth", options = "regex",
    help = "text holds a piece, as it stands; with regex = TRUE, a pattern"
  ),
  "sub" = formula_word(pattern_word(sub), 3, gives = "text", options = "regex",
    help = "first piece replaced; regex = TRUE"
  ),
  "gsub" = formula_word(pattern_word(gsub), 3, gives = "text", options = "regex",
    help = "every piece replaced; regex = TRUE"
  )
)

row_statistic <- function(how, help) {
  formula_word(row_word(how), 1, Inf, options = row_options, special = TRUE, help = help)
}

row_words <- list(
  "row_mean" = row_statistic("mean", "mean of several variables"),
  "row_sum" = row_statistic("sum", "sum of several variables"),
  "row_min" = row_statistic("min", "smallest of several"),
  "row_max" = row_statistic("max", "largest of several"),
  "row_sd" = row_statistic("sd", "SD over several, n - 1"),
  "row_median" = row_statistic("median", "median of several"),
  "row_valid" = formula_word(count_valid, 1, Inf, help = "how many of several are valid")
)

statistic_word <- function(run, help, ...) {
  formula_word(run, ..., vars = c("within", "weight"), learned = TRUE, help = help)
}

statistic_words <- list(
  "mean" = statistic_word(weighted_mean, "mean of the valid rows; within = a group, weight = a survey weight"),
  "median" = statistic_word(weighted_median, "median of the valid rows; within, weight"),
  "sd" = statistic_word(weighted_sd, "SD of the valid rows, n - 1; within, weight"),
  "min" = statistic_word(lowest, "smallest valid value; within, weight"),
  "max" = statistic_word(highest, "largest valid value; within, weight"),
  "sum" = statistic_word(weighted_sum, "sum of the valid rows; within, weight"),
  "quantile" = statistic_word(weighted_quantile, "quantile of the valid rows, type 7; within, weight", 2),
  "mad" = statistic_word(weighted_mad, "1.4826 times the median distance from the median; within, weight"),
  "cut_points" = formula_word(cut_points, 3, 4, vars = "weight", learned = TRUE, inner = TRUE),
  "distribution" = formula_word(NULL, 1, vars = c("within", "weight"), learned = TRUE, inner = TRUE),
  "categories" = formula_word(NULL, 1, learned = TRUE, inner = TRUE),
  "rare_values" = formula_word(NULL, 3, Inf, learned = TRUE, inner = TRUE),
  "spelled" = formula_word(NULL, 2, Inf, options = c("loose", "inside"), learned = TRUE, inner = TRUE)
)

row_order_words <- list(
  "previous" = formula_word(run_previous, 1, vars = c("unit", "order"), options = "steps",
    gives = "same", special = TRUE, help = "the value on the occasion before: previous(x, unit = person, order = wave)"
  ),
  "draw_uniform" = formula_word(NULL, 0, options = "seed",
    help = "a random share between 0 and 1, by seed and row identifier"
  ),
  "draw_normal" = formula_word(NULL, 0, options = "seed",
    help = "a random draw with mean 0 and SD 1, by seed and row identifier"
  ),
  "uniform_draw" = formula_word(uniform_draw, 2, inner = TRUE),
  "normal_draw" = formula_word(normal_draw, 2, inner = TRUE)
)

table_words <- list(
  "lookup" = formula_word(look_up, 3, Inf, options = "called", gives = "first", inner = TRUE),
  "rows_below" = formula_word(rows_below, 3, inner = TRUE),
  "rows_equal" = formula_word(rows_equal, 3, inner = TRUE),
  "cuts_below" = formula_word(cuts_below, 2, inner = TRUE),
  "qnorm" = formula_word(numeric_word(stats::qnorm), inner = TRUE),
  "held" = formula_word(held_between, 3, inner = TRUE),
  "group" = formula_word(group_value, 2, Inf, options = "how", inner = TRUE)
)

date_words <- list(
  "as.Date" = formula_word(as_date, gives = "date", help = "text such as \"2031-03-01\" as a date"),
  "years_between" = formula_word(years_between, 2, help = "completed years from a birth date to another date"),
  "months_between" = formula_word(months_between, 2, help = "completed months from a date to another date"),
  "hours_between" = formula_word(hours_between, 2,
    help = "hours between dates with a time, such as \"2031-03-01 08:15\""
  ),
  "hour" = formula_word(hour_of, help = "hour of a date with a time, 0 to 23"),
  "year" = formula_word(date_part("year", 1900), help = "year of a date"),
  "month" = formula_word(date_part("mon", 1), help = "month of a date, 1 to 12"),
  "day" = formula_word(date_part("mday", 0), help = "day of the month of a date")
)

formula_words <- c(
  operator_words, missing_words, number_words, text_words, row_words, statistic_words,
  date_words, row_order_words, table_words
)

words_learned <- names(formula_words)[vapply(formula_words, `[[`, NA, "learned")]

allowed_words <- function() {
  names(formula_words)[!vapply(formula_words, `[[`, NA, "inner")]
}
