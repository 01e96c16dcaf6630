#' The formula language
#'
#' What a formula in [turn_compute()], [turn_flag()], [look()] or a turn sheet
#' may say. It is a closed subset of R's notation, read by R's parser but never
#' run as R code: a formula cannot reach files, the network or other objects.
#' Arithmetic or comparison with a missing answer is missing; `&` and `|` follow
#' three-valued logic; a value outside the domain of a function is undefined,
#' which is a kind of missing. Text compares with text and numbers with numbers;
#' numbers kept as text are read where they are plain numbers with a point.
#'
#' `r formula_help()`
#'
#' Statistics are learned once and recorded with their value. `within` names a
#' group, or several as `c(a, b)`: `income - mean(income, within = island)`;
#' `weight` a survey weight (w > 0 counts, a missing weight leaves the row out).
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
  words <- formula_words[allowed_words()]
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
