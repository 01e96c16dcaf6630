# Functions of texts in base R. A text that is itself worked out gets a line of its own.
text_code <- function(word, book, state) {
  function(node, write) {
    args <- as.list(node)[-1]
    regex <- isTRUE(args$regex)
    args$regex <- NULL
    texts <- vapply(args, function(part) text_step(part, write(part), state), "")
    pattern <- word %in% c("grepl", "sub", "gsub")
    places <- if (word == "paste0") which(vapply(args, is_variable_part, NA)) else if (pattern) length(texts) else 1
    main <- texts[places]
    option <- if (pattern) if (regex) ", perl = TRUE" else ", fixed = TRUE"
    call <- if (regex && gives_up(node, book)) each_text_code(word, texts, option) else
      paste0(word, "(", paste(texts, collapse = ", "), option, ")")
    gone <- paste0("is.na(", main, ")", collapse = " | ")
    if (length(main)) paste0("ifelse(", gone, ", NA, ", call, ")") else call
  }
}

text_step <- function(part, code, state) {
  if (!is.call(part) || nchar(code) <= 12) return(code)
  name <- free_names("text", state)
  state$before <- c(state$before, paste0(name, " <- ", code))
  name
}

# Whether the pattern gives up on some text of these data.
gives_up <- function(node, book) {
  parts <- row_items(node)
  gave <- tryCatch({
    text <- evaluate(parts[[length(parts)]], place_of(book))
    is.na(evaluate(node, place_of(book))) & !is.na(text)
  }, error = function(e) FALSE)
  any(gave)
}

# Text by text, so that one on which the pattern gives up is missing.
each_text_code <- function(word, texts, option) {
  type <- if (word == "grepl") "NA" else code_text("")
  last <- length(texts)
  call <- paste0(word, "(", paste(c(texts[-last], "t"), collapse = ", "), option, ")")
  paste0("vapply(", texts[last], ", function(t) tryCatch(", call, ", warning = function(w) NA",
    if (word != "grepl") "_character_",
    "), ", type, ")")
}

is_variable_part <- function(node) is.symbol(node) || is.call(node)
