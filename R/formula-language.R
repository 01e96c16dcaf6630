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
