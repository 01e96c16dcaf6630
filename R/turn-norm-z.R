# Norms by means and SDs, or by L, M and S, in bands and between rows of numbers.

# The score of a source as a choose over bands and places between rows.
z_norms <- function(turn, kind, source, world) {
  columns <- norm_kinds[[kind]]
  bands <- setdiff(names(turn$table), columns)
  along <- number_band(turn, bands, world)
  others <- setdiff(bands, along)
  value <- function(rows) {
    if (is.null(along)) return(list(one_row_norms(turn, kind, source, rows)))
    norms_along(turn, kind, source, along, rows, world)
  }
  if (length(others)) return(in_bands(turn$table, others, world, value))
  found <- value(seq_along(turn$table[[columns[1]]]))
  if (is.list(found[[1]])) chosen_of(banded(NULL, found)) else list(expr = found[[1]])
}

# The band whose rows follow each other: one of numbers that are no codes. There may be one, and
# there must be one to interpolate.
number_band <- function(turn, bands, world) {
  found <- Filter(function(name) {
    is.numeric(turn$table[[name]]) && !length(world$meaning(name)$codes) && !world$is_text(name)
  }, bands)
  if (length(found) > 1) fail("norm-two-numbers", names = found)
  if (!length(found) && identical(turn$between, "linear")) fail("norm-linear")
  if (length(found)) found
}

# Norms that are the same for a whole band.
one_row_norms <- function(turn, kind, source, rows) {
  if (length(rows) > 1) fail("norm-band-twice")
  columns <- norm_kinds[[kind]]
  norm_score(as.name(source), lapply(turn$table[columns], function(x) as.double(x[rows])), kind,
    turn$form)
}

# Between the rows of a band of numbers: below the first and above the last there are no norms.
norms_along <- function(turn, kind, source, along, rows, world) {
  v <- as.name(along)
  at <- as.double(turn$table[[along]][rows])
  if (anyNA(at)) fail("norm-numbers", column = along, what = "numbers")
  if (anyDuplicated(at)) fail("norm-band-twice")
  rows <- rows[order(at)]
  at <- sort(at)
  place <- call("-", length(at), call("cuts_below", call("-", v), -rev(at)))
  parts <- lapply(turn$table[norm_kinds[[kind]]], function(x) {
    between_rows(as.double(x[rows]), at, v, place, identical(turn$between, "linear"))
  })
  list(list(outside_node(v, range(at)), NA, outside_norms),
    list(call("!", call("unanswered", v)), norm_score(as.name(source), parts, kind, turn$form), NA))
}

# The value of the row at or below; or on the line to the next one.
between_rows <- function(values, at, v, place, linear) {
  keys <- seq_along(at)
  of <- function(x) call("lookup", x, place, keys)
  if (!linear || length(at) == 1) return(of(values))
  slope <- c(diff(values) / diff(at), 0)
  call("+", of(values), call("*", call("-", v, of(at)), of(slope)))
}

norm_score <- function(x, parts, kind, how) {
  z <- if (kind == "moments") call("/", call("-", x, parts$mean), parts$sd) else lms_score(x, parts)
  switch(how %||% "z", z = z, percentile = call("*", 100, call("pnorm", z)), from_z(z, how))
}

# Cole & Green (1992); near L = 0 by a series, where the power would lose figures.
lms_score <- function(x, parts) {
  u <- call("log", call("/", x, parts$M))
  lu <- call("*", parts$L, u)
  powers <- call("+", call("+", call("+", 1, call("/", lu, 2)), call("/", call("^", lu, 2), 6)),
    call("/", call("^", lu, 3), 24))
  near <- call("/", call("*", u, powers), parts$S)
  far <- call("/", call("-", call("exp", lu), 1), call("*", parts$L, parts$S))
  call("choose", call("<", call("abs", lu), 1e-3), near, far)
}
