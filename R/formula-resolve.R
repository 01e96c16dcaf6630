# Puts codes where a formula names them by their labels: island == "Northholm" becomes island == 1.
# A text beside a date is left to resolve_dates(); the steps of a formula have no labels.
resolve_labels <- function(node, meaning_of, is_text, type_of, variables) {
  walk_formula(node, function(call) {
    head <- call_head(call)
    if (!head %in% c("==", "!=", "%in%")) return(call)
    for (side in 2:3) {
      other <- call[[5 - side]]
      if (!is.character(call[[side]]) || !is.symbol(other)) next
      name <- as.character(other)
      known <- name %in% variables
      if (type_of(name) == "date" && (!known || !length(meaning_of(name)$codes))) next
      if (known) call <- resolve_side(call, side, name, meaning_of, is_text)
      else if (type_of(name) != "text") codes_for(call[[side]], name, NULL)
    }
    call
  })
}

resolve_side <- function(call, side, name, meaning_of, is_text) {
  if (is_text(name)) return(resolve_spelling(call, side, name))
  codes <- codes_for(call[[side]], name, meaning_of(name)$codes)
  if (length(codes) > 1 && call_head(call) != "%in%") {
    among <- call("%in%", as.name(name), codes)
    return(if (call_head(call) == "!=") call("!", among) else among)
  }
  call[[side]] <- codes
  call
}

# All codes of some labels; text that is a plain number is that number.
codes_for <- function(labels, name, codes) {
  unlist(codes_of_each(labels, name, codes), use.names = FALSE)
}

# The codes of each label: a label may stand for several.
codes_of_each <- function(labels, name, codes) {
  known <- normal_text(names(codes) %||% character())
  found <- lapply(normal_text(labels), function(label) unname(codes[known == label]))
  plain <- lengths(found) == 0 & grepl(plain_number, labels)
  found[plain] <- as.list(as.numeric(labels[plain]))
  lost <- labels[lengths(found) == 0]
  if (length(lost)) {
    fail("no-such-label", name = name, label = lost, hint = near_hint(lost[1], names(codes)),
      labels = if (length(codes)) quote_text(names(codes)) else "none")
  }
  found
}

# Text beyond ASCII is compared in one normal form, by the spellings that are in the data.
resolve_spelling <- function(call, side, name) {
  texts <- call[[side]]
  if (all_ascii(texts)) return(call)
  match <- as.call(c(list(as.name("spelled"), as.name(name)), as.list(texts)))
  if (call_head(call) == "!=") call("!", match) else match
}

# Text that faces a date in a comparison is that date.
resolve_dates <- function(node, type_of) {
  walk_formula(node, function(call) {
    if (!call_head(call) %in% c(words_with("compares"), "%in%")) return(call)
    for (side in 2:3) {
      text <- call[[side]]
      if (!is.character(text) || !all(grepl(iso_date, text))) next
      if (result_type(call[[5 - side]], type_of) == "date") call[[side]] <- known_date(text)
      else if (!call_head(call) %in% c("==", "!=", "%in%")) fail("date-with-other",
        text = quote_text(text[1]))
    }
    call
  })
}

# Texts as dates; each must be one, or missing.
known_date <- function(text) {
  dates <- as_date(text)
  lost <- is.na(dates) & !is.na(text)
  if (any(lost)) fail("no-such-date", text = quote_text(text[lost]))
  dates
}

# Dates stand only where a date makes sense.
check_dates <- function(node, type_of) {
  walk_formula(node, function(call) {
    head <- call_head(call)
    parts <- if (!is.null(formula_words[[head]])) row_items(call) else list()
    types <- vapply(parts, result_type, "", type_of = type_of)
    switch(formula_words[[head]]$takes %||% "any",
      date = need_dates(head, parts, types), time = need_times(head, parts, types),
      "date text" = if (types[1] == "number") fail("date-from-number",
        part = formula_text(parts[[1]])),
      number = if (!has_word_trait(head, "compares")) refuse_dates(head, parts, types)
    )
    if (head %in% c(words_with("compares"), "%in%")) refuse_compared(parts, types)
    if (head %in% c("if", "choose", "first_valid")) refuse_mixed(call, head, type_of)
    call
  })
}

need_times <- function(head, parts, types) {
  if (any(types != "text")) {
    fail("time-needed", name = head, part = formula_text(parts[[which(types != "text")[1]]]))
  }
}

need_dates <- function(head, parts, types) {
  if (any(types != "date")) {
    fail("date-needed", name = head, part = formula_text(parts[[which(types != "date")[1]]]))
  }
}

# Only days can be added to a date or taken from it, and a date from a date.
refuse_dates <- function(head, parts, types) {
  dates <- types == "date"
  fine <- length(parts) == 2 && ((head == "+" && sum(dates) == 1) || (head == "-" && dates[1]))
  if (any(dates) && !fine && head != "row_valid") {
    fail("date-as-number", name = head, part = formula_text(parts[[which(dates)[1]]]))
  }
}

# A date is compared with dates: a number beside it would be taken for days since 1970.
refuse_compared <- function(parts, types) {
  other <- which(!types %in% c("date", "any"))
  if (length(other) && any(types == "date")) {
    fail("date-compared", part = formula_text(parts[[which(types == "date")[1]]]),
      other = formula_text(parts[[other[1]]]))
  }
}

refuse_mixed <- function(call, head, type_of) {
  types <- vapply(value_parts(call, head), result_type, "", type_of = type_of)
  if ("date" %in% types && any(!types %in% c("date", "any"))) {
    fail("date-mixed", part = formula_text(call))
  }
}
