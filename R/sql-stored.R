# The columns of a table as they are stored: how they are asked for, of what type they are, and what
# R makes of them.

# Columns as they are asked for: where an engine holds whole numbers among others, all as others.
stored_sql <- function(site, names) {
  columns <- paste0("t.", sql_name(names))
  fractions <- function(x) is.double(x) && !inherits(x, "Date")
  real <- !site$engine$typed & vapply(site$columns[names], fractions, NA)
  ifelse(real, cast_sql(columns, site$engine$real), columns)
}

# Values of the type that their column has, whatever the first rows were; none is changed by that.
as_column_of <- function(values, like) {
  if (inherits(like, "Date")) return(as.Date(values))
  if (inherits(like, "POSIXct") || is.factor(like)) return(values)
  typed <- values
  storage.mode(typed) <- typeof(like)
  changed <- is.na(typed) != is.na(values) | !is.na(values) & typed != values
  if (any(changed)) fail("value-untyped", value = show_value(values[changed][1]),
    type = typeof(like))
  typed
}

# Of no account in engines without shards.
type_at_site <- function(site, names) unname((site$types %||% self_named(names))[names])
