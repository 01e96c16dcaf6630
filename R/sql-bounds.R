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
  variable <- variable_met(name, state)
  if (is.null(variable)) return(FALSE)
  x <- values_of(variable)
  is.logical(x) || inherits(x, "Date") || has_whole_values(variable)
}

# A variable by its name; NULL for a name that a formula gives itself.
variable_met <- function(name, state) {
  if (!is.null(state$temporary[[name]])) return(NULL)
  variable <- state$variable(name)
  if (is_made(variable) || !is.null(variable$raw)) variable
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
  variable <- variable_met(name, state)
  if (is.null(variable) || has_text(variable)) return(1e30)
  ends <- abs(c(facts_of(variable)$low, facts_of(variable)$high))
  if (anyNA(ends)) 0 else max(ends)
}

# The same of a variable or a number alone; of what is worked out, nothing is asked.
source_reach <- function(node, state) if (is.call(node)) 0 else reach_in_sql(node, state)

# Whether a variable holds numbers beyond 2^50.
holds_large_numbers <- function(variable) {
  facts <- facts_of(variable)
  any(abs(c(facts$low, facts$high)) > 2^50, na.rm = TRUE)
}
