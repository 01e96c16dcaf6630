# Row functions: one score for each row over the valid ones of several items.

row_word <- function(how) {
  function(..., at_least = NULL, weights = NULL, prorate = FALSE, digits = NULL) {
    items <- lapply(list(...), as_number)
    rows <- max(lengths(items))
    items <- lapply(items, rep_len, rows)
    weights <- as.double(weights %||% rep(1, length(items)))
    if (how == "sum" && isTRUE(prorate)) how <- "prorated"
    out <- row_scores(items, how, as.integer(at_least %||% length(items)), weights)
    if (!is.null(digits)) out$x <- round(out$x, digits)
    c(out, list(items = items))
  }
}

count_valid <- function(...) {
  valid <- lapply(list(...), function(x) !is.na(as_number(x)))
  list(x = as.integer(Reduce(`+`, valid)))
}

is_row_node <- function(node) {
  is.call(node) && is.symbol(node[[1]]) && grepl("^row_", as.character(node[[1]]))
}
