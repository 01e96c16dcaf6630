# The only ways in which a name, a text or words of others enter a script. No other file of a script
# writes quotes or remarks; a test holds them to it.

code_text <- function(x) quote_text(x)

# A variable inside an expression. A name that would not look like what it is, or that R takes for
# something else, is asked for by a text.
code_name <- function(name) {
  ifelse(is_clear_name(name), quote_name(name), paste0("get(", quote_text(name), ")"))
}

code_column <- function(frame, name) {
  paste0(frame, ifelse(is_clear_name(name), paste0("$", quote_name(name)),
    paste0("[[", quote_text(name), "]]")))
}

# A name to the left of `=` in a call.
code_argument <- function(name) ifelse(is_clear_name(name), quote_name(name), quote_text(name))

# Variables as the verbs of this package take them: in a selection, and inside a formula.
code_chosen <- function(name) {
  ifelse(is_clear_name(name), quote_name(name), paste0("all_of(", quote_text(name), ")"))
}

code_formula <- function(text) {
  formula_text(parse_formula(text), list(name = function(name) {
    if (is_clear_name(name)) quote_name(name) else paste0("!!as.name(", quote_text(name), ")")
  }))
}

# A name for something that a script makes on the way, from words that may hold names of others.
code_helper <- function(words) {
  name <- gsub("^[_.0-9]+", "", gsub("[^A-Za-z0-9_.]+", "_", readable(words)))
  if (is_plain_name(name)) name else "made"
}

# Lines of words. A code stays on the line of its sign.
remark <- function(...) {
  if (!length(paste0(...))) return(NULL)
  text <- gsub("[ \t]+", " ", show_controls(paste0(...)))
  gsub("\u00a0", " ", wrap_words(gsub(" = ", "\u00a0=\u00a0", text, fixed = TRUE), 88, "# "),
    fixed = TRUE)
}

# Words behind a line of code.
side_remark <- function(...) paste0("  # ", show_controls(paste0(...)))

# The heading of a block: a name and what it is called, on one line of even length where they fit.
title_remark <- function(name, label) {
  words <- show_controls(c(name, label))
  long <- sum(text_width(words)) > 92
  heading <- paste0("# ", words[1], if (!long) paste0(": ", words[2]), " ")
  c(paste0(heading, strrep("-", max(3, 78 - text_width(heading)))), if (long) remark(label))
}

# Matchers as a condition on a column that may hold NA.
match_code <- function(x, matchers, raw) {
  parts <- vapply(matchers, function(m) {
    if (m$type == "values") return(paste(x, "%in%", write_constant(fit_type(m$values, raw))))
    x <- if (is.character(raw)) text_as_number(x) else x
    if (is_any_number(m)) return(paste0("which(!is.na(", x, "))"))
    low <- if (is.finite(m$low)) paste(x, if (m$low_in) ">=" else ">", show_number(m$low))
    high <- if (is.finite(m$high)) paste(x, if (m$high_in) "<=" else "<", show_number(m$high))
    paste0("which(", paste(c(low, high), collapse = " & "), ")")
  }, "")
  if (length(parts) == 1) return(parts)
  ranges <- startsWith(parts, "which(")
  parts[ranges] <- sub("^which\\((.*)\\)$", "(\\1)", parts[ranges])
  paste0("which(", paste(parts, collapse = " | "), ")")
}

# A condition on all rows from what match_code() gives.
rows_code <- function(code, column) {
  if (startsWith(code, "which(")) {
    paste0("(seq_along(", column, ") %in% ", code, ")")
  } else {
    paste0("(", code, ")")
  }
}

text_as_number <- function(text) {
  paste0("as.numeric(ifelse(grepl(", code_text(plain_number), ", ", text, "), ", text, ", NA))")
}

# Arguments on as few lines as they fit.
fold_arguments <- function(options, width = 90) {
  lines <- character()
  for (option in options) {
    last <- length(lines)
    joined <- if (last) paste0(lines[last], ", ", option)
    if (last && nchar(joined) <= width) lines[last] <- joined else lines <- c(lines, option)
  }
  paste0("  ", lines, c(rep(",", length(lines) - 1), ""))
}

# A call on one line, or with its arguments folded over several.
fold_call <- function(start, arguments) {
  line <- paste0(start, paste(arguments, collapse = ", "), ")")
  if (nchar(line) <= 96) {
    line
  } else {
    paste(c(start, fold_arguments(arguments, 84), ")"), collapse = "\n")
  }
}

# Names for helpers that no variable has.
free_names <- function(wanted, state) {
  free <- vapply(wanted, function(name) {
    name <- code_helper(name)
    tries <- c(name, paste0(name, "_", 2:1000))
    tries[!tries %in% state$taken][1]
  }, "", USE.NAMES = FALSE)
  state$taken <- c(state$taken, free)
  free
}

# Puts lines before those of the result. They are written first: what they are made of may put lines
# of its own before them.
put_before <- function(state, lines) {
  force(lines)
  state$before <- c(state$before, lines)
}
