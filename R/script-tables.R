# Tables, steps and groups in base R.
table_calls <- function(state, number, book) {
  list(
    lookup = function(node, write) table_code(node, write, state),
    steps = function(node, write) steps_code(node, write, state),
    held = function(node, write) {
      paste0("pmax(", write(node[[3]]), ", pmin(", write(node[[4]]), ", ", number(node[[2]], write), "))")
    },
    group = function(node, write) group_code(node, write, number, book)
  )
}

# A short table stands where it is used; others get a line of their own before it.
table_code <- function(node, write, state) {
  parts <- unname(row_items(node)[-1])
  place <- seq_along(parts) %% 2 == 1
  old <- constant_code(parts[!place], "old", state)
  index <- paste0("match(", vapply(parts[place], write, ""), ", ", old, ")")
  called <- as.list(node)$called
  values <- constant_code(list(shaped_values(node[[2]], lengths(parts[!place]))), called %||% "new", state)
  code <- paste0(values, "[", if (length(index) > 1) "cbind(", paste(index, collapse = ", "),
    if (length(index) > 1) ")", "]")
  if (is.null(called)) return(code)
  name <- free_names(called, state)
  state$before <- c(state$before, paste0(name, " <- ", code))
  name
}

# The text of constants, on lines of their own where they are long.
constant_code <- function(values, name, state) {
  vapply(values, function(value) {
    items <- if (is.list(value)) vapply(value$values, write_constant, "") else vapply(value, write_constant, "")
    plain <- if (length(items) == 1) items else fold_call("c(", items)
    code <- if (is.list(value)) paste0("array(", plain, ", c(", paste(value$sizes, collapse = ", "), "))") else plain
    if (nchar(code) <= 48) return(code)
    free <- free_names(name, state)
    state$before <- c(state$before, paste0(free, " <- ", code))
    free
  }, "")
}

shaped_values <- function(values, sizes) if (length(sizes) > 1) list(values = values, sizes = sizes) else values

steps_code <- function(node, write, state) {
  args <- constant_code(as.list(node)[3:5], "at", state)
  x <- write(node[[2]])
  paste0("ifelse(", x, " %in% ", args[1], ", ", args[2], "[match(", x, ", ", args[1], ")], ",
    args[3], "[findInterval(", x, ", ", args[1], ") + 1])")
}

group_code <- function(node, write, number, book) {
  how <- as.list(node)$how
  parts <- row_items(node)
  groups <- vapply(parts[-1], write, "")
  gone <- paste0("is.na(", groups, ")", collapse = " | ")
  x <- finite_code(parts[[1]], number(parts[[1]], write), book)
  by <- paste(groups, collapse = ", ")
  code <- switch(how,
    size = paste0("ave(rep(1, length(", groups[1], ")), ", by, ", FUN = length)"),
    valid = paste0("ave(as.numeric(!is.na(", x, ")), ", by, ", FUN = sum)"),
    paste0("ave(as.numeric(", x, "), ", by, ", FUN = function(v) if (all(is.na(v))) NA else ", how, "(v, na.rm = TRUE))")
  )
  paste0("ifelse(", gone, ", NA,\n", code, ")")
}

# Infinite values take no part in statistics.
finite_code <- function(node, code, book) {
  x <- if (is.symbol(node)) column_in(book, as.character(node))$x
  if (is.double(x) && any(is.infinite(x))) paste0("ifelse(is.finite(", code, "), ", code, ", NA)") else code
}
