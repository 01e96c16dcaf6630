# Puts a formula into base R: `before` holds lines that come first, `value` those of the result;
# `open` tells that the result may be undefined and must be looked after.
base_code <- function(node, book, data) {
  state <- new.env()
  state$before <- character()
  state$taken <- names(book)
  state$open <- FALSE
  style <- list(calls = base_calls(state, book, data))
  node <- mark_guarded(node, 2, state)
  if (is.call(node) && call_head(node) == "{") {
    value <- base_block(node, style, state)
  } else {
    value <- strsplit(formula_text(node, style), "\n", fixed = TRUE)[[1]]
  }
  list(before = state$before, value = value, open = state$open)
}

base_block <- function(node, style, state) {
  steps <- as.list(node)[-1]
  state$taken <- c(state$taken, all.names(node))
  for (step in steps[-length(steps)]) state$before <- c(state$before, formula_text(step, style))
  strsplit(formula_text(steps[[length(steps)]], style), "\n", fixed = TRUE)[[1]]
}

# The words whose meaning differs from that of the R function of the same name.
base_calls <- function(state, book, data) {
  is_text <- function(node) is_text_node(node, book)
  number <- function(node, write) as_number_code(node, write, is_text)
  all_of_them <- function(words, code, ...) lapply(self_named(words), code, ...)
  c(
    list(
      choose = function(node, write) choose_code(node, write, state),
      "if" = function(node, write) choose_code(if_to_choose(node), write, state),
      unanswered = function(node, write) unanswered_code(node, write, book, data),
      "%in%" = function(node, write) member_code(node, write, is_text),
      first_valid = first_valid_code
    ),
    guarded_calls(number),
    all_of_them(c(partial_words, "+", "-", "*", "^", "<", ">", "<=", ">="), number_code, number = number),
    all_of_them(c("==", "!="), equal_code, is_text = is_text, number = number),
    all_of_them(c("abs", "exp", "round", "floor", "ceiling", "trunc", "sign"), number_code, number = number),
    all_of_them(names(row_words), row_code, number = number, state = state),
    all_of_them(names(text_words), text_code)
  )
}

is_text_node <- function(node, book) {
  if (is.symbol(node)) return(as.character(node) %in% names(book) && has_text(book, as.character(node)))
  if (!is.call(node)) return(is.character(node))
  identical(formula_words[[call_head(node)]]$gives, "text") || (call_head(node) == "(" && is_text_node(node[[2]], book))
}

# Text used as a number: plain numbers are read, other text is missing.
as_number_code <- function(node, write, is_text) {
  if (!is_text(node)) return(write(node))
  text <- write(node)
  paste0("as.numeric(ifelse(grepl(", quote_text(plain_number), ", ", text, "), ", text, ", NA))")
}

number_code <- function(word, number) {
  function(node, write) {
    as_numbers <- function(part) number(part, write)
    write_plain(node, word, as_numbers)
  }
}

# Two texts are compared as texts, anything else as numbers.
equal_code <- function(word, is_text, number) {
  function(node, write) {
    both <- is_text(node[[2]]) && is_text(node[[3]])
    write_binary(node, word, if (both) write else function(part) number(part, write))
  }
}

member_code <- function(node, write, is_text) {
  x <- write_under(node[[2]], binding[["%in%"]], write)
  values <- node[[3]]
  if (is.atomic(values)) values <- if (is_text(node[[2]])) show_value(values) else as_number(values)
  paste0("ifelse(is.na(", write(node[[2]]), "), NA, ", x, " %in% ", write(values), ")")
}

unanswered_code <- function(node, write, book, data) {
  if (length(node) == 2) return(paste0("is.na(", write(node[[2]]), ")"))
  name <- as.character(node[[2]])
  raw <- held(book, "data")[[name]]
  column <- paste0(data, "$", quote_name(name))
  if (node[[3]] == "blank") {
    blank <- if (is.character(raw) || is.factor(raw)) c(NA, "") else NA
    return(if (length(blank) == 1) paste0("is.na(", column, ")") else paste0(column, " %in% c(NA, \"\")"))
  }
  missing <- meaning_in(book, name)$missing[[node[[3]]]]
  code <- match_code(column, missing, plain_values(raw))
  if (startsWith(code, "which(")) paste0("seq_along(", column, ") %in% ", code) else paste0("(", code, ")")
}

first_valid_code <- function(node, write) {
  parts <- vapply(as.list(node)[-1], write, "")
  Reduce(function(a, b) paste0("ifelse(is.na(", a, "), ", b, ", ", a, ")"), parts[-1], parts[1])
}

text_code <- function(word) {
  function(node, write) {
    args <- as.list(node)[-1]
    regex <- isTRUE(args$regex)
    args$regex <- NULL
    texts <- vapply(args, write, "")
    pattern <- word %in% c("grepl", "sub", "gsub")
    main <- if (word == "paste0") texts[vapply(args, is_variable_part, NA)] else texts[if (pattern) length(texts) else 1]
    option <- if (pattern) if (regex) ", perl = TRUE" else ", fixed = TRUE"
    call <- paste0(word, "(", paste(texts, collapse = ", "), option, ")")
    gone <- paste0("is.na(", main, ")", collapse = " | ")
    if (length(main)) paste0("ifelse(", gone, ", NA, ", call, ")") else call
  }
}

is_variable_part <- function(node) is.symbol(node) || is.call(node)
