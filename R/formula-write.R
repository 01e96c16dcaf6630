# A formula as text, in R's notation. `style` may word it in another way, as a dialect of scripts
# needs:
#   name(name), constant(value)  functions that give the text of a name, of a constant
#   calls[[word]](node, write)   functions that give the text of a call; `write` gives that of its
#   parts signs  the signs of operators that are written otherwise, by their words
formula_text <- function(node, style = list()) {
  write <- function(part) write_part(part, style, write)
  attr(write, "signs") <- style$signs
  write(node)
}

sign_of <- function(word, write) {
  own <- attr(write, "signs")
  if (word %in% names(own)) own[[word]] else word
}

write_part <- function(node, style, write) {
  if (is.symbol(node)) return(write_name(as.character(node), style))
  if (!is.call(node)) {
    return(if (is.null(style$constant)) write_constant(node) else style$constant(node))
  }
  head <- call_head(node)
  own <- style$calls[[head]]
  if (!is.null(own)) return(own(node, write))
  write_plain(node, head, write)
}

write_name <- function(name, style) {
  if (is.null(style$name)) quote_name(name) else style$name(name)
}

write_plain <- function(node, head, write) {
  if (head == "(") return(paste0("(", write(node[[2]]), ")"))
  if (head == "{") {
    return(paste0("{ ", paste(vapply(as.list(node)[-1], write, ""), collapse = "; "), " }"))
  }
  if (head == "if") return(write_if(node, write))
  word <- formula_words[[head]]
  if (!is.null(word$infix) && length(node) == 3) return(write_binary(node, head, write))
  if (!is.null(word$prefix) && length(node) == 2) {
    return(paste0(sign_of(head, write), write_under(node[[2]], 13, write)))
  }
  if (is.null(word)) return(paste(deparse(node), collapse = " "))
  paste0(quote_name(head), "(", write_arguments(node, write), ")")
}

call_head <- function(node) {
  if (is.symbol(node[[1]])) as.character(node[[1]]) else paste(deparse(node[[1]]), collapse = "")
}

# How strongly a part binds, as in R: what binds less than what stands around it is put into
# brackets.
strength <- function(node) {
  if (!is.call(node)) return(if (is_negative(node)) formula_words[["-"]]$prefix else 20)
  if (call_head(node) == "if") return(2)
  word <- formula_words[[call_head(node)]]
  switch(length(node) - 1, word$prefix, word$infix) %||% 20
}

is_negative <- function(x) is.numeric(x) && length(x) == 1 && isTRUE(x < 0)

write_binary <- function(node, head, write) {
  level <- formula_words[[head]]$infix
  if (head %in% c("+", "-", "*", "&", "|")) {
    return(write_chain(chain_of(node, chained_with(head)), level, write))
  }
  right_first <- head == "^"
  left <- write_under(node[[2]], level + right_first, write)
  right <- write_under(node[[3]], if (level == 1) 0 else level + !right_first, write)
  paste0(left, if (head == "^") "^" else paste0(" ", sign_of(head, write), " "), right)
}

# a + b - c as what it begins with and the steps that follow, so that long sums are walked along
# rather than down.
chain_of <- function(node, words) {
  words_on_way <- character()
  rights <- list()
  while (is.call(node) && length(node) == 3 && is.symbol(node[[1]]) &&
    as.character(node[[1]]) %in% words) {
    words_on_way <- c(words_on_way, as.character(node[[1]]))
    rights <- c(rights, list(node[[3]]))
    node <- node[[2]]
  }
  list(first = node, words = rev(words_on_way), rights = rev(rights))
}

chained_with <- function(head) if (head %in% c("+", "-")) c("+", "-") else head

write_chain <- function(chain, level, write) {
  rights <- vapply(chain$rights, write_under, "", level = level + 1, write = write)
  signs <- vapply(chain$words, sign_of, "", write = write)
  paste0(write_under(chain$first, level, write), paste0(" ", signs, " ", rights, collapse = ""))
}

write_under <- function(node, level, write) {
  text <- write(node)
  if (strength(node) < level) paste0("(", text, ")") else text
}

write_if <- function(node, write) {
  out <- ""
  repeat {
    out <- paste0(out, "if (", write(node[[2]]), ") ", write(node[[3]]))
    if (length(node) < 4) return(out)
    out <- paste0(out, " else ")
    node <- node[[4]]
    if (!is.call(node) || !identical(node[[1]], as.name("if"))) return(paste0(out, write(node)))
  }
}

write_arguments <- function(node, write) {
  args <- as.list(node)[-1]
  given <- names(args) %||% rep("", length(args))
  text <- vapply(args, write, "")
  paste0(ifelse(nzchar(given), paste0(given, " = "), ""), text, collapse = ", ")
}

write_constant <- function(x) {
  if (is.null(x)) return("NULL")
  if (is.list(x) || is.function(x)) return(paste(deparse(x), collapse = " "))
  if (inherits(x, "Date")) return(paste0("as.Date(", write_constant(format(x)), ")"))
  text <- if (is.character(x)) quote_text(x) else show_value(x)
  text[is.na(x)] <- "NA"
  if (length(text) == 1) text else paste0("c(", paste(text, collapse = ", "), ")")
}
