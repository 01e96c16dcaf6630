# How time grows with rows and with turns, and what few rows and starting cost.

growth_in_rows <- function() {
  do.call(rbind, lapply(c(1e5, 1e6, 1e7), function(rows) {
    set.seed(3)
    data <- sixty_columns(rows)[c(paste0("q", 1:10), "n1", "a1")]
    book <- turnbook(data)
    turns <- list(
      "composite of 10 items" = function() turn_composite(book, q1:q10, as = "s", at_least = 7),
      "recode" = function() turn_recode(book, n1, as = "r", becomes(1, upto(29)), the_rest(2)),
      "z score" = function() turn_standardize(book, a1, as = "z"),
      "10 bands of equal count" = function() turn_bin(book, a1, as = "b", groups = 10),
      "ratio" = function() turn_compute(book, a1 / (n1 + 1), as = "f")
    )
    times <- vapply(turns, function(turn) stats::median(replicate(5, fresh_seconds(turn, book))), 0)
    data.frame(rows = rows, turn = names(times), seconds = times, per_million = times / rows * 1e6,
      row.names = NULL)
  }))
}

fresh_seconds <- function(turn, book) {
  forget(book)
  seconds(turn())
}

growth_in_turns <- function() {
  set.seed(4)
  data <- sixty_columns(1000)
  do.call(rbind, lapply(c(10, 100, 1000), function(turns) {
    made <- NULL
    took <- seconds(made <- many_turns(turnbook(data), turns))
    path <- tempfile(fileext = ".yaml")
    save_turns(made, path)
    replay <- seconds(apply_turns(data, path))
    data.frame(turns = turns, seconds = took, milliseconds_each = 1000 * took / turns,
      replay_seconds = replay)
  }))
}

many_turns <- function(book, turns) {
  for (i in seq_len(turns)) {
    name <- paste0("v", i)
    book <- switch(i %% 5 + 1,
      turn_recode(book, n1, as = name, becomes(1, upto(i %% 80)), the_rest(2)),
      turn_compute(book, a1 / (n1 + !!i), as = name),
      turn_flag(book, a1 > 500 + !!i, as = name),
      turn_standardize(book, a1, reference = c(mean = i, sd = 2), as = name),
      turn_composite(book, q1:q5, weights = 1:5 + i, as = name)
    )
  }
  book
}

# One turn on 1,000 rows, its receipt printed.
few_rows <- function() {
  set.seed(5)
  book <- turnbook(sixty_columns(1000))
  options(ableturn.quiet = FALSE)
  on.exit(options(ableturn.quiet = TRUE))
  turns <- list(
    "recode" = function() turn_recode(book, n1, as = "r", becomes(1, upto(29)), the_rest(2)),
    "reverse" = function() turn_reverse(book, q1, limits = c(1, 5)),
    "composite of 5 items" = function() turn_composite(book, q1:q5, as = "s"),
    "z score" = function() turn_standardize(book, a1),
    "compute" = function() turn_compute(book, a1 / n1, as = "f")
  )
  word <- function(m) {
    conditionMessage(m)
    invokeRestart("muffleMessage")
  }
  shown <- function(turn) withCallingHandlers(turn(), message = word)
  each <- function(run) {
    run()
    stats::median(replicate(5, system.time(for (i in 1:10) run())[["elapsed"]] / 10)) * 1000
  }
  whole <- vapply(turns, function(turn) each(function() shown(turn)), 0)
  quiet <- vapply(turns, function(turn) each(function() suppressMessages(turn())), 0)
  data.frame(turn = names(turns), milliseconds = quiet, with_receipt_printed = whole,
    row.names = NULL)
}

starting <- function() {
  rscript <- file.path(R.home("bin"), "Rscript")
  command <- "exec/ableturn"
  survey <- system.file("extdata", "ferry-survey.csv", package = "ableturn")
  calls <- list(
    "R alone" = c("-e", "0"), "library(ableturn)" = c("-e", shQuote("library(ableturn)")),
    "ableturn --help" = c(command, "--help"), "ableturn look on the demo" = c(command, "look",
      shQuote(survey))
  )
  took <- vapply(calls, function(args) {
    stats::median(replicate(7, seconds(system2(rscript, args, stdout = FALSE, stderr = FALSE))))
  }, 0)
  data.frame(call = names(calls), seconds = took, row.names = NULL)
}
