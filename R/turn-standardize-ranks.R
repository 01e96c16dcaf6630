#' @include turn-standardize.R
NULL

# Forms by rank: the whole distribution is learned, and each value finds its place in it.
ranks_rows <- function(turn) {
  turn$how %in% c("percentile", "normal") || (turn$how == "stanine" && is.null(turn$reference))
}

placed_by_rank <- function(turn, world, source) {
  x <- as.name(source)
  notes <- world$learn_all(stat_of("distribution", x, turn))
  few <- vapply(notes, function(note) note$rows < 2, NA)
  rows <- sum(vapply(notes, function(note) as.double(note$rows), 0))
  if (all(few)) fail("no-spread", name = source, how = turn$how, rows = counted(rows, "row"))
  remarks <- if (any(few)) few_remarks(notes[few], world)
  notes <- notes[!few]
  nodes <- lapply(notes, function(note) rank_node(x, note, turn$how))
  if (is.null(turn$within)) return(list(expr = nodes[[1]], notes = notes))
  pairs <- unlist(Map(function(note, node) list(group_test(note$groups), node), notes, nodes),
    recursive = FALSE)
  list(expr = as.call(c(list(as.name("choose")), unname(pairs))), notes = notes, remarks = remarks)
}

few_remarks <- function(notes, world) {
  each <- vapply(notes, function(note) {
    paste0(group_labels(note$groups, world), " (", note$rows, ")")
  }, "")
  no_spread_remark(each)
}

group_test <- function(groups) {
  all_of_tests(Map(function(name, value) call("==", as.name(name), value), names(groups), groups))
}

# The formula of a form by rank, from the rows below a value and those equal to it in the
# distribution learned.
rank_node <- function(x, note, how) {
  at <- as.double(note$is)
  upto <- as.double(note$cumulative)
  total <- upto[length(upto)]
  below <- call("rows_below", x, at, upto)
  equal <- call("rows_equal", x, at, upto)
  if (how == "normal") {
    rank <- call("+", below, call("/", call("(", call("+", equal, 1)), 2))
    return(call("qnorm", call("/", call("-", rank, 3 / 8), total + 1 / 4)))
  }
  share <- call("/", call("*", 100, call("+", below, call("/", equal, 2))), total)
  if (how == "percentile") return(share)
  # a rank on a cut belongs to the band above
  call("+", 1, call("cuts_below", call("+", share, half_guard), c(4, 11, 23, 40, 60, 77, 89, 96)))
}
