#' @include desk-acts.R desk-reader.R
NULL

# Conditions by pointing: rows of a variable, a comparison and a value, joined by "and" or "or"; and
# the formula that they stand for, both ways where the formula says no more than that.

# Each comparison: its words, and how it is written around %x, the variable, and %v, the value.
comparisons <- list(
  is = list(words = "is", form = "%x == %v"), isnt = list(words = "is not", form = "%x != %v"),
  least = list(words = "is at least", form = "%x >= %v"),
  most = list(words = "is at most", form = "%x <= %v"),
  more = list(words = "is more than", form = "%x > %v"),
  less = list(words = "is less than", form = "%x < %v"),
  between = list(words = "is from ... to", form = "%x >= %v & %x <= %w"),
  oneof = list(words = "is one of", form = "%x %in% %v"),
  holds = list(words = "holds the text", form = "grepl(%v, %x)"),
  missing = list(words = "has no valid answer", form = "is.na(%x)"),
  valid = list(words = "has a valid answer", form = "!is.na(%x)")
)

without_value <- c("missing", "valid")

# Of those that are written with a sign between the two, the sign.
comparison_signs <- local({
  forms <- vapply(comparisons, `[[`, "", "form")
  plain <- grepl("^%x \\S+ %v$", forms)
  sub("^%x (\\S+) %v$", "\\1", forms[plain])
})

# The formula of rows, each with `name`, `how` and `value`, of which one that is not filled in is
# passed over. Values of texts become texts in quotes, those of labels their codes.
condition_text <- function(rows, join, book) {
  rows <- Filter(function(row) is_filled_row(row, book), rows)
  each <- vapply(rows, condition_of_row, "", book = book)
  if (join == "or") each <- ifelse(grepl(" & ", each, fixed = TRUE), paste0("(", each, ")"), each)
  if (join == "and" && length(each) > 1) each <- ifelse(grepl(" | ", each, fixed = TRUE),
    paste0("(", each, ")"), each)
  paste(each, collapse = if (join == "or") " | " else " & ")
}

is_filled_row <- function(row, book) {
  one_typed(row$name) %in% names(book) && one_typed(row$how) %in% names(comparisons) &&
    (one_typed(row$how) %in% without_value || !is_untyped(row$value))
}

condition_of_row <- function(row, book) {
  name <- one_typed(row$name)
  how <- one_typed(row$how)
  if (how %in% without_value) return(fill_condition(comparisons[[how]]$form, name))
  text <- one_typed(row$value)
  if (how == "between") {
    ends <- read_both_ends(text)
    if (length(ends) != 2 || anyNA(ends)) fail("typed-limits", label = name, typed = text)
    return(fill_condition(comparisons$between$form, name, show_number(ends[1]),
      show_number(ends[2])))
  }
  values <- if (how == "oneof") strsplit(text, "\\s*;\\s*|\\s*,\\s+")[[1]] else text
  written <- vapply(values, condition_value, "", name = name, book = book, as_text = how == "holds")
  fill_condition(comparisons[[how]]$form, name, if (how == "oneof") paste0("c(", paste(written,
    collapse = ", "), ")") else written)
}

fill_condition <- function(form, name, value = "", second = "") {
  # each mark is filled in once, so that no text is taken for a mark
  parts <- regmatches(form, gregexpr("%[xvw]|[^%]+|%", form))[[1]]
  filled <- list("%x" = name_in_formula(name), "%v" = value, "%w" = second)
  paste(vapply(parts, function(part) filled[[part]] %||% part, ""), collapse = "")
}

name_in_formula <- function(name) formula_text(as.name(name))

# A value as it is written in a formula: a code by its label, a number, a date or a text.
condition_value <- function(typed, name, book, as_text = FALSE) {
  codes <- meaning_in(book, name)$codes
  label <- match(typed, names(codes))
  if (!as_text && !is.na(label)) return(formula_text(unname(codes[label])))
  if (as_text || has_text(variable_in(book, name))) return(formula_text(typed))
  if (kind_in_words(book, name) == "date") return(formula_text(read_day(typed)))
  number <- read_number(typed)
  if (is.na(number)) fail("condition-number", typed = typed, name = name)
  show_number(number)
}

# The rows of a formula; NULL where it says more than rows can. "" is no row.
condition_rows <- function(text, book) {
  if (is_untyped(text)) return(list(join = "and", rows = list()))
  node <- tryCatch(parse_formula(one_typed(text)), error = function(e) NULL)
  if (is.null(node)) return(NULL)
  join <- if (is_call_of(node, "|")) "or" else "and"
  parts <- joined_parts(node, if (join == "or") "|" else "&")
  rows <- rows_of_parts(parts, book)
  if (!is.null(rows)) list(join = join, rows = rows)
}

is_call_of <- function(node, head) is.call(node) && identical(node[[1]], as.name(head))

without_brackets <- function(node) if (is_call_of(node, "(")) without_brackets(node[[2]]) else node

joined_parts <- function(node, sign) {
  if (!is_call_of(node, sign)) return(list(without_brackets(node)))
  c(joined_parts(node[[2]], sign), joined_parts(node[[3]], sign))
}

# Two neighbours that are a range of one variable are one row.
rows_of_parts <- function(parts, book) {
  rows <- list()
  while (length(parts)) {
    range <- range_row(parts)
    row <- range %||% row_of_part(parts[[1]], book)
    if (is.null(row)) return(NULL)
    used <- if (is.null(range) || is_call_of(parts[[1]], "&")) 1 else 2
    rows <- c(rows, list(row))
    parts <- parts[-seq_len(used)]
  }
  rows
}

range_row <- function(parts) {
  first <- parts[[1]]
  if (is_call_of(first, "&")) parts <- lapply(list(first[[2]], first[[3]]), without_brackets)
  if (length(parts) < 2) return(NULL)
  low <- parts[[1]]
  high <- parts[[2]]
  fits <- is_call_of(low, ">=") && is_call_of(high, "<=") && is.symbol(low[[2]]) &&
    identical(low[[2]], high[[2]]) && is.numeric(low[[3]]) && is.numeric(high[[3]])
  if (fits) list(name = as.character(low[[2]]), how = "between",
    value = paste(show_number(low[[3]]), "to", show_number(high[[3]])))
}

row_of_part <- function(part, book) {
  if (is_call_of(part, "is.na")) return(value_row(part[[2]], "missing", "", book))
  if (is_call_of(part, "!") && is_call_of(part[[2]], "is.na")) {
    return(value_row(part[[2]][[2]], "valid", "", book))
  }
  if (is_call_of(part, "grepl") && length(part) == 3) {
    return(value_row(part[[3]], "holds", part[[2]], book))
  }
  how <- names(comparison_signs)[vapply(comparison_signs, is_call_of, NA, node = part)]
  if (length(how) == 1) value_row(part[[2]], how, part[[3]], book)
}

# As it would be typed: codes by their labels.
value_row <- function(variable, how, value, book) {
  name <- if (is.symbol(variable)) as.character(variable)
  if (is.null(name) || !name %in% names(book) || !is.atomic(value)) return(NULL)
  label <- label_of(value, meaning_in(book, name)$codes)
  typed <- ifelse(is.na(label) | how == "holds", show_value(value), label)
  if (how != "oneof" && length(typed) != 1) return(NULL)
  if (any(grepl("[;,]", typed)) && how == "oneof") return(NULL)
  list(name = name, how = how, value = paste(typed, collapse = "; "))
}

# What stands on the page: the formula, and the rows above it, which the page draws and keeps in
# step with it.
condition_html <- function(id, text, help = NULL) {
  tags <- htmltools::tags
  words <- unname(Map(function(how, name) list(name, how$words), comparisons, names(comparisons)))
  tags$div(class = "condition", `data-for` = id, `data-hows` = as.character(jsonlite::toJSON(words,
    auto_unbox = TRUE)), `data-bare` = as.character(jsonlite::toJSON(without_value)),
    tags$div(class = "picks", role = "group", `aria-label` = "The condition by pointing"),
    tags$label(class = "help", `for` = id, "As a formula"),
    tags$textarea(id = id, rows = 2, class = "code", spellcheck = "false", `aria-describedby` =
      if (!is.null(help)) paste0(id, "-hint"), text %||% ""),
    if (!is.null(help)) tags$div(class = "help", id = paste0(id, "-hint"), help))
}

# The values that one of a variable's comparisons may name, with their labels.
pick_choices <- function(name, book) {
  few <- facts_of(variable_in(book, name))$few
  if (!few && !length(meaning_in(book, name)$codes)) return(list())
  met <- rule_values(book, name, 100)$table
  met <- met[met$kind != "missing", ]
  lapply(seq_len(nrow(met)), function(i) {
    list(value = if (nzchar(met$label[i])) met$label[i] else met$value[i],
      words = if (nzchar(met$label[i])) met$value[i] else "")
  })
}

# What the page asks of conditions.
add_acts(list(
  picked = function(screen, event) {
    join <- if (identical(event$join, "or")) "or" else "and"
    rows <- Filter(is.list, as.list(event$rows))
    text <- tryCatch(condition_text(rows, join, screen$state$book), error = identity)
    failed <- inherits(text, "error")
    with_message(screen, list(do = "picked", id = one_typed(event$id),
      text = if (!failed) text, error = if (failed) as.list(error_words_of(text))))
  },
  picks = function(screen, event) {
    found <- condition_rows(event$text, screen$state$book)
    with_message(screen, list(do = "picks", id = one_typed(event$id), able = !is.null(found),
      join = found$join, rows = found$rows))
  },
  choices = function(screen, event) {
    name <- known_on_desk(screen$state, event$name)
    with_message(screen, list(do = "choices", id = one_typed(event$id), place = event$place,
      choices = pick_choices(name, screen$state$book)))
  }
), screen_acts)

word_errors(list(
  "condition-number" = c("{typed} is no number and no label of `{name}`.",
    "Choose one of its values.")
))
