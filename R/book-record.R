#' Undo the last step
#'
#' Takes back the last step: a turn, a definition, a change or a check. What it
#' had replaced or changed comes back as it was.
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
  past <- held(book, "past")
  if (is.null(past)) fail("nothing-to-undo")
  columns <- held(book, "columns")
  columns[names(past$columns)] <- past$columns
  meanings <- held(book, "meanings")
  meanings[names(past$meanings)] <- past$meanings
  before <- with_parts(book,
    log = past$log %||% utils::head(held(book, "log"), -1), columns = columns[past$names], meanings = meanings,
    past = past$past
  )
  stale <- c(names(past$meanings), asked_by(book, names(past$meanings)), asked_by(before, names(past$meanings)))
  before <- with_parts(before, cache = cache_without(book, stale))
  keep_sheet(held(before, "info")$sheet, before, book)
  show_receipt(new_receipt(list(verb = "undo", step = past$step), list(), row_count(before)))
  before
}

# The end of every step: it can be undone, it is kept in the sheet, and its receipt is shown.
finish_step <- function(after, before, step, receipt) {
  after <- with_parts(after, past = past_of(after, before, step))
  keep_sheet(held(after, "info")$sheet, after, before)
  let_go_of_copies(after)
  show_receipt(receipt)
  after
}

# Only what the step changed is kept of the state before it.
past_of <- function(after, before, step) {
  changed <- function(part) {
    old <- held(before, part)
    new <- held(after, part)
    now <- new[names(old)]
    moved <- which(!same_objects(old, now))
    old[moved[!vapply(moved, function(i) identical(old[[i]], now[[i]]), NA)]]
  }
  grown <- identical(utils::head(held(after, "log"), -1), held(before, "log"))
  list(
    step = step, log = if (!grown) held(before, "log"), names = derived_names(before),
    columns = changed("columns"), meanings = changed("meanings"), past = held(before, "past")
  )
}

# Makes again what depends on the changed variables, and nothing else. Gives the book and the
# names that were made, turn by turn.
remake <- function(book, changed) {
  changed <- unique(c(changed, asked_by(book, changed)))
  made <- list()
  progress <- progress_of(length(held(book, "log")), "step")
  for (place in seq_along(held(book, "log"))) {
    entry <- held(book, "log")[[place]]
    if (entry$type != "turn") next
    reads <- c(turn_reads(entry$turn), unlist(lapply(held(book, "columns")[entry$turn$makes], `[[`, "reads")))
    if (!any(reads %in% changed)) next
    book <- remake_entry(book, place)
    changed <- c(changed, held(book, "log")[[place]]$turn$makes)
    made <- c(made, list(held(book, "log")[[place]]$turn$makes))
    progress(place)
  }
  list(book = book, made = made)
}

remake_entry <- function(book, place) {
  log <- held(book, "log")
  entry <- log[[place]]
  recorded <- if (isTRUE(entry$recorded)) entry$turn$learned else list()
  turn <- settle_turn(with_definitions(entry$turn, log), world_of(book, recorded))
  refuse_lost(book, setdiff(entry$turn$makes, turn$makes))
  made <- make_columns(book, turn, recorded)
  columns <- held(book, "columns")
  after <- utils::tail(which(names(columns) %in% entry$turn$makes), 1)
  kept <- columns[setdiff(names(columns), entry$turn$makes)]
  columns <- append(kept, made$columns, sum(names(kept) %in% names(columns)[seq_len(c(after, length(columns))[1])]))
  made$turn[["define"]] <- entry$turn[["define"]]
  log[[place]]$turn <- made$turn
  with_parts(book, columns = columns, log = log)
}

# A variable that is no longer made must not be used by another.
refuse_lost <- function(book, gone) {
  if (!length(gone)) return()
  users <- Filter(function(name) any(gone %in% held(book, "columns")[[name]]$reads), derived_names(book))
  users <- c(users, checks_on(book, gone))
  if (length(users)) fail("still-used", name = gone, users = users)
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
