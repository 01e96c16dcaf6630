# The closed list of what a formula may say; see formula_word() for what stands where.
#' @include formula-word.R formula-number.R formula-text.R formula-dates.R formula-draw.R
#'   formula-choose.R
#' @include formula-rows.R formula-statistics.R formula-tables.R formula-check.R
NULL

formula_word("+", date_arithmetic(`+`, TRUE), 1, 2, takes = "number",
  help = "plus; days are added to a date",
  infix = 7, prefix = 13, hands_on = 1:2, traits = c("reckons", "keeps whole", "may give a date"))
formula_word("-", date_arithmetic(`-`, FALSE), 1, 2, takes = "number",
  help = "minus; between dates, in days",
  infix = 7, prefix = 13, hands_on = 1:2, traits = c("reckons", "keeps whole", "may give a date"))
formula_word("*", arithmetic(`*`), 2, takes = "number", help = "times", infix = 8, hands_on = 1:2,
  traits = c("reckons", "keeps whole"))
formula_word("/", without_zero(`/`), 2, takes = "number",
  help = "divided by; by zero is undefined", infix = 8,
  hands_on = 1, traits = c("reckons", "inexact", "partial"))
formula_word("%%", without_zero(`%%`), 2, takes = "number",
  help = "remainder of a division", infix = 9, traits = c("reckons", "partial"))
formula_word("%/%", without_zero(`%/%`), 2, takes = "number",
  help = "whole part of a division", infix = 9, traits = c("reckons", "partial"))
formula_word("^", power, 2, takes = "number", help = "to the power of", infix = 14,
  traits = c("reckons", "partial"))

formula_word("==", comparison(`==`), 2, gives = "truth", help = "equal", infix = 6,
  check = check_comparison, traits = "compares")
formula_word("!=", comparison(`!=`), 2, gives = "truth", help = "not equal", infix = 6,
  check = check_comparison, traits = "compares")
formula_word("<", ordering(`<`), 2, gives = "truth", takes = "number",
  help = "less than", infix = 6, check = check_comparison, traits = "compares")
formula_word(">", ordering(`>`), 2, gives = "truth", takes = "number",
  help = "more than", infix = 6, check = check_comparison, traits = "compares")
formula_word("<=", ordering(`<=`), 2, gives = "truth", takes = "number",
  help = "at most", infix = 6, check = check_comparison, traits = "compares")
formula_word(">=", ordering(`>=`), 2, gives = "truth", takes = "number",
  help = "at least", infix = 6, check = check_comparison, traits = "compares")
formula_word("%in%", is_in, 2, gives = "truth", help = "one of several values", infix = 9)
formula_word("&", logic(`&`), 2, gives = "truth", help = "and", infix = 4)
formula_word("|", logic(`|`), 2, gives = "truth", help = "or", infix = 3)
formula_word("!", logic(`!`), 1, gives = "truth", help = "not", prefix = 5)

formula_word("(", run_paren, 1, gives = "same", help = "brackets", hands_on = 1, traits = "special")
formula_word("c", c, 1, Inf, gives = "same", help = "several constants, after %in%",
  check = check_several)
formula_word("if", run_if, 2, 3, gives = "same", help = "if (test) a else b, row by row",
  traits = "special")
formula_word("{", run_block, 1, Inf, gives = "same", help = "steps with temporary names",
  traits = "special")
formula_word("<-", NULL, 2, gives = "same", help = "a temporary name, inside { }", infix = 1)
formula_word("choose", choose_value, 2, Inf, gives = "same", traits = c("special", "inner"))

formula_word("is.na", run_unanswered, 1, gives = "truth", help = "no valid answer",
  traits = "special")
formula_word("unanswered", run_unanswered, 1, 2, gives = "truth", check = check_unanswered,
  help = "no valid answer, for any reason or the one named", traits = "special")
formula_word("first_valid", first_of, 1, Inf, gives = "same",
  help = paste("the first valid of several; of numbers and texts together a number, a text that",
    "is none is missing"))

formula_word("abs", numeric_word(abs), takes = "number", help = "size without sign", hands_on = 1,
  traits = c("reckons", "keeps whole"))
formula_word("sqrt", sqrt, takes = "number", help = "square root", domain = list(">=", 0),
  hands_on = 1, traits = c("reckons", "inexact"))
formula_word("exp", exponential, takes = "number", help = "e to the power of",
  traits = c("reckons", "inexact", "partial"))
formula_word("log", log, takes = "number", help = "natural logarithm", domain = list(">", 0),
  hands_on = 1, traits = c("reckons", "inexact"))
formula_word("log10", log10, takes = "number", help = "logarithm to base 10", domain = list(">", 0),
  hands_on = 1, traits = c("reckons", "inexact"))
formula_word("log2", log2, takes = "number", help = "logarithm to base 2", domain = list(">", 0),
  hands_on = 1, traits = c("reckons", "inexact"))
formula_word("log1p", log1p, takes = "number", help = "log(1 + x)", domain = list(">", -1),
  traits = c("reckons", "inexact"))
formula_word("round", rounded, 1, 2, takes = "number", options = "half", check = check_half,
  help = paste("rounded, to so many digits; halves to the even neighbour (2.5 is 2), with half =",
    "\"up\" away from zero (2.5 is 3)"), hands_on = 1, traits = "reckons")
formula_word("floor", numeric_word(floor), takes = "number", help = "next whole number below",
  hands_on = 1, traits = c("reckons", "keeps whole"))
formula_word("ceiling", numeric_word(ceiling), takes = "number", help = "next whole number above",
  hands_on = 1, traits = c("reckons", "keeps whole"))
formula_word("trunc", numeric_word(trunc), takes = "number", help = "whole part", hands_on = 1,
  traits = "reckons")
formula_word("sign", numeric_word(sign), takes = "number", help = "-1, 0 or 1", traits = "reckons")

formula_word("toupper", text_word(upper_case), gives = "text", takes = "text", help = "in capitals",
  traits = "changes case")
formula_word("tolower", text_word(lower_case), gives = "text", takes = "text",
  help = "in small letters", traits = "changes case")
formula_word("trimws", text_word(trimws), gives = "text", takes = "text",
  help = "without outer spaces")
formula_word("nchar", text_word(nchar), takes = "text", help = "number of characters")
formula_word("substr", text_word(substr), 3, gives = "text", takes = "text",
  help = "characters from, to")
formula_word("startsWith", text_word(startsWith), 2, gives = "truth", takes = "text",
  help = "text starts with")
formula_word("endsWith", text_word(endsWith), 2, gives = "truth", takes = "text",
  help = "text ends with")
formula_word("paste0", join_text, 1, Inf, gives = "text", takes = "text",
  help = "texts joined; whole numbers in full (100000), others with 15 figures")
formula_word("grepl", pattern_word(grepl), 2, gives = "truth", takes = "text", options = "regex",
  help = "text holds a piece, as it stands; with regex = TRUE, a pattern", check = check_pattern,
  traits = "tries a pattern")
formula_word("sub", pattern_word(sub), 3, gives = "text", takes = "text", options = "regex",
  help = "first piece replaced; regex = TRUE", check = check_pattern, traits = "tries a pattern")
formula_word("gsub", pattern_word(gsub), 3, gives = "text", takes = "text", options = "regex",
  help = "every piece replaced; regex = TRUE", check = check_pattern, traits = "tries a pattern")

# Scores of several items: row_mean(a, b, c).
score_word <- function(how, help, ...) {
  formula_word(paste0("row_", how), row_word(how), 1, Inf, takes = "number",
    options = row_options, help = help,
    how = how, traits = c("special", "over items", "reckons", ...))
}
score_word("mean", "mean of several variables", "inexact")
score_word("sum", "sum of several variables")
score_word("min", "smallest of several")
score_word("max", "largest of several")
score_word("sd", "SD over several, n - 1", "inexact")
score_word("median", "median of several")
formula_word("row_valid", count_valid, 1, Inf, takes = "number",
  help = "how many of several are valid", how = "valid", traits = c("over items", "reckons"))

# Statistics of one variable, and what turns learn of it.
statistic_word <- function(name, help, least = 1, ...) {
  formula_word(name, NULL, least, vars = c("within", "weight"), help = help, ...)
}
statistic_word("mean", "mean of the valid rows; within = a group, weight = a survey weight",
  traits = c("learned", "inexact", "may give a date"))
statistic_word("median", "median of the valid rows; within, weight",
  traits = c("learned", "may give a date"))
statistic_word("sd", "SD of the valid rows, n - 1; within, weight",
  traits = c("learned", "inexact"))
statistic_word("min", "smallest valid value; within, weight",
  traits = c("learned", "may give a date"))
statistic_word("max", "largest valid value; within, weight",
  traits = c("learned", "may give a date"))
statistic_word("sum", "sum of the valid rows; within, weight", traits = "learned")
statistic_word("quantile", "quantile of the valid rows, type 7; within, weight",
  2, check = check_share_of, traits = c("learned", "may give a date"))
statistic_word("mad", "1.4826 times the median distance from the median; within, weight",
  traits = "learned")
formula_word("cut_points", NULL, 3, 4, vars = "weight", traits = c("learned", "inner"))
formula_word("distribution", NULL, 1, vars = c("within", "weight"), traits = c("learned", "inner"))
formula_word("categories", NULL, 1, traits = c("learned", "inner"))
formula_word("rare_values", NULL, 3, Inf, traits = c("learned", "inner"))
formula_word("spelled", NULL, 1, Inf, options = c("loose", "inside", "by"),
  traits = c("learned", "inner"))
formula_word("split_entries", NULL, 1, options = c("by", "loose"), traits = c("learned", "inner"))
for (name in c("means", "sds", "vector", "eigenvalues", "size")) {
  formula_word(paste0("component_", name), NULL, 2, Inf, options = c("of", "positive", "by"),
    traits = c("learned", "inner"))
}

formula_word("as.Date", as_date, gives = "date", takes = "date text",
  help = "text such as \"2031-03-01\" as a date")
formula_word("years_between", years_between, 2, takes = "date",
  help = "completed years from a birth date to another date")
formula_word("months_between", months_between, 2, takes = "date",
  help = "completed months from a date to another date")
formula_word("hours_between", hours_between, 2, takes = "time", traits = "gives a span",
  help = "hours between dates with a time, such as \"2031-03-01 08:15\"")
formula_word("hour", hour_of, takes = "time", help = "hour of a date with a time, 0 to 23")
formula_word("year", date_part("year", 1900), takes = "date", help = "year of a date")
formula_word("month", date_part("mon", 1), takes = "date", help = "month of a date, 1 to 12")
formula_word("day", date_part("mday", 0), takes = "date", help = "day of the month of a date")
formula_word("weekday", weekday_of, takes = "date",
  help = "day of the week of a date, 1 for Monday to 7 for Sunday")

formula_word("previous", run_previous, 1, gives = "same", vars = c("unit", "order"),
  options = c("steps", "skip_missing"),
  needs = c("unit", "order"), example = "previous(x, unit = person, order = wave)",
  help = paste("the value on the occasion before: previous(x, unit = person, order = wave); with",
    "skip_missing = TRUE, the nearest earlier valid one"),
  traits = c("special", "reads other rows", "may give a date"))
formula_word("baseline", run_paren, 1, gives = "same", hands_on = 1, traits = c("special", "inner"))
formula_word("draw_uniform", NULL, 0, options = "seed", needs = "seed",
  example = "draw_uniform(seed = 1)",
  help = "a random share between 0 and 1, by seed and row identifier")
formula_word("draw_normal", NULL, 0, options = "seed", needs = "seed",
  example = "draw_normal(seed = 1)",
  help = "a random draw with mean 0 and SD 1, by seed and row identifier")
formula_word("uniform_draw", uniform_draw, 2, traits = c("inner", "whole column",
  "reads other rows"))
formula_word("normal_draw", normal_draw, 2, traits = c("inner", "whole column", "reads other rows"))

formula_word("lookup", look_up, 3, Inf, gives = "first", options = "called",
  traits = c("inner", "whole column"))
formula_word("rows_below", rank_word("below"), 3, traits = c("special", "inner", "whole column",
  "reckons"))
formula_word("rows_equal", rank_word("equal"), 3, traits = c("special", "inner", "whole column"))
formula_word("cuts_below", cuts_below, 2, traits = "inner")
formula_word("qnorm", numeric_word(stats::qnorm), traits = "inner")
formula_word("pnorm", numeric_word(stats::pnorm), traits = "inner")
formula_word("kept_between", kept_between, 3, traits = c("inner", "reckons"))
formula_word("group", run_group, 2, Inf, options = "how",
  traits = c("special", "inner", "whole column", "reads other rows", "reckons", "may give a date"))
