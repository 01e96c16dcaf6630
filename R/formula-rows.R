# Row functions: one score for each row over the valid ones of several items.

row_word <- function(how) {
  function(..., at_least = NULL, weights = NULL, prorate = FALSE) {
    items <- lapply(list(...), as_number)
    rows <- max(lengths(items))
    items <- lapply(items, rep_len, rows)
    weights <- as.double(weights %||% rep(1, length(items)))
    if (how == "sum" && isTRUE(prorate)) how <- "prorated"
    row_scores(items, how, as.integer(at_least %||% length(items)), weights)
  }
}

count_valid <- function(...) {
  valid <- lapply(list(...), function(x) !is.na(as_number(x)))
  list(x = as.integer(Reduce(`+`, valid)))
}

# At least one unnamed item in a row function's call.
row_items <- function(node) {
  args <- as.list(node)[-1]
  args[!nzchar(names(args) %||% rep("", length(args)))]
}

is_row_node <- function(node) {
  is.call(node) && is.symbol(node[[1]]) && grepl("^row_", as.character(node[[1]]))
}
