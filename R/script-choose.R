# Rules in base R: nested ifelse(), in which a test that is missing leaves the row missing; a
# long list of values becomes a table of old and new codes.
choose_code <- function(node, write, state, write_value = write) {
  parts <- choose_parts(node)
  source <- plain_source(parts$tests)
  long_list <- !is.null(source) && length(parts$tests) > 8 && all_constant(parts)
  if (long_list) return(lookup_code(parts, source, write, state))
  nested_code(parts, source, write, state, write_value)
}

# The one variable that all tests compare with values, if so.
plain_source <- function(tests) {
  names <- lapply(tests, function(t) if (is_value_test(t)) as.character(t[[2]]) else NA)
  names <- unique(unlist(names))
  if (length(names) == 1 && !is.na(names)) as.name(names)
}

is_value_test <- function(test) {
  is.call(test) && call_head(test) %in% c("==", "%in%") && is.symbol(test[[2]]) && is.atomic(test[[3]])
}

all_constant <- function(parts) {
  !any(vapply(c(parts$values, list(parts$default)), function(v) is.symbol(v) || is.call(v), NA)) &&
    all(vapply(parts$tests, function(t) is.numeric(t[[3]]), NA)) && is.na(parts$default)
}

lookup_code <- function(parts, source, write, state) {
  values <- lapply(parts$tests, function(t) t[[3]])
  old <- unlist(values)
  new <- unlist(Map(rep, parts$values, lengths(values)))
  first <- !duplicated(old)
  names <- free_names(c("old", "new"), state)
  state$before <- c(
    state$before,
    fold_call(paste0(names[1], " <- c("), vapply(old[first], write_constant, "")),
    fold_call(paste0(names[2], " <- c("), vapply(new[first], write_constant, ""))
  )
  paste0(names[2], "[match(", write(source), ", ", names[1], ")]")
}

# A call on one line, or with its arguments folded over several.
fold_call <- function(start, arguments) {
  line <- paste0(start, paste(arguments, collapse = ", "), ")")
  if (nchar(line) <= 96) line else paste(c(start, fold_arguments(arguments, 84), ")"), collapse = "\n")
}

nested_code <- function(parts, source, write, state, write_value) {
  rows <- Map(function(test, value) rule_code(test, value, source, write, write_value), parts$tests, parts$values)
  default <- write_value(parts$default)
  while (length(rows) > 30) {
    tail <- rows[seq(length(rows) - 24, length(rows))]
    name <- free_names("rest", state)
    state$before <- c(state$before, paste0(name, " <- ", paste(nest_lines(tail, default), collapse = "\n")))
    rows <- rows[seq_len(length(rows) - 25)]
    default <- name
  }
  guard <- if (!is.null(source)) paste0("is.na(", write(source), "), NA,")
  lines <- nest_lines(c(if (needs_guard(parts$tests, source)) guard, unlist(rows)), default)
  paste(lines, collapse = "\n")
}

# With the missing rows set aside first, values can be matched with a plain %in%.
needs_guard <- function(tests, source) {
  !is.null(source) && any(vapply(tests, function(t) call_head(t) == "%in%", NA))
}

rule_code <- function(test, value, source, write, write_value) {
  shown <- if (!is.null(source) && call_head(test) == "%in%") {
    paste0(write(source), " %in% ", write_constant(test[[3]]))
  } else {
    write(test)
  }
  paste0(shown, ", ", write_value(value), ",")
}

nest_lines <- function(rows, default) {
  lines <- paste0("ifelse(", unlist(rows))
  last <- paste0(default, strrep(")", length(lines)))
  together <- paste(c(lines, last), collapse = " ")
  if (length(lines) == 1 && nchar(together) < 80) together else c(lines, last)
}

# Names for helpers that no variable has.
free_names <- function(wanted, state) {
  free <- vapply(wanted, function(name) {
    name <- code_helper(name)
    tries <- c(name, paste0(name, "_", 2:1000))
    tries[!tries %in% state$taken][1]
  }, "", USE.NAMES = FALSE)
  state$taken <- c(state$taken, free)
  free
}

# Row functions: the items side by side, the number of valid ones, then the score.
row_code <- function(word, number, state) {
  function(node, write) {
    items <- vapply(row_items(node), number, "", write = write)
    names <- free_names(c("items", "n_valid"), state)
    options <- as.list(node)
    need <- options$at_least %||% length(items)
    state$before <- c(
      state$before,
      fold_call(paste0(names[1], " <- cbind("), items),
      paste0(names[2], " <- rowSums(!is.na(", names[1], "))")
    )
    if (word == "row_valid") return(names[2])
    score <- row_score_code(word, names[1], names[2], options, length(items))
    if (!is.null(options$digits)) score <- paste0("round(", score, ", ", options$digits, ")")
    paste0("ifelse(", names[2], " >= ", need, ", ", score, ", NA)")
  }
}

row_score_code <- function(word, items, n_valid, options, k) {
  if (!is.null(options$weights)) return(weighted_score_code(word, items, options))
  switch(word,
    row_mean = paste0("rowMeans(", items, ", na.rm = TRUE)"),
    row_sum = paste0("rowSums(", items, ", na.rm = TRUE)",
      if (isTRUE(options$prorate)) paste0(" * (", k, " / ", n_valid, ")")),
    paste0("apply(", items, ", 1, function(x) if (all(is.na(x))) NA else ", sub("row_", "", word),
      "(x, na.rm = TRUE))")
  )
}

weighted_score_code <- function(word, items, options) {
  weights <- write_constant(options$weights)
  total <- paste0("colSums(t(", items, ") * ", weights, ", na.rm = TRUE)")
  held <- paste0("colSums(t(!is.na(", items, ")) * ", weights, ")")
  if (word == "row_mean") return(paste0(total, " / ", held))
  if (isTRUE(options$prorate)) paste0(total, " * sum(", weights, ") / ", held) else total
}
