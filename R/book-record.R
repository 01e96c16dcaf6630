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
  last <- length(part(book, "log"))
  if (!last) fail("nothing-to-undo")
  entry <- part(book, "log")[[last]]
  book <- if (entry$type == "turn") drop_entry(book, last) else undefine(book, last)
  keep_sheet(part(book, "info")$sheet, book)
  show_receipt(new_receipt(list(verb = "undo", entry = entry), list(), row_count(book)))
  book
}

drop_entry <- function(book, place) {
  log <- part(book, "log")
  gone <- log[[place]]$turn$makes
  columns <- part(book, "columns")
  with_parts(book, log = log[-place], columns = columns[setdiff(names(columns), gone)])
}

# The meanings as they came, then every definition but this one; what reads them is made again.
undefine <- function(book, place) {
  log <- part(book, "log")
  vars <- log[[place]]$vars
  book <- with_parts(book, log = log[-place], meanings = came_with(book, vars), cache = cache_without(book, vars))
  for (entry in Filter(function(e) e$type == "define", part(book, "log"))) {
    book <- set_meanings(book, intersect(intersect(entry$vars, vars), original_names(book)), entry$meaning)
  }
  remake(book, vars)
}

came_with <- function(book, vars) {
  meanings <- part(book, "meanings")
  first <- part(book, "info")$meanings %||% list()
  for (name in intersect(vars, names(meanings))) meanings[[name]] <- first[[name]] %||% new_meaning()
  meanings
}

# Makes again what depends on the changed variables, and nothing else.
remake <- function(book, changed) {
  for (place in seq_along(part(book, "log"))) {
    entry <- part(book, "log")[[place]]
    if (entry$type != "turn") next
    reads <- unlist(lapply(part(book, "columns")[entry$turn$makes], `[[`, "from"))
    if (!any(c(reads, entry$turn$makes) %in% changed)) next
    book <- remake_entry(book, place)
    changed <- c(changed, entry$turn$makes)
  }
  book
}

remake_entry <- function(book, place) {
  log <- part(book, "log")
  turn <- with_definitions(log[[place]]$turn, log)
  made <- make_columns(book, turn)
  columns <- part(book, "columns")
  columns[turn$makes] <- made$columns
  made$turn$define <- log[[place]]$turn$define
  log[[place]]$turn <- made$turn
  with_parts(book, columns = columns, log = log)
}

# A turn with all that was later stated about its variables.
with_definitions <- function(turn, log) {
  for (entry in log) {
    if (entry$type != "define") next
    for (name in intersect(turn$makes, entry$vars)) {
      turn$define[[name]] <- merge_meaning(turn$define[[name]] %||% new_meaning(), entry$meaning)
    }
  }
  turn
}

# The variables made from these, directly or in steps.
users_of <- function(book, names) {
  found <- character()
  for (name in derived_names(book)) {
    if (any(part(book, "columns")[[name]]$from %in% c(names, found))) found <- c(found, name)
  }
  found
}

entry_of <- function(book, name) {
  made <- vapply(part(book, "log"), function(e) name %in% e$turn$makes, NA)
  which(made)[1]
}
