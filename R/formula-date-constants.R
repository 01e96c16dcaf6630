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

# Dates stand only where a date makes sense.
check_dates <- function(node, type_of) {
  walk_formula(node, function(call) {
    head <- call_head(call)
    parts <- if (head %in% names(formula_words)) row_items(call) else list()
    types <- vapply(parts, result_type, "", type_of = type_of)
    if (head %in% c("years_between", "months_between", "year", "month", "day")) need_dates(head, parts, types)
    if (head %in% c("hour", "hours_between") && any(types != "text")) {
      fail("time-needed", name = head, part = formula_text(parts[[which(types != "text")[1]]]))
    }
    if (head == "as.Date" && types[1] == "number") fail("date-from-number", part = formula_text(parts[[1]]))
    if (head %in% c(names(number_words), names(row_words), "+", "-", "*", "/", "^", "%%", "%/%")) {
      refuse_dates(head, parts, types)
    }
    if (head %in% c("if", "choose", "first_valid")) refuse_mixed(call, head, type_of)
    call
  })
}

need_dates <- function(head, parts, types) {
  if (any(types != "date")) fail("date-needed", name = head, part = formula_text(parts[[which(types != "date")[1]]]))
}

# Only days can be added to a date or taken from it, and a date from a date.
refuse_dates <- function(head, parts, types) {
  dates <- types == "date"
  fine <- length(parts) == 2 && ((head == "+" && sum(dates) == 1) || (head == "-" && dates[1]))
  if (any(dates) && !fine && head != "row_valid") {
    fail("date-as-number", name = head, part = formula_text(parts[[which(dates)[1]]]))
  }
}

refuse_mixed <- function(call, head, type_of) {
  types <- vapply(value_parts(call, head), result_type, "", type_of = type_of)
  if ("date" %in% types && any(!types %in% c("date", "any"))) fail("date-mixed", part = formula_text(call))
}
