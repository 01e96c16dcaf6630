# What looks wrong with a variable that a turn has made. `made` holds out, full, column, turn,
# and the receipt, which has counted much of it already.
find_all <- function(made, book) {
  learn_facts(book, held_vars(made$out))
  found <- unlist(lapply(finders, function(find) find(made, book)), recursive = FALSE)
  found <- Filter(function(f) !is.null(f), found)
  lapply(found, function(f) c(f, list(turn = made$turn$verb)))
}

finders <- list(
  function(made, book) find_in_rules(made, book), function(made, book) find_in_sources(made, book),
  function(made, book) find_in_items(made, book), function(made, book) find_in_coding(made, book),
  function(made, book) find_in_result(made, book)
)

# Findings that a turn's `accept` names carry the reason.
with_accepted <- function(found, accept) {
  lapply(found, function(f) {
    if (f$id %in% names(accept)) f$because <- accept[[f$id]]
    f
  })
}
