# What is known of the size of numbers before a script is run, from the values that are there.

# Whether a part of a formula gives whole numbers only.
is_whole_node <- function(node, state) {
  if (is.symbol(node)) return(is_whole_variable(as.character(node), state))
  if (!is.call(node)) return(is.numeric(node) && all(node == round(node)))
  head <- call_head(node)
  parts <- function() all(vapply(as.list(node)[-1], is_whole_node, NA, state = state))
  switch(head,
    "(" = , "+" = , "-" = , "*" = , "abs" = parts(),
    round = length(node) == 2, floor = , ceiling = , trunc = , sign = , nchar = , year = ,
    month = , day = , years_between = , months_between = , hour = , row_valid = TRUE, FALSE
  )
}

is_whole_variable <- function(name, state) {
  if (!name %in% names(state$book)) return(FALSE)
  if (is_long(column_in(state$book, name))) return(column_in(state$book, name)$far$whole)
  x <- if (is_on_site(state$book) || has_text(state$book, name)) {
    as_number(values_met(state$book, name)$values)
  } else {
    values_of(state$book, name)
  }
  is.numeric(x) && is_whole(x[!is.na(x)]) || is.logical(x) || inherits(x, "Date")
}

# Whether a product may be out of the range of numbers: engines stop there.
may_overflow <- function(node, state) {
  isTRUE(reach_in_sql(node, state) > 1e150)
}

# How large the numbers of a node may get.
reach_in_sql <- function(node, state) {
  if (is.symbol(node)) return(variable_reach(as.character(node), state))
  if (!is.call(node)) return(if (is.numeric(node)) max(abs(node)) else 0)
  reaches <- vapply(row_items(node), reach_in_sql, 0, state = state)
  switch(call_head(node),
    "+" = , "-" = , "(" = , "abs" = sum(reaches), "*" = prod(reaches),
    "/" = quotient_reach(reaches[1], node[[3]]),
    "^" = if (is.numeric(node[[3]])) max(1, reaches[1])^max(1, abs(node[[3]])) else Inf,
    exp = Inf, sqrt = , log = , log10 = , log2 = , log1p = max(1000, sqrt(reaches[1])),
    lookup = max(0, abs(as.double(as_number(node[[2]]))), na.rm = TRUE),
    max(0, reaches) * max(1, length(reaches))
  )
}

# What is divided by is not known to be far from zero.
quotient_reach <- function(above, below) {
  if (is.numeric(below)) above / max(1e-300, abs(below)) else above * 1e30
}

variable_reach <- function(name, state) {
  if (!name %in% names(state$book)) return(1e30)
  facts <- facts_of(state$book, name)
  if (has_text(state$book, name)) return(1e30)
  ends <- abs(c(facts$low, facts$high))
  if (anyNA(ends)) 0 else max(ends)
}

# The same of a variable or a number alone; of what is worked out, nothing is asked.
source_reach <- function(node, state) if (is.call(node)) 0 else reach_in_sql(node, state)

# Whether some variable of a script holds something infinite, and whether some holds numbers beyond
# 2^52.
bounds_of_book <- function(book) {
  used <- c(originals_in_script(book), derived_names(book))
  of <- function(test) any(vapply(used, test, NA))
  list(
    endless = of(function(name) {
      x <- if (is_on_site(book)) column_in(book, name)$cells$values else values_of(book, name)
      isTRUE(column_in(book, name)$far$endless) || is.double(x) && any(is.infinite(x))
    }),
    large = of(function(name) {
      facts <- facts_of(book, name)
      any(abs(c(facts$low, facts$high)) > 2^50, na.rm = TRUE)
    })
  )
}
