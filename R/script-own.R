#' @include script-dialect.R script-base.R
NULL

script_dialect("ableturn", "Calls of this package", "gives the same work as calls of this package.",
  lines = function(book) own_lines(book),
  words = function() c(own_script_words, paste0("turn_", turn_verbs())), run = run_in_r
)

own_script_words <- c(
  "library", "character", "turnbook", "stopifnot", "is.data.frame", "as.data.frame", "data.frame",
  "list", "define",
  "must_hold", "rename_turn", "becomes", "the_rest", "unchanged", "when", "from", "upto", "over",
  "under", "unanswered", "holding", "all_of", "as.name"
)

# The work as calls of this package, one for each step on the record.
own_lines <- function(book) {
  info <- info_of(book)
  steps <- c(definition_calls(book), unlist(lapply(stated_turns(book), turn_calls),
    recursive = FALSE))
  c(
    "library(ableturn)", "", open_call(info), "",
    piped_steps(steps), "",
    paste0(info$name, " <- as.data.frame(book, missing = ", code_text("codes"), ")")
  )
}

open_call <- function(info) {
  id <- if (!is.null(info$id)) paste0(", id = ", code_chosen(info$id))
  if (is.null(info$file)) return(c(paste0("stopifnot(is.data.frame(", info$name, "))"),
    paste0("book <- turnbook(", info$name, id, ")")))
  codebook <- if (!is.null(info$codebook)) paste0(", codebook = ", code_text(info$codebook))
  paste0("book <- turnbook(", code_text(info$file), codebook, stated_call(info$stated), id, ")")
}

stated_call <- function(stated) {
  if (!length(stated)) return(NULL)
  value <- function(x) {
    if (!length(x)) return("character()")
    if (is.null(names(x))) return(write_constant(x))
    paste0("c(", paste0(code_argument(names(x)), " = ", code_text(x), collapse = ", "), ")")
  }
  paste0(", reading = list(", paste(names(stated), "=", vapply(stated, value, ""),
    collapse = ", "), ")")
}

# A pipe for each twenty steps: R cannot read one of hundreds.
piped_steps <- function(steps) {
  parts <- split(steps, (seq_along(steps) - 1) %/% 20)
  unlist(lapply(unname(parts), function(part) c("book <- book |>", joined_steps(part))))
}

joined_steps <- function(steps) {
  ends <- c(rep(" |>", length(steps) - 1), "")
  unlist(Map(function(step, end) {
    step[length(step)] <- paste0(step[length(step)], end)
    paste0("  ", step)
  }, steps, ends))
}

definition_calls <- function(book) {
  vars <- if (is.null(info_of(book)$codebook)) names(sheet_definitions(book)) else defined_vars(
    book)
  said <- lapply(self_named(vars), function(name) meaning_arguments(meaning_in(book, name)))
  Map(function(name, arguments) own_call("define", c(code_chosen(name), arguments)),
    vars[lengths(said) > 0], said[lengths(said) > 0])
}

turn_calls <- function(turn) {
  if (identical(turn$type, "check")) return(list(check_call(turn)))
  later <- Map(function(name, m) own_call("define", c(code_chosen(name), meaning_arguments(m))),
    names(turn[["define"]]), turn[["define"]])
  c(list(turn_call(turn)), rename_call(turn), unname(later))
}

# Dummies are given all their names as they are made.
rename_call <- function(turn) {
  if (is.null(turn$renamed) || type_of_turn(turn$verb)$pattern == "amended") return(NULL)
  list(own_call("rename_turn", paste(code_argument(names(turn$renamed)), "=",
    code_chosen(turn$renamed))))
}

# The role of a weight is left out: each call says which weight it takes.
meaning_arguments <- function(m) {
  named <- function(values, write) {
    each <- paste0(vapply(names(values), code_text, ""), " = ", write(values), collapse = ", ")
    paste0("c(", each, ")")
  }
  text <- function(key) if (!is.null(m[[key]])) paste0(key, " = ", code_text(m[[key]]))
  c(
    text("label"),
    if (length(m$codes)) paste0("codes = ", named(m$codes,
      function(v) vapply(unname(v), write_constant, ""))),
    if (length(m$missing)) paste0("missing = ",
      sub("^c", "list", named(m$missing, function(v) vapply(v, matchers_call, "")))),
    text("level"), if (length(m$limits)) paste0("limits = ", write_constant(m$limits)),
    text("high"), text("low"), text("unit"), text("note"), text("read"), text("set"),
    if (!is.null(m$asked_if)) paste0("asked_if = ",
      code_formula(m$asked_if))
  )
}

matchers_call <- function(matchers) {
  calls <- vapply(matchers, matcher_call, "")
  if (length(calls) == 1) calls else paste0("list(", paste(calls, collapse = ", "), ")")
}

matcher_call <- function(m) {
  switch(m$type,
    values = write_constant(m$values),
    missing = if (m$kind == "any") "unanswered()" else paste0("unanswered(",
      code_text(m$kind), ")"),
    range = range_call(m), holding = holding_call(m)
  )
}

holding_call <- function(m) {
  if (m$regex) return(paste0("holding(regex = ", write_constant(m$pieces), ")"))
  paste0("holding(", paste(c(vapply(m$pieces, code_text, ""), if (!m$whole) "whole = FALSE"),
    collapse = ", "), ")")
}

range_call <- function(m) {
  if (is_any_number(m)) return("from(-Inf)")
  high <- show_number(m$high)
  if (is.infinite(m$low)) return(paste0(if (m$high_in) "upto(" else "under(", high, ")"))
  end <- if (is.finite(m$high)) paste0(if (m$high_in) ", upto = " else ", under = ", high)
  paste0(if (m$low_in) "from(" else "over(", show_number(m$low), end, ")")
}

check_call <- function(check) {
  own_call("must_hold", c(code_formula(check$formula), if (!is.null(check$label)) paste0("label = ",
    code_text(check$label))))
}

turn_call <- function(turn) {
  verb <- paste0("turn_", turn$verb)
  first <- names(formals(get(verb, mode = "function")))[2]
  own_call(verb, unlist(lapply(turn_as_call(turn, with_pattern = FALSE), argument_code, first)))
}

# What comes `first` in a verb is written without its name.
argument_code <- function(part, first) {
  code <- switch(part$shape,
    selection = own_selection(part$value), formula = code_formula(part$value),
    rule = rule_call(part$value),
    instrument = listed_code(part$value), names = own_selection(part$value),
    table = table_call(part$value),
    accepts = accept_call(part$value), matchers = matchers_call(part$value),
    write_constant(part$value)
  )
  if (part$name %in% c(first, "")) code else paste0(part$name, " = ", code)
}

own_selection <- function(names) {
  if (length(names) == 1) {
    code_chosen(names)
  } else {
    paste0("c(", paste(code_chosen(names), collapse = ", "), ")")
  }
}

table_call <- function(table) {
  columns <- paste0(code_argument(names(table)), " = ", vapply(table, write_constant, ""),
    collapse = ", ")
  paste0("data.frame(", columns, ", check.names = FALSE)")
}

accept_call <- function(accept) {
  paste0("c(", paste0(code_text(names(accept)), " = ", code_text(unname(accept)), collapse = ", "),
    ")")
}

listed_code <- function(value) {
  if (!is.list(value)) return(write_constant(value))
  value <- compact(value)
  paste0("list(", paste0(code_argument(names(value)), " = ", vapply(value, listed_code, ""),
    collapse = ", "), ")")
}

rule_call <- function(rule) {
  code <- if (is_unchanged(rule$code)) "unchanged()" else write_constant(rule$code)
  label <- if (!is.null(rule$label)) paste0("label = ", code_text(rule$label))
  if (rule$rest) return(paste0("the_rest(", paste(c(code, label), collapse = ", "), ")"))
  made_from <- if (length(rule$when)) vapply(rule$when, matcher_call,
    "") else where_call(rule$where)
  paste0("becomes(", paste(c(code, made_from, label), collapse = ", "), ")")
}

where_call <- function(where) {
  each <- paste0(code_argument(names(where)), " = ", vapply(where, matchers_call, ""))
  taken <- names(where) %in% c("label", "code")
  if (any(taken)) paste0("when(", paste(each, collapse = ", "), ")") else each
}

own_call <- function(name, arguments) {
  line <- paste0(name, "(", paste(arguments, collapse = ", "), ")")
  if (nchar(line) <= 88) return(line)
  c(paste0(name, "("), paste0("  ", arguments, c(rep(",", length(arguments) - 1), "")), ")")
}
