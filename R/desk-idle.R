# What a desk does while nothing is asked of it: the fingerprint of the data, a column at a time, so
# that the first sheet of large data need not wait for it.

# `room` as in desk_app(). Begins with each book that is opened; a thing that the page says comes
# first, and half a second is left for the next.
fill_idle_time <- function(room) {
  book <- room$screen$state$book
  came <- part_of_book(book, "came")
  if (identical(room$idle, came) || !site_can(site_of(book), "fingerprint")) return(invisible())
  room$idle <- came
  go_on <- function() {
    if (isTRUE(room$closed) || !identical(room$idle, came)) return(invisible())
    waited <- seconds_now() - room$heard
    if (waited < 0.5) return(later::later(go_on, 0.5 - waited))
    if (!fingerprint_ahead(book)) return(later::later(go_on, 0.01))
    write_print_aside(room$screen$state$book)
  }
  later::later(go_on, 0.5)
}

# What was kept aside without it is written once more.
write_print_aside <- function(book) {
  if (is_fingerprinted(book)) return(invisible())
  fingerprint_of(book)
  if (is_rescued(book) && length(steps_of(book))) keep_sheet(info_of(book)$sheet, book, book)
}
