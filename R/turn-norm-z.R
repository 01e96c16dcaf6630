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
  parts <- lapply(turn$table[norm_kinds[[kind]]], function(x) as.double(x[rows]))
  norm_score(as.name(source), parts, kind, turn$form)
}

# Between the rows of a band of numbers: below the first and above the last there are no norms.
norms_along <- function(turn, kind, source, along, rows, world) {
  v <- as.name(along)
  at <- as.double(turn$table[[along]][rows])
  if (anyNA(at)) fail("norm-numbers", column = along, what = "numbers")
  if (anyDuplicated(at)) fail("norm-band-twice")
  rows <- rows[order(at)]
  at <- sort(at)
  step <- free_step_names(world)
  place <- call("-", length(at), call("cuts_below", call("-", v), -rev(at)))
  parts <- lapply(turn$table[norm_kinds[[kind]]], function(x) {
    between_rows(as.double(x[rows]), at, v, step("row"), identical(turn$between, "linear"))
  })
  names <- lapply(setNames(nm = names(parts)), step)
  steps <- c(list(call("<-", step("row"), place)), unname(Map(function(name, part) {
    call("<-", name, part)
  }, names, parts)))
  score <- norm_score(as.name(source), names, kind, turn$form, step)
  list(list(outside_node(v, range(at)), NA, outside_norms),
    list(call("!", call("unanswered", v)), as.call(c(list(as.name("{")), steps, score)), NA))
}

# Names of steps that no variable has.
free_step_names <- function(world) {
  function(name) {
    name <- paste0("norm_", name)
    while (name %in% world$names) name <- paste0(name, "_")
    as.name(name)
  }
}

# The value of the row at or below; or on the line to the next one.
between_rows <- function(values, at, v, place, linear) {
  keys <- seq_along(at)
  of <- function(x) call("lookup", x, place, keys)
  if (!linear || length(at) == 1) return(of(values))
  slope <- c(diff(values) / diff(at), 0)
  call("+", of(values), call("*", call("-", v, of(at)), of(slope)))
}

# The score as the last of some steps, a list; `step` gives names to steps of its own.
norm_score <- function(x, parts, kind, form, step = NULL) {
  if (kind == "moments") return(steps_of_norm(call("/", call("-", x, parts$mean), parts$sd), form,
    step))
  u <- call("log", call("/", x, parts$M))
  if (is.null(step)) return(form_of_z(lms_score(u, call("*", parts$L, u), parts), form))
  c(list(call("<-", step("u"), u), call("<-", step("lu"), call("*", parts$L, step("u")))),
    steps_of_norm(lms_score(step("u"), step("lu"), parts), form, step))
}

steps_of_norm <- function(z, form, step) {
  score <- form_of_z(z, form)
  if (is.null(step)) score else list(score)
}

form_of_z <- function(z, form) {
  switch(form %||% "z", z = z, percentile = call("*", 100, call("pnorm", z)), from_z(z, form))
}

# Cole & Green (1992), for u = log(x/M) and lu = L u; near L = 0 by a series, where the power would
# lose figures.
lms_score <- function(u, lu, parts) {
  powers <- call("+", call("+", call("+", 1, call("/", lu, 2)), call("/", call("^", lu, 2), 6)),
    call("/", call("^", lu, 3), 24))
  near <- call("/", call("*", u, powers), parts$S)
  far <- call("/", call("-", call("exp", lu), 1), call("*", parts$L, parts$S))
  call("choose", call("<", call("abs", lu), 1e-3), near, far)
}
