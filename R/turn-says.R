# Words that several kinds of turn say how they are made with.

in_a_row <- function(names) paste(names, collapse = ", ")

within_words <- function(turn) if (length(turn$within)) paste(" within", in_a_row(turn$within)) else ""

score_in_words <- function(made) {
  if (!is_row_node(made$expr)) return(paste0("scored from ", in_a_row(made$from)))
  how <- sub("^row_", "", call_head(made$expr))
  items <- row_items(made$expr)
  least <- as.list(made$expr)$at_least %||% length(items)
  turned <- vapply(Filter(is.call, items), function(node) formula_vars(node)[1], "")
  paste0("the ", how, " of ", length(items), " items (", in_a_row(made$from), "), for rows with ",
    if (least == length(items)) "all of them" else paste("at least", least), " valid",
    if (length(turned)) paste0("; reworked on the way: ", in_a_row(turned)),
    if (isTRUE(as.list(made$expr)$prorate)) "; prorated")
}

form_words <- c(z = "z score", t = "T score", iq = "score of mean 100 and SD 15", sten = "sten score",
  stanine = "stanine", percentile = "percentile rank", normal = "normal score of the rank",
  pomp = "percent of the maximum possible", robust = "distance from the median in MADs",
  centred = "distance from the mean", minmax = "place between lowest and highest")
