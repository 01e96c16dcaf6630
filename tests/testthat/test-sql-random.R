# Random work on random tables of a database is told as in memory; ABLETURN_BOOKS is the number of
# books on each engine.
skip_on_cran()
skip_if_not_installed("RSQLite")

random_table <- function(rows) {
  pick <- function(...) sample(c(...), rows, TRUE)
  data.frame(id = sample(1000 + seq_len(rows)), a = pick(1:5, NA, 9), b = pick(1:5, NA),
    money = round(stats::rlnorm(rows, 7, 1), 2), day = as.Date("2031-01-01") + pick(0:400),
    few = pick(0, 1, NA), odd = pick(-1e9, 0.1, 0.25, 1e9, NA), place = pick("north", "south",
      "east ", "", NA), free = paste0("t", pick(seq_len(rows))))
}

# One step with a name of its own, from what the book has.
random_step <- function(book, name) {
  x <- lapply(names(book), function(v) known_variable(book, v)$x)
  reckoned <- vapply(x, is.numeric, NA) & !vapply(x, inherits, NA, what = "Date")
  number <- sample(setdiff(names(book)[reckoned], "id"), 1)
  var <- as.name(number)
  text <- as.name(sample(c("place", "free"), 1))
  how <- sample(c("mean", "max", "median"), 1)
  switch(sample(16, 1),
    function(b) {
      turn_recode(b, !!var, as = name, becomes(1, upto(2)), becomes(2, over(2)),
        becomes(3, unanswered()))
    },
    function(b) {
      turn_recode(b, !!text, as = name, becomes(1, "north"), becomes(2, holding("t1")),
        the_rest(0))
    },
    function(b) turn_compute(b, !!var / (a - 3) + round(money, 1), as = name),
    function(b) turn_compute(b, sqrt(!!var) + b / 3, as = name),
    function(b) turn_compute(b, ifelse(place == "north", month(day), !!var), as = name),
    function(b) turn_flag(b, !!var > mean(!!var) & !is.na(few), as = name),
    function(b) turn_standardize(b, !!var, as = name),
    function(b) turn_standardize(b, !!var, how = "percentile", as = name),
    function(b) turn_standardize(b, money, how = "robust", within = few, as = name),
    function(b) turn_bin(b, !!var, groups = 3, as = name),
    function(b) turn_bin(b, money, at = c(500, 1500), as = name),
    function(b) turn_composite(b, c(a, b, few), at_least = 2, as = name),
    function(b) turn_reverse(b, a, limits = c(1, 5), as = name),
    function(b) turn_collapse(b, place, rarer_than = 0.2, as = name),
    function(b) turn_group(b, !!var, within = place, how = how, as = name),
    function(b) turn_rescale(b, b, limits = c(1, 5), to = c(0, 10), as = name))
}

# What a step gives and tells, or the error that it is.
tried <- function(code) {
  value <- NULL
  lines <- tryCatch(receipts(value <- code), ableturn_error = function(e) {
    sub("\n.*", "", conditionMessage(e))
  })
  list(value = value, lines = lines)
}

books_on <- function(engine, round) {
  set.seed(round)
  data <- random_table(sample(c(1, 7, 60, 200), 1))
  connection <- table_on(engine, quietly(turnbook(data, id = id)), "chance", by = "id")
  stored <- DBI::dbGetQuery(connection, "SELECT * FROM chance ORDER BY id")
  withr::local_options(ableturn.answers = sample(c(8, 65535), 1))
  list(memory = quietly(turnbook(stored, id = id)),
    table = quietly(turnbook(connection, table = "chance", id = id)))
}

test_each("random work", places_here(), function(connection, engine) {
  for (round in seq_len(as.numeric(Sys.getenv("ABLETURN_BOOKS", "20")))) {
    books <- books_on(engine, round)
    for (step in 1:4) {
      set.seed(1000 * round + step)
      do <- random_step(books$memory, paste0("v", step))
      here <- tried(do(books$memory))
      there <- tried(do(books$table))
      info <- paste(engine, "book", round, "step", step)
      # what an engine cannot do as in memory, or without fetching answers, it says
      refused <- is.null(there$value) && grepl("SQL|not fetched|stay in", there$lines[1])
      if (refused) next
      expect_identical(there$lines, here$lines, info = info)
      if (!is.null(here$value) && !is.null(there$value)) {
        books <- list(memory = here$value, table = there$value)
      }
    }
    expect_equal(as.data.frame(books$table), as.data.frame(books$memory), tolerance = 1e-12,
      info = info)
    shown <- function(book) utils::capture.output(print(findings(book)), print(book))
    expect_identical(shown(books$table), shown(books$memory), info = info)
  }
})
