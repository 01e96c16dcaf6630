# Rules in base R: nested ifelse(), in which a test that is missing leaves the row missing; a long
# list of values becomes a table of old and new codes.
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
  is.call(test) && call_head(test) %in% c("==", "%in%") && is.symbol(test[[2]]) &&
    is.atomic(test[[3]])
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
  put_before(state, c(
    fold_call(paste0(names[1], " <- c("), vapply(old[first], write_constant, "")),
    fold_call(paste0(names[2], " <- c("), vapply(new[first], write_constant, ""))
  ))
  paste0(names[2], "[match(", write(source), ", ", names[1], ")]")
}

nested_code <- function(parts, source, write, state, write_value) {
  rows <- Map(function(test, value) rule_code(test, value, source, write, write_value), parts$tests,
    parts$values)
  default <- write_value(parts$default)
  while (length(rows) > 30) {
    tail <- rows[seq(length(rows) - 24, length(rows))]
    name <- free_names("rest", state)
    put_before(state, paste0(name, " <- ",
      paste(nest_lines(tail, default), collapse = "\n")))
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
