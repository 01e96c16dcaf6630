# R's whole numbers end at 2,147,483,647; what goes beyond is missing in R. Where sums or products of whole columns
# could, the script works with real numbers: `as_real(x)` in a formula is as.numeric(x) in the script.
without_whole_overflow <- function(node, book) {
  if (!uses(node, c("+", "-", "*"))) return(node)
  walk_formula(node, function(call) {
    if (!call_head(call) %in% c("+", "-", "*") || length(call) != 3) return(call)
    if (isTRUE(whole_reach(call, book) > .Machine$integer.max)) call[[2]] <- call("as_real", call[[2]])
    call
  })
}

# How large the whole numbers of a node may get; NA where they are real numbers, or no numbers.
whole_reach <- function(node, book) {
  if (is.symbol(node)) return(column_reach(as.character(node), book))
  if (!is.call(node)) return(NA_real_)
  reaches <- vapply(as.list(node)[-1], whole_reach, 0, book = book)
  switch(call_head(node), "+" = , "-" = sum(reaches), "*" = prod(reaches), "(" = , abs = reaches[1], NA_real_)
}

column_reach <- function(name, book) {
  if (!name %in% names(book)) return(NA_real_)
  x <- values_of(book, name)
  if (!is.integer(x) && !is.logical(x)) return(NA_real_)
  facts <- facts_of(book, name)
  if (facts$valid) max(abs(facts$low), abs(facts$high)) else 0
}
