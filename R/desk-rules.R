# Rules as they are filled in on the table of values: beside each value what it becomes; below it
# ranges and what else is named, typed once; and what becomes of the rest.

# The values of a variable that rules are filled in for: `value` as it is typed, `kind` (number,
# truth, text or missing), `label`, `rows`; at most so many. Those of further variables that have
# the same rules come after the first one's.
rule_values <- function(book, names, most = 60) {
  each <- lapply(utils::head(names, 12), values_of_one, book = book)
  all <- rows_of_all(each)
  key <- paste(all$kind, all$value)
  rows <- tapply(all$rows, factor(key, unique(key)), sum)
  first <- all[!duplicated(key), ]
  first$rows <- as.integer(rows)
  first <- first[order(first$kind == "missing"), ]
  list(table = utils::head(first, most), more = max(0, nrow(first) - most))
}

values_of_one <- function(name, book) {
  # of a table of a database so many values are not fetched
  variable <- column_of(variable_in(book, name))
  met <- answers_listed(variable) %||% list(values = variable$x[0])
  meaning <- variable$meaning
  order <- match(category_order(met$values, meaning$codes), met$values)
  kinds <- missing_of(variable)
  values <- met$values[order]
  kind <- kind_of_values(values)
  quick_table(value = c(show_value(values), names(kinds)),
    kind = rep(c(kind, "missing"), c(length(values), length(kinds))),
    label = c(label_of(values, meaning$codes) %|% "", rep("", length(kinds))),
    rows = as.integer(c(met$rows[order], kinds)))
}

# Values of the chosen variables, and labels, that look like ranges: "18-29".
texts_like_ranges <- function(book, chosen) {
  if (!length(chosen)) return(character())
  met <- tryCatch(rule_values(book, chosen, 5000)$table, error = function(e) NULL)
  texts <- unique(c(met$value[met$kind == "text"], met$label))
  texts <- texts[nzchar(texts) & grepl("[0-9]", texts)]
  texts[!vapply(texts, function(text) {
    is.null(tryCatch(read_typed_range(text), error = function(e) NULL))
  }, NA)]
}

kind_of_values <- function(values) {
  if (is.logical(values)) return("truth")
  if (is.numeric(values) && !is.object(values)) "number" else "text"
}

# The table as it was filled in, as rules of a sheet. Those that were there `before` keep their
# order. The table has `values` (each value, kind and what it `becomes`), `ranges` (what is typed
# and becomes), `cases` (conditions on several variables), `rest` and the `labels` of the new codes.
filled_rules <- function(table, before = NULL, texts = character()) {
  labels <- pairs_as_list(table$labels)
  of_values <- in_order_of(rules_of_values(table$values), before)
  ranges <- lapply(filled_in(table$ranges), function(row) {
    list(code = typed_code(row$becomes), when = typed_when(row$when, texts))
  })
  cases <- lapply(filled_in(table$cases), function(row) {
    list(code = typed_code(row$becomes),
      where = lapply(compact_typed(pairs_as_list(row$where)), typed_when, texts = texts))
  })
  rules <- c(of_values, ranges, cases, rest_from_table(table$rest))
  lapply(rules, function(rule) {
    label <- labels[[code_as_typed(rule)]]
    c(rule, if (!is_untyped(label)) list(label = one_typed(label)))
  })
}

filled_in <- function(rows) Filter(function(row) !is_untyped(row$becomes), rows)

# One rule for all values that become the same.
rules_of_values <- function(rows) {
  rows <- filled_in(rows)
  becomes <- vapply(rows, function(row) one_typed(row$becomes), "")
  lapply(unname(split_in_order(rows, becomes)), function(alike) {
    list(code = typed_code(alike[[1]]$becomes), when = plainer(lapply(alike, value_in_rule)))
  })
}

value_in_rule <- function(row) {
  switch(row$kind, number = as_code(as.numeric(row$value)), truth = identical(row$value, "TRUE"),
    missing = list(missing = row$value), list(text = row$value))
}

in_order_of <- function(rules, before) {
  place <- match(vapply(rules, code_as_typed, ""), vapply(before, code_as_typed, ""))
  rules[order(place)]
}

rest_from_table <- function(rest) {
  switch(rest$how %||% "none", keep = list(list(keep = TRUE, rest = TRUE)),
    code = if (!is_untyped(rest$code)) list(list(code = typed_code(rest$code), rest = TRUE)))
}

# A code as it is typed: "." stands for missing.
typed_code <- function(typed) {
  text <- one_typed(typed)
  if (text %in% c(".", "missing")) return(NA)
  if (grepl(plain_number, text)) as_code(as.numeric(text)) else text
}

code_as_typed <- function(rule) {
  if (isTRUE(rule$keep)) return("=")
  if (is.null(rule$code) || is.na(rule$code)) "." else show_value(rule$code)
}

# What a rule takes, typed: values and ranges parted by semicolons; "missing: Refused";
# "holding: bus"; "inside: bus"; "fits: ^A"; "any number"; text in quotes is nothing but text.
typed_when <- function(typed, texts = character()) {
  pieces <- strsplit(one_typed(typed), "\\s*;\\s*")[[1]]
  pieces <- unlist(lapply(pieces[nzchar(pieces)], numbers_apart))
  plainer(lapply(pieces, typed_piece, texts = texts))
}

# "98, 99" and "1-3, 7" are several, and a text with a comma in it is one.
numbers_apart <- function(piece) {
  parts <- strsplit(piece, "\\s*,\\s+")[[1]]
  reads <- vapply(parts, function(part) {
    grepl(plain_number, part) || !is.null(read_typed_range(part))
  }, NA)
  if (all(reads)) parts else piece
}

plainer <- function(pieces) if (length(pieces) == 1) pieces[[1]] else pieces

typed_piece <- function(piece, texts = character()) {
  after <- function(word) trimws(sub(paste0("^", word, "\\s*:"), "", piece))
  if (grepl(plain_number, piece)) return(as_code(as.numeric(piece)))
  if (piece == "any number") return(list(number = "any"))
  if (piece == "missing") return(list(missing = "any"))
  if (grepl("^missing\\s*:", piece)) return(list(missing = after("missing")))
  listed <- function(text) as.list(strsplit(text, "\\s*,\\s*")[[1]])
  if (grepl("^holding\\s*:", piece)) return(list(holding = listed(after("holding"))))
  if (grepl("^inside\\s*:", piece)) return(list(holding = list(inside = listed(after("inside")))))
  if (grepl("^fits\\s*:", piece)) return(list(holding = list(regex = after("fits"))))
  if (grepl("^\".*\"$", piece)) return(list(text = substr(piece, 2, nchar(piece) - 1)))
  typed_range_or_text(piece, texts)
}

# A range in our notation, a number, or a text; one that only looks like a range is stated as text.
typed_range_or_text <- function(piece, texts) {
  range <- read_typed_range(piece, texts)
  if (!is.null(range)) return(write_range(range))
  number <- if (!piece %in% texts) read_number(piece)
  if (length(number) && !is.na(number)) return(as_code(number))
  if (is.null(read_range(piece))) piece else list(text = piece)
}

# The other way: what a rule of a sheet takes, as it would be typed.
when_as_typed <- function(when) {
  if (is.list(when) && is.null(names(when))) {
    return(paste(vapply(when, when_as_typed, ""), collapse = "; "))
  }
  if (!is.list(when)) return(paste(show_value(when), collapse = "; "))
  if (!is.null(when$number)) return("any number")
  if (!is.null(when$text)) return(paste0("\"", unlist(when$text), "\"", collapse = "; "))
  if (identical(when$missing, "any")) return("missing")
  if (!is.null(when$missing)) return(paste0("missing: ", unlist(when$missing), collapse = "; "))
  if (!is.null(when$holding$inside)) return(paste("inside:", paste(unlist(when$holding$inside),
    collapse = ", ")))
  if (!is.null(names(when$holding))) return(paste("fits:", when$holding$regex))
  paste("holding:", paste(unlist(when$holding), collapse = ", "))
}

# Rules of a sheet as the table is filled in with them; `values` as rule_values() gives them.
rules_as_table <- function(rules, values) {
  out <- list(values = rep("", nrow(values)), ranges = list(), cases = list(),
    rest = list(how = "none"), labels = list())
  for (rule in rules) {
    code <- code_as_typed(rule)
    if (!is.null(rule$label)) out$labels[[code]] <- rule$label
    at <- if (!is.null(rule$when) && !length(out$ranges)) places_of(rule$when, values)
    if (isTRUE(rule$rest)) {
      out$rest <- list(how = if (code == "=") "keep" else "code", code = code)
    } else if (!is.null(rule$where)) {
      out$cases <- c(out$cases, list(list(where = where_as_typed(rule$where), becomes = code)))
    } else if (length(at) && !anyNA(at)) {
      out$values[at] <- code
    } else {
      out$ranges <- c(out$ranges, list(list(when = when_as_typed(rule$when), becomes = code)))
    }
  }
  out
}

# Where the values that a rule names stand in the table; NA where it names something else.
places_of <- function(when, values) {
  pieces <- if (is.list(when) && is.null(names(when))) when else list(when)
  keys <- unlist(lapply(pieces, function(piece) {
    if (is.list(piece) && !is.null(piece$missing)) return(paste("missing", unlist(piece$missing)))
    if (is.list(piece) && is.null(piece$text)) return(NA)
    x <- if (is.list(piece)) unlist(piece$text) else piece
    paste(kind_of_values(x), show_value(x))
  }))
  match(keys, paste(values$kind, values$value))
}

# Two conditions on one variable stand one after the other in a sheet.
where_as_typed <- function(where) {
  if (is.null(names(where))) where <- do.call(c, where)
  each <- vapply(where, when_as_typed, "")
  vapply(split_in_order(each, names(where)), paste, "", collapse = "; ")
}

# Whether rules have conditions on several variables.
are_cases <- function(rules) any(vapply(rules, function(rule) !is.null(rule$where), NA))
