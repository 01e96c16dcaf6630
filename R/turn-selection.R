# Selections of variables where names may stand, too.

selection_words <- c(
  ":", "c", "!", "starts_with", "ends_with", "contains", "matches", "all_of", "any_of",
  "everything", "where", "last_col", "num_range", "one_of"
)

is_selection <- function(expr) {
  if (!is.call(expr)) return(TRUE)
  is.call(expr) && (call_head(expr) %in% selection_words ||
    (call_head(expr) == "-" && length(expr) == 2))
}

# The text of a formula as it is recorded: selections inside functions over items, such as
# row_mean(q1:q5) or row_sum(starts_with("q")), are written out as the names that they stand for.
# `env` is where all_of() finds names of the analyst's own.
formula_of <- function(expr, book, env = baseenv()) {
  formula_text(items_written_out(tidy_node(expr), book, env))
}

# Among items only what can be nothing else is a selection: a stretch from one name to another, a
# function that selects, or several of these in c(). `-a` and `!a` are values.
selects_items <- function(expr) {
  if (!is.call(expr)) return(FALSE)
  parts <- as.list(expr)[-1]
  switch(call_head(expr),
    ":" = all(vapply(parts, is.symbol, NA)),
    c = all(vapply(parts, function(part) is.symbol(part) || selects_items(part), NA)),
    call_head(expr) %in% setdiff(selection_words, "!"))
}

items_written_out <- function(node, book, env = baseenv()) {
  if (!is.call(node)) return(node)
  over_items <- has_word_trait(call_head(node), "over items")
  parts <- as.list(node)
  written <- lapply(seq_along(parts)[-1], function(i) {
    if (over_items && selects_items(parts[[i]])) {
      return(lapply(select_vars(book, rlang::new_quosure(parts[[i]], env)), as.name))
    }
    setNames(list(items_written_out(parts[[i]], book, env)), names(parts)[i])
  })
  as.call(c(parts[1], unlist(written, recursive = FALSE)))
}
