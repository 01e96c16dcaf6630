# Functions of texts in base R. A text that is itself worked out gets a line of its own.
text_code <- function(word, book, state, type) {
  function(node, write) {
    args <- as.list(node)[-1]
    regex <- isTRUE(args$regex)
    args$regex <- NULL
    pattern <- has_word_trait(word, "tries a pattern")
    read <- seq_along(args) %in%
      if (word == "paste0") seq_along(args) else if (pattern) length(args) else 1
    texts <- mapply(function(part, read) text_step(part, read, write, state, type), args, read)
    main <- texts[read & (word != "paste0" | vapply(args, is_variable_part, NA))]
    option <- if (pattern) if (regex) ", perl = TRUE" else ", fixed = TRUE"
    call <- if (regex && gives_up(node, book)) each_text_code(word, texts, option) else
      paste0(word, "(", paste(texts, collapse = ", "), option, ")")
    gone <- paste0("is.na(", main, ")", collapse = " | ")
    if (length(main)) paste0("ifelse(", gone, ", NA, ", call, ")") else call
  }
}

# Numbers as texts, see number_text_lines(): paste0() alone would write 100000 as 1e+05.
number_text_code <- function(part, write) {
  if (is.numeric(part)) code_text(as_text(part)) else paste0("number_text(", write(part), ")")
}

number_text_lines <- function(lines) {
  if (!any(grepl("number_text(", lines, fixed = TRUE))) return(NULL)
  c(remark("Numbers as text: whole ones in full, others with 15 figures."),
    "number_text <- function(x) {", "  if (is.logical(x)) return(as.character(x))",
    paste0("  ifelse(trunc(x) == x & abs(x) <= 2^53, sprintf(", code_text("%.0f"),
      ", x + 0), sprintf(", code_text("%.15g"), ", x))"), "}", "")
}

# The code of a part; `read` tells that it is taken as text.
text_step <- function(part, read, write, state, type) {
  code <- if (!read) write(part) else switch(type(part), number = number_text_code(part, write),
    date = paste0("as.character(", write(part), ")"), write(part))
  worked_out <- is.call(part) || startsWith(code, "number_text(")
  if (!worked_out || nchar(code) <= 12) return(code)
  name <- free_names("text", state)
  put_before(state, paste0(name, " <- ", code))
  name
}

# Whether the pattern gives up on some text of these data.
gives_up <- function(node, book) {
  parts <- row_items(node)
  gave <- tryCatch({
    text <- evaluate(parts[[length(parts)]], site_of(book))
    is.na(evaluate(node, site_of(book))) & !is.na(text)
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
