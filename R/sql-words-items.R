# Scores over several items as terms of SQL: the number of valid items is a column, so are the sums
# that a score rests on.

row_in_sql <- function(word) {
  function(node, state) {
    items <- Map(hold_term, number_terms(row_items(node), state),
      lapply(row_items(node), item_name),
      MoreArgs = list(state = state))
    options <- lapply(as.list(node)[intersect(names(node), row_options)], evaluate, NULL)
    n <- valid_items(items, state)
    if (word == "row_valid") return(n)
    score <- row_score(word, items, n, options, state)
    if (!is.null(options$digits)) score <- rounded_term(hold_term(score, "score", state),
      options$digits, state, options$half)
    least <- max(1, as.integer(options$at_least %||% length(items)))
    new_term(case_sql(paste(n$sql, ">=", least), score$sql), "number",
      top_level(list(n, score)))
  }
}

# What an item is called where it needs a column: by its variable.
item_name <- function(node) c(formula_vars(node), "item")[1]

valid_items <- function(items, state) {
  ones <- vapply(items, function(item) {
    if (identical(item$null, character())) "1" else
      case_sql(paste(item$sql, "IS NOT NULL"), "1", "0")
  }, "")
  hold_term(new_term(cast_sql(folded_sum(ones), state$engine$real), "number", top_level(items)),
    "n_valid", state)
}

folded_sum <- function(parts) {
  if (sum(nchar(parts) + 3) <= 76) return(paste(parts, collapse = " + "))
  paste0(parts[1], "\n", indented(paste("+", parts[-1])))
}

row_score <- function(word, items, n, options, state) {
  weights <- as.double(options$weights %||% rep(1, length(items)))
  switch(word,
    row_min = extreme_of_items("least", items, state),
    row_max = extreme_of_items("greatest", items, state),
    row_median = median_of_items(items, n, state),
    row_sd = sd_of_items(items, n, state),
    weighted_score(word, items, n, weights, options, state)
  )
}

# The sum of the valid items, each times its weight.
sum_of_items <- function(items, weights, state) {
  texts <- vapply(items, `[[`, "", "sql")
  times <- ifelse(weights == 1, texts, paste(texts, "*", number_sql(weights, state$engine)))
  parts <- ifelse(vapply(items, function(item) identical(item$null, character()), NA), times,
    case_of_valid(texts, times))
  hold_term(new_term(folded_sum(parts), "number", top_level(items)), "total", state)
}

case_of_valid <- function(x, value) {
  paste0("CASE WHEN ", x, " IS NOT NULL THEN ", value, " ELSE 0 END")
}

# Where it stands by itself, before it is rounded, nothing is divided by zero.
weighted_score <- function(word, items, n, weights, options, state) {
  prorate <- isTRUE(options$prorate)
  total <- sum_of_items(items, weights, state)
  if (word == "row_sum" && !prorate) return(total)
  held <- if (all(weights == 1)) n else weight_of_valid(items, weights, state)
  level <- top_level(list(total, held))
  bare <- all(weights == 1) && is.null(options$digits)
  below <- if (bare) held$sql else case_sql(paste(held$sql, "<> 0"), held$sql)
  if (word == "row_mean") {
    return(new_term(paste0(total$sql, " / ", below), "number", level, 7))
  }
  all <- number_sql(sum(weights), state$engine)
  prorated <- if (all(weights == 1)) paste0(total$sql, " * (", all, " / ", below, ")") else
    paste0(total$sql, " * ", all, " / ", below)
  new_term(prorated, "number", level, 7)
}

weight_of_valid <- function(items, weights, state) {
  parts <- case_of_valid(vapply(items, `[[`, "", "sql"), number_sql(weights, state$engine))
  sum <- cast_sql(folded_sum(parts), state$engine$real)
  hold_term(new_term(sum, "number", top_level(items)), "weight", state)
}

# The smallest or largest of several. Where the engine gives nothing when one of them is missing,
# something infinite stands for those.
extreme_of_items <- function(which, items, state) {
  texts <- vapply(items, `[[`, "", "sql")
  template <- state$engine[[which]]
  if (length(items) == 1) return(items[[1]])
  if (!is.null(template)) {
    return(new_term(fill_sql(template, folded_list(texts)), "number", top_level(items)))
  }
  endless <- if (which == "least") "9e999" else "-9e999"
  parts <- paste0("CASE WHEN ", texts, " IS NOT NULL THEN ", texts, " ELSE ", endless, " END")
  new_term(paste0(if (which == "least") "MIN(" else "MAX(", folded_list(parts), ")"), "number",
    top_level(items))
}

# The middle one of the valid items, or half way between the two in the middle.
median_of_items <- function(items, n, state) {
  texts <- vapply(items, `[[`, "", "sql")
  level <- top_level(c(items, list(n)))
  if (state$engine$name == "duckdb") {
    sql <- paste0("LIST_AGGREGATE([", folded_list(texts), "], 'median')")
    return(new_term(sql, "number", level))
  }
  each <- paste0("SELECT ", texts[1], " AS item", paste0(" UNION ALL SELECT ", texts[-1],
    collapse = ""))
  ranked <- paste0("SELECT item, ROW_NUMBER() OVER (ORDER BY item) AS place FROM (", each,
    ") AS items WHERE item IS NOT NULL")
  sql <- paste0("(SELECT AVG(item) FROM (", ranked, ") AS ranked WHERE place * 2 BETWEEN ", n$sql,
    " AND ", n$sql, " + 2)")
  new_term(sql, "number", level)
}

sd_of_items <- function(items, n, state) {
  total <- sum_of_items(items, rep(1, length(items)), state)
  mean <- hold_term(new_term(paste0(total$sql, " / ", case_sql(paste(n$sql, "> 0"), n$sql)),
    "number", total$level), "mean", state)
  off <- vapply(items, function(item) paste0("(", item$sql, " - ", mean$sql, ")"), "")
  squares <- folded_sum(case_of_valid(vapply(items, `[[`, "", "sql"), paste(off, "*", off)))
  squares <- hold_term(new_term(squares, "number", mean$level), "squares", state)
  new_term(paste0("SQRT(", squares$sql, " / ", case_sql(paste(n$sql, "> 1"),
    paste(n$sql, "- 1")), ")"), "number", squares$level)
}

item_words_in_sql <- lapply(self_named(c("row_mean", "row_sum", "row_min", "row_max", "row_sd",
  "row_median", "row_valid")), row_in_sql)
