# Puts a formula into base R: `before` holds lines that come first, `value` those of the result;
# `open` tells that the result may be undefined and must be looked after.
base_code <- function(node, book, data) {
  state <- new.env()
  state$before <- character()
  state$taken <- c(names(book), data, all.names(node))
  state$open <- FALSE
  state$earlier <- state$ranks <- state$constants <- list()
  state$types <- list()
  note_types(node, type_teller(book, state), state)
  style <- list(calls = base_calls(state, book, data), name = code_name)
  node <- mark_guarded(without_whole_overflow(node, book), 2, state)
  if (is.call(node) && call_head(node) == "{") {
    value <- base_block(node, style, state)
  } else {
    value <- strsplit(formula_text(node, style), "\n", fixed = TRUE)[[1]]
  }
  list(before = unlist(strsplit(state$before, "\n", fixed = TRUE)), value = value,
    open = state$open,
    constant = !length(formula_vars(node)) && length(value) == 1 && !length(state$before))
}

# A block inside a formula keeps its own lines to itself, and what they give names to.
inner_block <- function(node, write, state) {
  outer <- state$before
  known <- list(constants = state$constants, ranks = state$ranks)
  state$before <- character()
  for (step in as.list(node)[-1]) {
    put_before(state, write(step))
  }
  lines <- state$before
  state$before <- outer
  state$constants <- known$constants
  state$ranks <- known$ranks
  paste0("{\n", paste(lines, collapse = "\n"), "\n}")
}

# The words whose meaning differs from that of the R function of the same name.
base_calls <- function(state, book, data) {
  type <- type_teller(book, state)
  number <- function(node, write) as_number_code(node, write, type)
  c(
    each_call(words_where("as R", function(word) !is.null(word$as_r)), as_r_code, number = number),
    choice_calls(state, type),
    list(
      "{" = function(node, write) inner_block(node, write, state),
      unanswered = function(node, write) unanswered_code(node, write, book, data),
      "%in%" = function(node, write) member_code(node, write, type)
    ),
    guarded_calls(number, state), number_calls(type, number, state),
    each_call(words_with("over items"), row_code, number = number, state = state),
    each_call(words_taking("text"), text_code, book = book, state = state, type = type),
    table_calls(state, number, book, type), time_calls(state, type)
  )
}

each_call <- function(words, code, ...) lapply(self_named(words), code, ...)

choice_calls <- function(state, type) {
  list(
    choose = function(node, write) {
      keep_dates(node, type, choose_code(node, write, state, one_type(node, write, type)))
    },
    "if" = function(node, write) write(if_to_choose(node)),
    first_valid = function(node, write) {
      keep_dates(node, type, first_valid_code(node, one_type(node, write, type)))
    }
  )
}

number_calls <- function(type, number, state) {
  compares <- words_with("compares")
  own <- c("+", "-", "^", "round", compares, words_with("over items"))
  plain <- setdiff(words_taking("number"), own)
  c(
    list(
      "^" = function(node, write) power_text(node, function(part) number(part, write)),
      round = function(node, write) {
        parts <- row_items(node)
        digits <- if (length(parts) > 1) parts[[2]] else 0
        up <- identical(as.list(node)$half, "up") && is.numeric(digits)
        if (up) round_code(number(parts[[1]], write), trunc(digits), "up", state) else
          write_plain(as.call(c(node[[1]], parts)), "round", function(part) number(part, write))
      },
      as_real = function(node, write) paste0("as.numeric(", number(node[[2]], write), ")")
    ),
    each_call(plain, number_code, number = number),
    each_call(c("+", "-"), sum_code, type = type, number = number),
    each_call(compares, compare_code, type = type, number = number)
  )
}

# What a part of the formula gives; temporary names are known by what they were given.
type_teller <- function(book, state) {
  type_of <- function(name) state$types[[name]] %||% value_type(variable_in(book, name))
  function(node) result_type(node, type_of)
}

# The types of all temporary names, in the order in which they are given.
note_types <- function(node, tells, state) {
  if (!is.call(node)) return()
  for (step in as.list(node)[-1]) note_types(step, tells, state)
  if (is_assignment(node)) {
    type <- tells(node[[3]])
    state$types[[as.character(node[[2]])]] <- if (type %in% c("text", "date")) type else "number"
  }
}

# Text used as a number: plain numbers are read, other text is missing.
as_number_code <- function(node, write, type) {
  kind <- type(node)
  if (kind == "date") return(paste0("as.numeric(", write(node), ")"))
  if (kind != "text") return(write(node))
  text_as_number(write(node))
}

# How to write the values of a choice: as numbers where texts and numbers meet.
one_type <- function(node, write, type) {
  mixed <- !type(node) %in% c("text", "date")
  function(part) {
    if (mixed && type(part) %in% c("text", "date")) as_number_code(part, write,
      type) else write(part)
  }
}

number_code <- function(word, number) {
  function(node, write) {
    as_numbers <- function(part) number(part, write)
    write_plain(node, word, as_numbers)
  }
}

# A word that R has no function of that name for.
as_r_code <- function(word, number) {
  function(node, write) as_r_text(word, vapply(row_items(node), number, "", write = write))
}

# Two texts or two dates are compared as such, anything else as numbers.
compare_code <- function(word, type, number) {
  function(node, write) {
    types <- c(type(node[[2]]), type(node[[3]]))
    texts <- all(types == "text") && word %in% c("==", "!=")
    write_binary(node, word,
      if (texts || all(types == "date")) write else function(part) number(part, write))
  }
}

member_code <- function(node, write, type) {
  x <- write_under(node[[2]], formula_words[["%in%"]]$infix, write)
  values <- node[[3]]
  plain <- is.atomic(values) && !inherits(values, "Date")
  if (plain) values <- if (type(node[[2]]) == "text") show_value(values) else as_number(values)
  paste0("ifelse(is.na(", write(node[[2]]), "), NA, ", x, " %in% ", write(values), ")")
}

unanswered_code <- function(node, write, book, data) {
  if (length(node) == 2) return(paste0("is.na(", write(node[[2]]), ")"))
  name <- as.character(node[[2]])
  raw <- source_of(variable_in(book, name))
  column <- code_column(data, name)
  if (!is.null(meaning_in(book, name)$read)) {
    return(unread_code(node[[3]], column, meaning_in(book, name)))
  }
  if (node[[3]] == "blank") {
    blank <- if (is_text_like(raw)) c(NA, "") else NA
    return(if (length(blank) == 1) paste0("is.na(", column, ")") else paste0(column, " %in% c(NA, ",
      code_text(""), ")"))
  }
  missing <- meaning_in(book, name)$missing[[node[[3]]]]
  rows_code(match_code(column, missing, plain_values(raw)), column)
}

first_valid_code <- function(node, write) {
  parts <- vapply(as.list(node)[-1], write, "")
  Reduce(function(a, b) paste0("ifelse(is.na(", a, "), ", b, ", ", a, ")"), parts[-1], parts[1])
}

# ifelse() forgets that its values are dates.
keep_dates <- function(node, type, code) {
  if (type(node) == "date") {
    paste0("as.Date(", code, ", origin = ", code_text("1970-01-01"), ")")
  } else {
    code
  }
}

base_block <- function(node, style, state) {
  steps <- as.list(node)[-1]
  for (step in steps[-length(steps)]) {
    text <- formula_text(step, style)
    put_before(state, text)
  }
  strsplit(formula_text(steps[[length(steps)]], style), "\n", fixed = TRUE)[[1]]
}
