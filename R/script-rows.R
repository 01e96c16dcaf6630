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
    paste0("apply(", items, ", 1, function(x) if (all(is.na(x))) NA else ", formula_words[[word]]$how,
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
