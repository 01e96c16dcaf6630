#' What every variable means
#'
#' @param book A turnbook, or a data frame.
#' @param ... Not used.
#' @return A data frame with a row for each variable: `name`, `label`, `level`,
#'   `type`, `codes`, `missing`, `limits`, `asked` (for whom the question was
#'   asked), `high`, `unit`, `note` and `source`
#'   ("original", or the variables it was made from).
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' codebook(book)
#' @export
codebook <- plainly(function(book, ...) {
  refuse_dots(...)
  book <- as_book(book)
  codebook_of(book, names(book))
})

codebook_of <- function(book, vars) {
  text <- function(f) {
    vapply(vars, function(v) f(meaning_in(book, v)) %||% "", "", USE.NAMES = FALSE)
  }
  out <- data.frame(
    name = vars, label = text(function(m) m$label), level = text(function(m) m$level),
    type = vapply(vars, type_in_words, "", book = book, USE.NAMES = FALSE),
    codes = text(function(m) codes_in_words(m$codes)),
    missing = text(function(m) kinds_in_words(m$missing)),
    limits = text(function(m) {
      if (length(m$limits)) paste(show_number(m$limits),
        collapse = " to ")
    }),
    asked = text(function(m) m$asked_if), high = text(direction_in_words),
    unit = text(function(m) m$unit), note = text(function(m) m$note),
    source = vapply(vars, source_in_words, "", book = book, USE.NAMES = FALSE)
  )
  as_table(out, "ableturn_codebook")
}

type_in_words <- function(book, name) {
  read <- if (!is_derived(book, name)) meaning_in(book, name)$read
  paste0(type_of_values(book, name), if (!is.null(read)) paste0(", read from text (", read, ")"))
}

type_of_values <- function(book, name) {
  x <- values_of(variable_in(book, name))
  if (is.character(x)) return("text")
  if (inherits(x, "Date")) return("date")
  if (is.logical(x)) return("true or false")
  if (has_whole_values(variable_in(book, name))) "whole number" else "number"
}

codes_in_words <- function(codes) {
  if (!length(codes) || identical(unname(codes), names(codes))) {
    return(paste(names(codes), collapse = "; "))
  }
  paste(show_value(unname(codes)), "=", names(codes), collapse = "; ")
}

kinds_in_words <- function(missing) {
  if (!length(missing)) return("")
  paste(vapply(missing, describe_matchers, ""), "=", names(missing), collapse = "; ")
}

direction_in_words <- function(meaning) {
  if (!is.null(meaning$high)) return(meaning$high)
  if (!is.null(meaning$low)) paste("(low:", paste0(meaning$low, ")"))
}

source_in_words <- function(book, name) {
  if (!is_derived(book, name)) return("original")
  derived <- derived_in(book, name)
  paste0(derived$verb, ": ", paste(derived$from, collapse = ", "))
}

# How a variable is made, as what follows "was" in a sentence.
made_as <- function(name, book) {
  derived <- derived_in(book, name)
  turn <- steps_of(book)[[entry_of(book, name)]]$turn
  type <- type_of_turn(derived$verb)
  if (is.null(type$says)) return(paste0("made by ", type$doing, " from ", in_a_row(derived$from)))
  type$says(derived, turn)
}
