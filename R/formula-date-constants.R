# Text that faces a date in a comparison is that date.
resolve_dates <- function(node, type_of) {
  walk_formula(node, function(call) {
    if (!call_head(call) %in% c("==", "!=", "<", ">", "<=", ">=", "%in%")) return(call)
    for (side in 2:3) {
      text <- call[[side]]
      if (!is.character(text) || !all(grepl(iso_date, text))) next
      if (result_type(call[[5 - side]], type_of) == "date") call[[side]] <- known_date(text)
      else if (!call_head(call) %in% c("==", "!=", "%in%")) fail("date-with-other", text = quote_text(text[1]))
    }
    call
  })
}

known_date <- function(text) {
  dates <- as_date(text)
  if (anyNA(dates)) fail("no-such-date", text = quote_text(text[is.na(dates)]))
  dates
}

# Words that take dates and nothing else.
check_date_words <- function(node, type_of) {
  walk_formula(node, function(call) {
    if (call_head(call) %in% c("years_between", "year", "month", "day")) {
      types <- vapply(as.list(call)[-1], result_type, "", type_of = type_of)
      if (any(types != "date")) fail("date-needed", name = call_head(call),
        part = formula_text(call[[which(types != "date")[1] + 1]]))
    }
    call
  })
}
