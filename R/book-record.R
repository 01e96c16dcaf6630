#' Undo the last step
#'
#' Takes back the last turn or definition on the record, and with it the
#' variables it made.
#'
#' @param book A turnbook.
#' @return The book without it.
#' @section Errors: `ableturn_error_nothing_to_undo` for an empty record.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"), id = person)
#' book <- turn_compute(book, income / household, as = "income_each")
#' book <- undo(book)
#' @export
undo <- function(book) {
  book <- as_book(book)
  last <- length(held(book, "log"))
  if (!last) fail("nothing-to-undo")
  entry <- held(book, "log")[[last]]
  book <- if (entry$type == "turn") unmake(book, last) else undefine(book, last)
  keep_sheet(held(book, "info")$sheet, book)
  show_receipt(new_receipt(list(verb = "undo", entry = entry), list(), row_count(book)))
  book
}

# What the turn had replaced comes back.
unmake <- function(book, place) {
  replaced <- held(book, "log")[[place]]$replaced
  book <- drop_entry(book, place)
  for (turn in replaced) book <- add_entry(book, make_columns(book, turn, turn$learned))
  book
}

# The meanings as they came, then every definition but this one; what reads them is made again.
undefine <- function(book, place) {
  log <- held(book, "log")
  vars <- log[[place]]$vars
  book <- with_parts(book, log = log[-place], meanings = came_with(book, vars), cache = cache_without(book, vars))
  for (entry in Filter(function(e) e$type == "define", held(book, "log"))) {
    book <- set_meanings(book, intersect(intersect(entry$vars, vars), original_names(book)), entry$meaning)
  }
  remake(book, vars)
}

# Makes again what depends on the changed variables, and nothing else.
remake <- function(book, changed) {
  for (place in seq_along(held(book, "log"))) {
    entry <- held(book, "log")[[place]]
    if (entry$type != "turn") next
    reads <- unlist(lapply(held(book, "columns")[entry$turn$makes], `[[`, "from"))
    if (!any(c(reads, entry$turn$makes) %in% changed)) next
    book <- remake_entry(book, place)
    changed <- c(changed, entry$turn$makes)
  }
  book
}

remake_entry <- function(book, place) {
  log <- held(book, "log")
  turn <- with_definitions(log[[place]]$turn, log)
  made <- make_columns(book, turn)
  columns <- held(book, "columns")
  columns[turn$makes] <- made$columns
  made$turn[["define"]] <- log[[place]]$turn[["define"]]
  log[[place]]$turn <- made$turn
  with_parts(book, columns = columns, log = log)
}

# A turn with all that was later stated about its variables.
with_definitions <- function(turn, log) {
  for (entry in log) {
    if (entry$type != "define") next
    for (name in intersect(turn$makes, entry$vars)) {
      turn[["define"]][[name]] <- merge_meaning(turn[["define"]][[name]] %||% new_meaning(), entry$meaning)
    }
  }
  turn
}
