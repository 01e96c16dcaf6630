# Times of one work: ours whole (with receipt and findings) once its columns were read, ours without
# receipt and findings, ours with the first reading of the columns, base R and the floor, one after
# the other, five times and more; ratios are medians of the runs' own ratios.

core <- asNamespace("ableturn")
with_receipts <- as.list(core)[c("find_all", "receipt_part")]
without_receipts <- list(find_all = function(...) list(), receipt_part = function(...) list())

put_in_core <- function(parts) {
  stopifnot(names(parts) == names(with_receipts))
  for (name in names(parts)) {
    unlockBinding(name, core)
    assign(name, parts[[name]], core)
  }
}

# Nothing is known of any column before a run.
forget <- function(book) {
  book <- core$as_book(book)
  for (known in list(core$cache_of(book), core$part_of_book(book, "came")$columns)) {
    rm(list = ls(known, all.names = TRUE), envir = known)
  }
}

seconds <- function(code) system.time(code, gcFirst = TRUE)[["elapsed"]]

check_equal <- function(work, book, data, name) {
  forget(book)
  ours <- work$ours(book, data)
  made <- lapply(core$derived_of(core$as_book(ours)), `[[`, "x")
  base <- work$base(data)
  same <- all(mapply(function(a, b) isTRUE(all.equal(as.numeric(a), as.numeric(b))), made, base))
  if (length(made) != length(base) || !same) stop("not the same result as base R: ", name)
}

measure_work <- function(name, book, data, runs = 5) {
  work <- works[[name]]
  if (!is.null(work$rows) && work$rows < nrow(data)) {
    data <- data[seq_len(work$rows), ]
    book <- turnbook(data)
  }
  check_equal(work, book, data, name)
  ways <- list(
    whole = function() ours_seconds(work, book, data, with_receipts),
    alone = function() ours_seconds(work, book, data, without_receipts),
    first = function() ours_seconds(work, book, data, with_receipts, anew = TRUE),
    base = function() seconds(work$base(data)), floor = function() floor_seconds(data[work$reads])
  )
  times <- vapply(seq_len(runs), function(run) in_turn(ways, run),
    c(whole = 0, alone = 0, first = 0, base = 0, floor = 0))
  middle <- function(x) stats::median(x)
  data.frame(work = name, rows = nrow(data), whole = middle(times["whole", ]),
    alone = middle(times["alone", ]), first = middle(times["first", ]),
    base = middle(times["base", ]), floor = middle(times["floor", ]),
    faster = middle(times["base", ] / times["whole", ]),
    faster_alone = middle(times["base", ] / times["alone", ]),
    faster_first = middle(times["base", ] / times["first", ]), target = work$target,
    reading_floors = middle((times["first", ] - times["whole", ]) / times["floor", ]))
}

# `anew`: nothing is known of the columns; else they were read before.
ours_seconds <- function(work, book, data, parts, anew = FALSE) {
  forget(book)
  if (!anew) lapply(core$variables_in(core$as_book(book), work$reads), core$facts_of)
  put_in_core(parts)
  on.exit(put_in_core(with_receipts))
  seconds(work$ours(book, data))
}

# Each run begins with another way: what comes first finds colder memory.
in_turn <- function(ways, run) {
  order <- (seq_along(ways) + run) %% length(ways) + 1
  vapply(ways[order], function(way) way(), 0)[names(ways)]
}

`%||%` <- function(a, b) if (is.null(a)) b else a

# Read often enough to be timed: one reading of a column takes a few milliseconds.
floor_seconds <- function(columns) {
  columns <- as.list(columns)
  system.time(for (i in 1:5) read_once(columns))[["elapsed"]] / 5
}
