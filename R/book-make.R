#' @export
make_turn.data.frame <- function(book, turn, replace = FALSE) {
  invisible(as_frame(make_turn(as_book(book), turn, replace)))
}

#' @export
make_turn.ableturn_book <- plainly(function(book, turn, replace = FALSE) {
  book <- with_sources(book)
  check_turn(turn)
  recorded <- if (!isTRUE(turn$refit)) turn$learned
  turn$refit <- NULL
  turn <- settle_turn(turn, world_of(book, recorded))
  cleared <- drop_replaced(book, turn, replace)
  made <- make_columns(cleared$book, turn, recorded)
  new <- add_entry(cleared$book, made, recorded = length(recorded) > 0)
  if (length(cleared$users)) new <- remake(in_order(new), turn$makes)$book
  made$receipt$turn$followed <- info_of(new)$followed
  finish_step(new, book, list(type = "turn", verb = turn$verb, makes = turn$makes), made$receipt)
})

# The files that were opened for a turn are files that the book came from.
with_sources <- function(book) {
  if (is.null(opened_files$paths)) return(book)
  info <- info_of(book)
  info$sources <- take_opened(info$sources)
  with_parts(book, info = info)
}

# The book with what a turn made; `recorded` tells that it rests on statistics from elsewhere.
add_entry <- function(book, made, recorded = FALSE) {
  entry <- list(type = "turn", turn = made$turn, recorded = recorded)
  with_parts(book, columns = c(derived_of(book), made$columns),
    log = c(steps_of(book), list(entry)))
}

drop_replaced <- function(book, turn, replace) {
  check_flag(replace, "replace")
  check_new_names(turn$makes)
  original <- intersect(turn$makes, original_names(book))
  if (length(original)) fail("name-original", name = original, verb = turn$verb)
  taken <- intersect(turn$makes, derived_names(book))
  if (length(taken) && !replace) fail("name-taken", name = taken)
  users <- if (length(taken)) setdiff(users_of(book, taken), taken)
  read <- if (length(users)) intersect(turn_reads(turn), users)
  if (length(read)) fail("cycle", name = taken[1], through = read)
  places <- vapply(taken, entry_of, 1L, book = book)
  for (place in if (length(places)) sort(unique(places), decreasing = TRUE)) {
    lost <- setdiff(steps_of(book)[[place]]$turn$makes, turn$makes)
    if (length(lost)) fail("replace-group", name = taken, others = lost)
    book <- drop_entry(book, place)
  }
  list(book = book, users = users)
}
