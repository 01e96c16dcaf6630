# All that is to be known of a word of the formula language, stated once by `formula_word()`. From
# it come the checks, the types, evaluation, the blocks, the notation, the scripts and the findings:
# there is no other list of words.
formula_words <- new.env(parent = emptyenv())

words_by_trait <- new.env(parent = emptyenv())

#   run        the R function that works it out, a value or a list with `x` for all rows
#   least, most  how many unnamed arguments
#   gives      "number", "text", "truth", "date", "same" as its arguments, or "first": as its first
#              argument
#   takes      "any", or how its arguments are read: "number", "text", "date", "time" (a date with a
#              time), or
#              "date text" (text that holds a date)
#   help       what it means, for the help page
#   options    named arguments, which must be constants; vars: named ones that name variables;
#   needs      those of both without which it says nothing; example: how it is written then
#   domain     for which values it is defined, as a comparison with a number: c(">=", 0)
#   as_r       its R code where no function of R has its name, x and y standing for its arguments
#   infix, prefix  how strongly it binds as an operator of two sides, of one
#   hands_on   the places of the arguments whose undefined values show in its result
#   how        of a score over items: its name among those
#   check      a function of the call, its name and spot: what else can be wrong with it
#   traits     "special": gets the call itself; "learned": a statistic of a column, made once and
#              recorded; "inner":
#              only turns may use it; "compares"; "reckons" with its arguments as amounts; "inexact"
#              in the last
#              digits; "keeps whole" numbers whole; "partial": undefined for some values; "whole
#              column": its result
#              is worked out before blocks begin; "reads other rows"; "may give a date"; "over
#              items"; "tries a
#              pattern"; "changes case"; "gives a span" of time, in hours
formula_word <- function(name, run, least = 1, most = least, gives = "number", takes = "any",
                         help = "", options = character(), vars = character(), needs = character(),
                         example = NULL, domain = NULL, as_r = NULL, infix = NULL, prefix = NULL,
                         hands_on = NULL, how = NULL, check = NULL, traits = character()) {
  if (!is.null(domain)) {
    run <- within_domain(run, domain)
    traits <- c(traits, "partial")
  }
  word <- list(place = length(formula_words), run = run, least = least, most = most, gives = gives,
    takes = takes, help = help, options = options, vars = vars, needs = needs, example = example,
    domain = domain, as_r = as_r,
    infix = infix, prefix = prefix, hands_on = hands_on, how = how, check = check, traits = traits,
    special = "special" %in% traits, learned = "learned" %in% traits, inner = "inner" %in% traits)
  assign(name, word, formula_words)
  rm(list = ls(words_by_trait), envir = words_by_trait) # found anew with the new word
}

# The names of all words, in the order in which they are stated.
all_words <- function() {
  names <- names(formula_words)
  names[order(vapply(names, function(name) formula_words[[name]]$place, 1L))]
}

# The words of which something holds, found once.
words_with <- function(trait) words_where(trait, function(word) trait %in% word$traits)

words_taking <- function(kind) words_where(paste("takes", kind), function(word) word$takes == kind)

words_where <- function(key, holds) {
  if (is.null(words_by_trait[[key]])) {
    names <- all_words()
    words_by_trait[[key]] <- names[vapply(names, function(name) holds(formula_words[[name]]), NA)]
  }
  words_by_trait[[key]]
}

has_word_trait <- function(name, trait) trait %in% formula_words[[name]]$traits

# The words that an analyst may use.
allowed_words <- function() words_where("allowed", function(word) !word$inner)

#' The formula language
#'
#' What a formula in [turn_compute()], [turn_flag()], [look()] or a turn sheet
#' may say. It is a closed subset of R's notation, read by R's parser but never
#' run as R code: a formula cannot reach files, the network or other objects.
#' Arithmetic or comparison with a missing answer is missing; `&` and `|` follow
#' three-valued logic; a value outside the domain of a function is undefined,
#' which is a kind of missing. Text compares with text and numbers with numbers;
#' numbers kept as text are read where they are plain numbers with a point. A date
#' compares with a date alone, which may be written as `"2031-12-31"`.
#'
#' `r formula_help()`
#'
#' Statistics are learned once and recorded with their value. `within` names a
#' group, or several as `c(a, b)`: `income - mean(income, within = island)`;
#' `weight` a survey weight (w > 0 counts, a missing weight leaves the row out).
#' With weights the mean is sum(w x)/sum(w), the sum sum(w x), and sd as in
#' [turn_standardize()]; median and quantile are the inverse of the weighted
#' distribution, averaged at exact hits, which for equal weights is type 2 rather than
#' type 7 (Hyndman and Fan 1996); mad is by that median; min and max leave out rows of
#' weight 0. A statistic of dates is a date (of mean, median and quantile the day on
#' which it falls), their sd and mad are in days, and they have no sum. Infinite values
#' take no part in statistics; compared with others they are what they are.
#'
#' A row function (`row_mean` and its kin) is missing where one of its parts is, unless
#' `at_least =` says how many must be valid; `weights = c(1, 2)`, `prorate = TRUE`,
#' `digits =` and `half =` are as in [turn_composite()] and `round()`.
#'
#' `years_between()` and `months_between()` count completed ones: who was born on 29
#' February is a year older on 1 March in common years, from 31 January to 29 February
#' no month is completed, and where the second date lies before the first they go down
#' to the whole number below. Spans of time and variables with a unit of time are added,
#' compared and scored together in one unit only: b / 60 puts minutes into hours.
#'
#' `previous(x, unit = person, order = wave)` is the value on the occasion before
#' of the same unit; unit and order must tell the rows apart.
#'
#' `draw_uniform(seed = 1)` and `draw_normal(seed = 1)` depend on the seed and the
#' row identifier alone. The identifier is taken apart into two numbers below the
#' prime 67108859 and mixed by eight rounds of adding the seed and cubing modulo
#' that prime (Albrecht et al. 2016), all in whole numbers below 2^53; a normal draw is made
#' of two uniform ones (Box and Muller 1958).
#'
#' @return A data frame with a row for each word: `word`, `gives` ("number",
#'   "text", "truth", or "same" for the type of its arguments), `about`.
#' @examples
#' formula_language()
#' @export
formula_language <- function() {
  words <- lapply(self_named(allowed_words()), function(name) formula_words[[name]])
  data.frame(
    word = names(words), gives = vapply(words, `[[`, "", "gives"),
    about = vapply(words, `[[`, "", "help"), row.names = NULL
  )
}

formula_help <- function() {
  words <- formula_language()
  name <- gsub("%", "\\\\%", words$word)
  paste0("\\itemize{\n",
    paste0("\\item \\code{", gsub("([{}])", "\\\\\\1", name), "} ",
      gsub("[{] [}]", "curly brackets", words$about), collapse = "\n"), "\n}")
}
