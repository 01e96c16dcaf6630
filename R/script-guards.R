# Functions that are undefined for some values. Where such a value runs through to the result as
# something infinite or not a number, one line after the result sees to it; elsewhere, below a
# fraction or inside a comparison, the argument is guarded in place. Puts `guarded log` for `log`
# wherever the undefined would not reach the result.
#   reaches: 2 where all that is undefined shows in the result, 1 where only what is not a number
#   does (below a fraction, where something infinite would turn into 0), 0 where nothing does.
mark_guarded <- function(node, reaches, state) {
  if (!is.call(node)) return(node)
  head <- call_head(node)
  needs <- if (head == "sqrt") 1 else 2
  undefined <- head %in% c(words_with("partial"), "*") && !never_undefined(node, head)
  if (undefined && reaches >= needs) state$open <- TRUE
  for (i in seq_along(node)[-1]) {
    node[[i]] <- mark_guarded(node[[i]], min(reaches, reach_of(node, head, i - 1)), state)
  }
  if (undefined && reaches < needs && head != "*") node[[1]] <- as.name(paste("guarded", head))
  node
}

is_small <- function(node) is.numeric(node) && abs(node) <= 1000

reach_of <- function(node, head, place) {
  if (place %in% places_through(node, head)) 2 else if (head == "/") 1 else 0
}

places_through <- function(node, head) {
  last <- length(node) - 1
  switch(head,
    "{" = last,
    "if" = seq_len(last)[-1],
    choose = setdiff(seq_len(last), seq(1, last, 2)[seq_len(last %/% 2)]),
    formula_words[[head]]$hands_on
  )
}

# A fraction over a constant, a whole power: nothing to guard against.
never_undefined <- function(node, head) {
  if (head == "/" && is_lookup(node[[3]])) return(!any(node[[3]][[2]] %in% 0))
  if (head %in% c("/", "%%", "%/%")) {
    return(is_constant(node[[3]]) && evaluate(node[[3]], NULL) != 0)
  }
  if (head == "*") return(any(vapply(as.list(node)[-1], is_small, NA)))
  head == "^" && is.numeric(node[[3]]) && node[[3]] >= 0 && node[[3]] == round(node[[3]])
}

guarded_calls <- function(number, state) {
  words <- self_named(words_with("partial"))
  calls <- lapply(words, function(word) {
    if (!is.null(formula_words[[word]]$domain)) return(domain_code(word, number))
    if (word %in% c("^", "exp")) endless_code(word, number, state) else divide_code(word, number)
  })
  names(calls) <- paste("guarded", words)
  calls
}

endless_code <- function(word, number, state) {
  function(node, write) {
    as_numbers <- function(part) number(part, write)
    node[[1]] <- as.name(word)
    name <- free_names("value", state)
    plain <- if (word == "^") power_text(node, as_numbers) else write_plain(node, word, as_numbers)
    paste0("{ ", name, " <- ", plain, "; ifelse(is.finite(", name, "), ", name,
      ", NA) }")
  }
}

# R gives 1 for NA^0 and 1^NA; where that can happen, the missing is kept.
power_text <- function(node, write) {
  plain <- write_plain(node, "^", write)
  base <- node[[2]]
  exponent <- node[[3]]
  if (is.numeric(exponent) && exponent != 0 || is.numeric(base) && base != 1) return(plain)
  gone <- paste0("is.na(", vapply(Filter(Negate(is.numeric), list(base, exponent)), write, ""), ")",
    collapse = " | ")
  paste0("ifelse(", gone, ", NA, ", plain, ")")
}

divide_code <- function(word, number) {
  function(node, write) {
    as_numbers <- function(part) number(part, write)
    text <- as_numbers(node[[3]])
    top <- write_under(node[[2]], formula_words[[word]]$infix, as_numbers)
    simple <- if (strength(node[[3]]) < 20) paste0("(", text, ")") else text
    paste0("(", top, " ", word, " ifelse(", simple, " == 0, NA, ", text, "))")
  }
}

domain_code <- function(word, number) {
  function(node, write) {
    text <- number(node[[2]], write)
    simple <- if (strength(node[[2]]) < 20) paste0("(", text, ")") else text
    inside <- paste(formula_words[[word]]$domain, collapse = " ")
    as_r_text(word, paste0("ifelse(", simple, " ", inside, ", ", text, ", NA)"))
  }
}

# R's whole numbers end at 2,147,483,647; what goes beyond is missing in R. Where sums or products
# of whole columns could, the script works with real numbers: `as_real(x)` in a formula is
# as.numeric(x) in the script.
without_whole_overflow <- function(node, book) {
  if (!uses(node, c("+", "-", "*"))) return(node)
  walk_formula(node, function(call) {
    if (!call_head(call) %in% c("+", "-", "*") || length(call) != 3) return(call)
    if (isTRUE(whole_reach(call, book) > .Machine$integer.max)) {
      call[[2]] <- call("as_real", call[[2]])
    }
    call
  })
}

# How large the whole numbers of a node may get; NA where they are real numbers, or no numbers.
whole_reach <- function(node, book) {
  if (is.symbol(node)) return(column_reach(as.character(node), book))
  if (!is.call(node)) return(NA_real_)
  reaches <- vapply(as.list(node)[-1], whole_reach, 0, book = book)
  switch(call_head(node), "+" = , "-" = sum(reaches), "*" = prod(reaches), "(" = ,
    abs = reaches[1], NA_real_)
}

column_reach <- function(name, book) {
  if (!name %in% names(book)) return(NA_real_)
  x <- values_of(variable_in(book, name))
  if (!is.integer(x) && !is.logical(x)) return(NA_real_)
  facts <- facts_of(variable_in(book, name))
  if (facts$valid) max(abs(facts$low), abs(facts$high)) else 0
}

# The R code of a word, with the code of its arguments in place of x and y.
as_r_text <- function(word, arguments) {
  code <- formula_words[[word]]$as_r
  if (is.null(code)) return(paste0(word, "(", paste(arguments, collapse = ", "), ")"))
  for (i in seq_along(arguments)) {
    name <- paste0("\\b", c("x", "y", "z")[i], "\\b")
    code <- gsub(name, paste0("(", gsub("\\", "\\\\", arguments[i], fixed = TRUE), ")"),
      code, perl = TRUE)
  }
  paste0("(", code, ")")
}
