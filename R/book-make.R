#' @export
make_turn.data.frame <- function(book, turn, replace = FALSE) make_turn(as_book(book), turn, replace)

#' @export
make_turn.turnbook <- function(book, turn, replace = FALSE) {
  check_turn(turn)
  recorded <- if (!isTRUE(turn$refit)) turn$learned
  turn$refit <- NULL
  turn <- settle_turn(turn, world_of(book, recorded))
  cleared <- make_room(book, turn, replace)
  made <- make_columns(cleared$book, turn, recorded)
  new <- add_entry(cleared$book, made, recorded = length(recorded) > 0)
  if (length(cleared$users)) new <- remake(in_order(new), turn$makes)$book
  finish_step(new, book, list(type = "turn", verb = turn$verb, makes = turn$makes), made$receipt)
}

# The book with what a turn made; `recorded` tells that it rests on statistics from elsewhere.
add_entry <- function(book, made, recorded = FALSE) {
  entry <- list(type = "turn", turn = made$turn, recorded = recorded)
  with_parts(book, columns = c(held(book, "columns"), made$columns), log = c(held(book, "log"), list(entry)))
}

make_room <- function(book, turn, replace) {
  check_flag(replace, "replace")
  check_new_names(turn$makes)
  original <- intersect(turn$makes, original_names(book))
  if (length(original)) fail("name-original", name = original, verb = turn$verb)
  taken <- intersect(turn$makes, derived_names(book))
  if (length(taken) && !replace) fail("name-taken", name = taken)
  users <- if (length(taken)) setdiff(users_of(book, taken), taken)
  read <- intersect(turn_reads(turn), users)
  if (length(read)) fail("cycle", name = taken[1], through = read)
  for (place in sort(unique(vapply(taken, entry_of, 1L, book = book)), decreasing = TRUE)) {
    lost <- setdiff(held(book, "log")[[place]]$turn$makes, turn$makes)
    if (length(lost)) fail("replace-group", name = taken, others = lost)
    book <- drop_entry(book, place)
  }
  list(book = book, users = users)
}
