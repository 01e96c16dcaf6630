# Forms by rank: the whole distribution is learned, and each value finds its place in it.
ranks_rows <- function(turn) {
  turn$how %in% c("percentile", "normal") || (turn$how == "stanine" && is.null(turn$reference))
}

placed_by_rank <- function(turn, world, source) {
  x <- as.name(source)
  notes <- world$learn_all(stat_of("distribution", x, turn))
  few <- vapply(notes, function(note) note$rows < 2, NA)
  if (all(few)) fail("no-spread", name = source, how = turn$how, rows = sum(vapply(notes, `[[`, 1L, "rows")))
  remarks <- if (any(few)) few_remarks(notes[few], world)
  notes <- notes[!few]
  nodes <- lapply(notes, function(note) rank_steps(x, note, turn$how))
  if (is.null(turn$within)) return(list(expr = nodes[[1]], notes = notes))
  pairs <- unlist(Map(function(note, node) list(group_test(note$groups), node), notes, nodes), recursive = FALSE)
  list(expr = as.call(c(list(as.name("choose")), unname(pairs))), notes = notes, remarks = remarks)
}

few_remarks <- function(notes, world) {
  each <- vapply(notes, function(note) paste0(group_labels(note$groups, world), " (", note$rows, ")"), "")
  paste0("Too few rows or no spread, so missing: ", paste(each, collapse = ", "))
}

group_test <- function(groups) {
  Reduce(function(a, b) call("&", a, b), Map(function(name, value) call("==", as.name(name), value),
    names(groups), groups))
}

# Below, at and between the values that were learned.
rank_steps <- function(x, note, how) {
  upto <- as.double(note$cumulative)
  total <- upto[length(upto)]
  below <- c(0, upto[-length(upto)])
  here <- upto - below
  on <- rank_value(below, here, total, how)
  between <- rank_value(c(below, total), rep(0, length(below) + 1), total, how)
  call("steps", x, as.double(note$is), on, between)
}

rank_value <- function(below, here, total, how) {
  share <- 100 * (below + here / 2) / total
  switch(how,
    percentile = share,
    stanine = 1 + vapply(share, function(p) sum(c(4, 11, 23, 40, 60, 77, 89, 96) < p - 1e-9), 0),
    normal = stats::qnorm((below + (here + 1) / 2 - 3 / 8) / (total + 1 / 4))
  )
}
