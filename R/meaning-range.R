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
  paste0(if (m$regex) "text like " else "text with ", paste(quote_text(m$pieces),
    collapse = " or "), if (!m$regex && !m$whole) " inside words too")
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
  if (is.null(ends)) numeric() else sort(unique(ends[is.finite(ends)]))
}

#' @export
print.ableturn_matcher <- plainly(function(x, ...) {
  cat(show_controls(paste0("<matches ", describe_matcher(x), ">")), "\n", sep = "")
  invisible(x)
})
