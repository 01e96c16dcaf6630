# Findings about what is measured: filled cells, far values that are moved, norms that do not reach.
# Of components, reliable changes and coders the turns themselves remark, see new_remark().
find_in_measures <- function(made, book) {
  switch(made$turn$verb,
    fill = list(filled_much(made), fill_against(made), fill_mixed(made, book)),
    winsorize = list(held_much(made)),
    norm = , instrument = list(outside_the_norms(made)))
}

# The rows of the conditions of which the receipt says something.
rows_counted <- function(made) {
  rows <- made$outcome$branch$rows
  sum(rows[which(nzchar(made$out$counted))])
}

filled_much <- function(made) {
  if (is.null(made$out$counted)) return(NULL)
  rows <- rows_counted(made)
  all <- rows + made$outcome$branch$rows[1]
  if (rows <= 0.1 * all) return(NULL)
  new_finding("filled-much", made$out$name, source = made$turn$from[match(made$out$name,
    made$turn$makes)], values = share_of(rows, all))
}

share_of <- function(rows, all) {
  paste0(counted(rows, "row"), " of ", grouped(all), " (", round(100 * rows / all), " %)")
}

# Items that go against the sum of the others, looked for with the first of them.
fill_against <- function(made) {
  turn <- made$turn
  if (made$out$name != turn$makes[1] || length(turn$from) < 3) return(NULL)
  spread <- products_at(made$outcome$at, lapply(turn$from, as.name), sample = TRUE)
  off <- point_the_other_way(spread)
  if (any(off)) new_finding("fill-against", made$out$name, values = paste0("`", turn$from[off],
    "`"))
}

# The mean of a row says nothing of items on different scales.
fill_mixed <- function(made, book) {
  turn <- made$turn
  by_row <- turn$how %in% c("two-way", "row mean")
  if (!by_row || made$out$name != turn$makes[1]) return(NULL)
  nodes <- lapply(self_named(turn$from), as.name)
  made$out$scale <- TRUE
  mixed_ranges(nodes, Map(item_facts, nodes, made$sources[turn$from]), made, book)
}

held_much <- function(made) {
  rows <- rows_counted(made)
  all <- sum(made$outcome$branch$rows, made$outcome$branch$none)
  if (isTRUE(rows > 0.1 * all)) new_finding("held-much", made$out$name,
    values = share_of(rows, all))
}

outside_the_norms <- function(made) {
  rows <- made$receipt$missing[outside_norms]
  if (isTRUE(rows > 0)) new_finding("outside-norms", made$out$name, values = counted(rows, "row"))
}
