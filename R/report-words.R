# How a variable is made, in a sentence.
made_in_words <- function(name, book) paste0(upper_first(made_as(name, book)), ".")

# How a variable is made, as what follows "was" in a sentence.
made_as <- function(name, book) {
  made <- derived_in(book, name)
  turn <- steps_of(book)[[entry_of(book, name)]]$turn
  type <- type_of_turn(made$verb)
  if (is.null(type$says)) return(paste0("made by ", type$doing, " from ", in_a_row(made$from)))
  shorten(type$says(made, turn), 400, "\u2026")
}

# A methods paragraph, a sentence for each turn, ready for a paper.
methods_words <- function(book) {
  turns <- Filter(function(entry) entry$type == "turn", steps_of(book))
  told <- vapply(turns, function(entry) methods_sentence(entry$turn, book), "")
  c(told, paste0("All ", grouped(length(derived_names(book))), " variables were derived with Able Turn ",
    utils::packageVersion("ableturn"), "; the originals (", grouped(row_count(book)), " rows) were not changed."))
}

methods_sentence <- function(turn, book) {
  name <- turn$makes[1]
  if (length(turn$makes) > 1) return(several_sentence(turn, book))
  made <- derived_in(book, name)
  called <- paste0(upper_first(made$meaning$label %||% name), " (", name, ")")
  rest <- paste0("n = ", grouped(made$facts$valid), spread_words(made))
  how <- made_as(name, book)
  alpha <- if (has_trait(made$verb, "scores items") && is_row_node(made$expr)) alpha_of_score(name, book)
  paste0(called, " was ", how, " (", paste(c(rest, alpha), collapse = ", "), ").", codes_sentence(made, book))
}

several_sentence <- function(turn, book) {
  made <- derived_in(book, turn$makes[1])
  paste0(grouped(length(turn$makes)), " variables (", name_list(turn$makes, 6), ") were made by ",
    type_of_turn(made$verb)$doing, " from ",
    from_in_words(unique(unlist(lapply(turn$makes, function(v) derived_in(book, v)$from)))), ".")
}

spread_words <- function(made) {
  x <- made$x[!is.na(made$x)]
  if (!is.numeric(x) || length(made$meaning$codes) || length(x) < 2) return("")
  paste0(", M = ", two_digits(mean(x)), ", SD = ", two_digits(stats::sd(x)))
}

alpha_of_score <- function(name, book) {
  facts <- tryCatch(attr(items_of_score(name, book), "scale"), ableturn_error = function(e) NULL)
  if (length(facts)) paste("Cronbach's alpha =", two_digits(facts$alpha))
}

codes_sentence <- function(made, book) {
  if (is.null(made$rules)) return("")
  table <- rule_table(made)
  label <- ifelse(nzchar(table$label), table$label, table$code)
  paste0(" Its values are ", paste0(label, " (", table[["made from"]], "; n = ", grouped(table$rows), ")",
    collapse = ", "), ".")
}

upper_first <- function(text) paste0(upper_case(substr(text, 1, 1)), substring(text, 2))
