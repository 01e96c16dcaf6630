# Reads ranges and lists as they are written in sheets and tables of rules.

number_form <- "[-+]?(?:[0-9]+[.]?[0-9]*|[.][0-9]+)(?:[eE][-+]?[0-9]+)?"
range_form <- paste0("^\\s*(> ?)?(", number_form, ")?\\s*(\\.\\.)?\\s*(< ?)?(",
  number_form, ")?\\s*$")

# A range from its written form; NULL when the text is no range.
read_range <- function(text) {
  part <- regmatches(text, regexec(range_form, text, perl = TRUE))[[1]]
  if (!length(part)) return(NULL)
  has <- nzchar(part)
  if (!is_range_shape(has)) return(NULL)
  number <- function(i) if (has[i]) as.numeric(part[i])
  high <- number(6)
  if (has[2]) over(number(3), if (!has[5]) high, if (has[5]) high)
  else if (has[3]) from(number(3), if (!has[5]) high, if (has[5]) high)
  else if (has[5]) under(high) else upto(high)
}

# 2: ">", 3: low, 4: "..", 5: "<", 6: high
is_range_shape <- function(has) {
  dots <- has[4]
  if (has[2] && !has[3]) return(FALSE)
  if (has[5] && !has[6]) return(FALSE)
  if (has[3] && has[6]) return(dots)
  if (has[3]) return(has[2] != dots)
  has[6] && (has[5] != dots)
}

# A cell of a rule table: a range, a list in brackets, a missing kind, a number or a text.
read_cell <- function(cell) {
  if (!is.character(cell)) return(as_matchers(cell))
  cell <- trimws(cell)
  kind <- regmatches(cell, regexec("^\\{missing:\\s*(.*?)\\s*\\}$", cell, perl = TRUE))[[1]]
  if (length(kind)) return(list(unanswered(if (kind[2] != "any") unquote(kind[2]))))
  held_text <- regmatches(cell, regexec("^\\{holding:\\s*(.*?)\\s*\\}$", cell, perl = TRUE))[[1]]
  if (length(held_text)) return(list(read_holding_cell(held_text[2])))
  if (grepl("^\\[.*\\]$", cell)) return(merge_values(lapply(split_list(cell), read_item)))
  list(read_item(cell))
}

# {holding: bus}, {holding: [bus, coach]}, {holding: {inside: bus}} or {holding: {regex: "^A"}}.
read_holding_cell <- function(inner) {
  pattern <- regmatches(inner, regexec("^\\{regex:\\s*(.*?)\\s*\\}$", inner, perl = TRUE))[[1]]
  if (length(pattern)) return(holding(regex = unquote(pattern[2])))
  inside <- regmatches(inner, regexec("^\\{inside:\\s*(.*?)\\s*\\}$", inner, perl = TRUE))[[1]]
  if (length(inside)) inner <- inside[2]
  holding(if (grepl("^\\[.*\\]$", inner)) split_list(inner) else unquote(inner),
    whole = !length(inside))
}

split_list <- function(cell) {
  inner <- substr(cell, 2, nchar(cell) - 1)
  trimws(scan(text = inner, what = "", sep = ",", quote = "\"'", quiet = TRUE))
}

read_item <- function(text) {
  range <- read_range(text)
  if (!is.null(range)) return(range)
  number <- if (grepl(plain_number, text)) as_code(as.numeric(text))
  new_matcher("values", values = number %||% unquote(text))
}

unquote <- function(text) gsub("^([\"'])(.*)\\1$", "\\2", text)
