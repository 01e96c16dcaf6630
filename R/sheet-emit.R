# The few forms of YAML that a sheet is written in. A value is one of
#   bare(x)     a name or a word, without quotes where that is safe
#   text, numbers, TRUE/FALSE, NULL
#   flow(list)   a list or mapping on one line
#   list         a mapping, or a sequence of mappings, over several lines
bare <- function(x) structure(list(x), class = "sheet_plain")

flow <- function(x) structure(list(x), class = "sheet_flow")

emit_lines <- function(mapping, indent = 0) {
  unlist(Map(function(key, value) emit_entry(key, value, indent), names(mapping), mapping),
    use.names = FALSE)
}

emit_entry <- function(key, value, indent) {
  lead <- emit_key(key)
  # YAML takes a key of more than 1,024 signs only where it is marked as one.
  lead <- if (is_long_key(lead)) c(paste0(strrep(" ", indent), "? ", lead),
    paste0(strrep(" ", indent), ":")) else
    paste0(strrep(" ", indent), lead, ":")
  emit_after(lead, value, indent)
}

is_long_key <- function(key) nchar(key, "bytes") > 1000

emit_after <- function(lead, value, indent) {
  last <- length(lead)
  if (is_block(value) && length(value)) {
    if (!is.null(names(value))) return(c(lead, emit_lines(value, indent + 2)))
    return(c(lead, unlist(lapply(value, emit_item, indent = indent + 2))))
  }
  lead[last] <- paste0(lead[last], " ", if (is_block(value)) "[]" else emit_inline(value))
  lead
}

# A mapping on one line whose keys are labels, always in quotes.
labelled_flow <- function(x) structure(list(x), class = c("sheet_labelled", "sheet_flow"))

is_block <- function(value) is.list(value) && !inherits(value, c("sheet_plain", "sheet_flow"))

emit_item <- function(value, indent) {
  lead <- paste0(strrep(" ", indent), "- ")
  if (!is_block(value)) return(paste0(lead, emit_inline(value)))
  lines <- emit_lines(value, indent + 2)
  substr(lines[1], 1, indent + 2) <- lead
  lines
}

emit_inline <- function(value) {
  if (inherits(value, "sheet_plain")) return(emit_plain(value[[1]]))
  if (inherits(value, "sheet_flow")) {
    return(emit_flow(value[[1]], if (inherits(value, "sheet_labelled")) emit_text else emit_key))
  }
  if (is.null(value)) return("null")
  text <- emit_scalar(value)
  if (length(text) == 1) text else paste0("[", paste(text, collapse = ", "), "]")
}

emit_flow <- function(x, key = emit_key) {
  inner <- vapply(x, emit_inline, "")
  if (is.null(names(x))) return(paste0("[", paste(inner, collapse = ", "), "]"))
  keys <- vapply(names(x), key, "")
  keys <- ifelse(is_long_key(keys), paste0("? ", keys, " "), keys)
  paste0("{", paste0(keys, ": ", inner, collapse = ", "), "}")
}

emit_plain <- function(x) {
  text <- vapply(x, emit_key, "")
  if (length(text) == 1) text else paste0("[", paste(text, collapse = ", "), "]")
}

words_of_yaml <- c("yes", "no", "on", "off", "true", "false", "null", "y", "n", "nan", "inf")

emit_key <- function(x) {
  safe <- grepl("^[A-Za-z_][A-Za-z0-9_]*$", x) && !lower_ascii(x) %in% words_of_yaml
  if (safe) x else emit_text(x)
}

emit_scalar <- function(x) {
  if (is.character(x)) return(ifelse(is.na(x), "null", vapply(x, emit_text, "", USE.NAMES = FALSE)))
  if (is.logical(x)) return(ifelse(is.na(x), "null", ifelse(x, "true", "false")))
  number <- show_number(unname(x))
  number[is.na(number)] <- "null"
  number <- sub("Inf", ".inf", number, fixed = TRUE)
  sub("^(-?[0-9]+)e", "\\1.0e", number)
}

emit_text <- function(x) quote_text(x)
