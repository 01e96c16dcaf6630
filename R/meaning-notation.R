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

# {holding: bus}, {holding: [bus, coach]} or {holding: {regex: "^A"}}.
read_holding_cell <- function(inner) {
  pattern <- regmatches(inner, regexec("^\\{regex:\\s*(.*?)\\s*\\}$", inner, perl = TRUE))[[1]]
  if (length(pattern)) return(holding(regex = unquote(pattern[2])))
  holding(if (grepl("^\\[.*\\]$", inner)) split_list(inner) else unquote(inner))
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

# Ranges as they are written in a sheet: "30 ..", ".. 29", "> 29", "< 30", "30 .. < 60", "> 29 ..
# 59".
write_range <- function(range) {
  low <- if (is.finite(range$low)) show_number(range$low)
  high <- if (is.finite(range$high)) show_number(range$high)
  if (is_any_number(range)) return("any number")
  if (range$low == Inf || range$high == -Inf) return(paste(range$low, "..", range$high))
  if (is.null(high)) return(if (range$low_in) paste(low, "..") else paste(">", low))
  if (is.null(low)) return(if (range$high_in) paste("..", high) else paste("<", high))
  paste0(if (!range$low_in) "> ", low, " .. ", if (!range$high_in) "< ", high)
}

is_any_number <- function(range) range$low == -Inf && range$high == Inf

# In words, for tables: "1 to 4", "5 and more", "Daily", "missing: Refused".
describe_matchers <- function(matchers) {
  paste(vapply(matchers, describe_matcher, ""), collapse = ", ")
}

describe_matcher <- function(m) {
  switch(m$type,
    values = paste(if (is.character(m$values)) quote_text(m$values) else show_value(m$values),
      collapse = ", "),
    missing = if (m$kind == "any") "any missing" else paste0("missing: ", m$kind),
    range = describe_range(m), holding = describe_holding(m)
  )
}

describe_holding <- function(m) {
  paste(if (m$regex) "text like" else "text with", paste(quote_text(m$pieces), collapse = " or "))
}

describe_range <- function(m) {
  if (is_any_number(m)) return("any number")
  low <- brief_number(m$low)
  high <- brief_number(m$high)
  if (is.infinite(m$high)) return(if (m$low_in) paste(low, "and more") else paste("over", low))
  if (is.infinite(m$low)) return(if (m$high_in) paste("up to", high) else paste("under", high))
  paste0(if (!m$low_in) "over ", low, if (m$high_in) " to " else " to under ", high)
}

# The finite ends of ranges: the cut points whose rows a reader wants to see.
range_ends <- function(matchers) {
  ends <- unlist(lapply(matchers, function(m) if (m$type == "range") c(m$low, m$high)))
  sort(unique(ends[is.finite(ends)]))
}

#' @export
print.ableturn_matcher <- function(x, ...) {
  cat(show_controls(paste0("<matches ", describe_matcher(x), ">")), "\n", sep = "")
  invisible(x)
}
