# Random rules over random columns, against an oracle that goes row by row in the plainest way.
skip_on_cran() # long; make test runs it

kinds <- c("Refused" = 98, "Away" = 99)

random_data <- function(rows = 40) {
  data.frame(
    x = sample(c(0:6, 2.5, 98, 99, NA), rows, TRUE), y = sample(c(1:3, 98, NA), rows, TRUE),
    t = sample(c("a", "B", " b", "", NA), rows, TRUE)
  )
}

random_matcher <- function() {
  ends <- sort(sample(0:6, 2))
  switch(sample(7, 1),
    sample(0:6, 1), sample(0:6, 3), from(ends[1], upto = ends[2]), from(ends[1], under = ends[2]),
    over(ends[1]), under(ends[2]), if (runif(1) < 0.5) unanswered() else unanswered("Refused")
  )
}

# TRUE, FALSE or NA: whether one value is what one matcher asks for.
asks <- function(m, value, kind, named) {
  if (inherits(m, "ableturn_matcher") && m$type == "missing") {
    return(is.na(value) && (m$kind == "any" || identical(m$kind, kind)))
  }
  if (is.na(value)) return(if (named) FALSE else NA)
  if (!inherits(m, "ableturn_matcher")) return(value %in% m)
  above <- if (m$low_in) value >= m$low else value > m$low
  below <- if (m$high_in) value <= m$high else value < m$high
  above && below
}

names_missing <- function(matchers) {
  any(vapply(matchers, function(m) inherits(m, "ableturn_matcher") && m$type == "missing", NA))
}

# One row by the words of the rules: the first true one, unless one before it is undecided.
decide <- function(rules, rest, row, kind, named) {
  for (i in seq_along(rules)) {
    each <- vapply(names(rules[[i]]),
      function(v) asks(rules[[i]][[v]], row[[v]], kind[[v]], v %in% named), NA)
    hit <- all(each)
    if (is.na(hit)) return(NA)
    if (hit) return(i)
  }
  if (rest && !any(is.na(unlist(row[named])))) 0 else NA
}

kind_of <- function(value) if (is.na(value)) "blank" else names(kinds)[match(value, kinds)]

oracle <- function(data, rules, rest) {
  used <- unique(unlist(lapply(rules, names)))
  asked <- vapply(used, function(v) names_missing(lapply(rules, `[[`, v)), NA)
  vapply(seq_len(nrow(data)), function(i) {
    raw <- as.list(data[i, used, drop = FALSE])
    kind <- lapply(raw, kind_of)
    row <- lapply(raw, function(v) if (v %in% kinds) NA else v)
    as.numeric(decide(rules, rest, row, kind, used[asked]))
  }, 0)
}

test_that("random rules do what their words say, in memory, as base R and by sheet", {
  set.seed(29)
  for (round in sampled(1:60)) {
    data <- random_data()
    vars <- sample(list("x", "y", c("x", "y")), 1)[[1]]
    rules <- replicate(sample(1:5, 1), sapply(vars, function(v) random_matcher(), simplify = FALSE),
      simplify = FALSE)
    rest <- runif(1) < 0.5
    single <- length(vars) == 1
    calls <- lapply(seq_along(rules), function(i) {
      do.call(becomes, c(list(i), if (single) unname(rules[[i]]) else rules[[i]]))
    })
    if (rest) calls <- c(calls, list(the_rest(0)))
    book <- quietly(define(turnbook(data), c(x, y), missing = kinds))
    book <- if (single) {
      quietly(turn_recode(book, tidyselect::all_of(vars), as = "made", !!!calls))
    } else {
      quietly(turn_recode(book, as = "made", !!!calls))
    }
    expected <- oracle(data, rules, rest)
    expect_equal(as.numeric(book$made), expected, info = paste("round", round))
    expect_equal(as.numeric(run_base_script(book, data)$made), expected,
      info = paste("script, round", round))
    same_on_engines(book, paste("round", round))
    sheet <- tempfile()
    save_turns(book, sheet)
    again <- quietly(apply_turns(data, sheet))
    told <- c("x", "why", "kinds", "facts", "meaning", "expr", "counts", "learned", "found")
    expect_identical(mget(told, known_variable(again, "made")), mget(told, known_variable(book,
      "made")))
  }
})

test_that("random data survive being written, read and written again", {
  set.seed(31)
  odd <- c("plain", "with, comma", "with \"quote\"", "two\nlines", " space ",
    "\u00e9t\u00e9", "NA?", "1e5x", "#")
  for (round in 1:20) {
    rows <- sample(1:30, 1)
    data <- data.frame(
      whole = c(1L, sample(c(-3:3, NA), rows - 1, TRUE)), real = round(rnorm(rows),
        sample(0:15, 1)) / 3,
      text = sample(odd, rows, TRUE), day = as.Date("2031-01-01") + sample(0:900, rows, TRUE),
      yes = sample(c(TRUE, FALSE), rows, TRUE)
    )
    first <- tempfile(fileext = ".csv")
    second <- tempfile(fileext = ".csv")
    write_data(turnbook(data), first)
    book <- turnbook(first)
    expect_equal(as.data.frame(book), data, tolerance = 0)
    write_data(book, second)
    expect_identical(readLines(second), readLines(first))
    expect_identical(core("fingerprint_of")(book), core("fingerprint")(data))
  }
})

test_that("any work can be undone step by step, and replayed from its sheet at every step", {
  set.seed(37)
  for (round in sampled(1:8)) {
    data <- random_data()
    books <- list(quietly(turnbook(data)))
    for (step in 1:8) {
      book <- books[[step]]
      source <- sample(setdiff(names(book), "t"), 1)
      name <- paste0("v", step)
      book <- quietly(switch(sample(4, 1),
        turn_recode(book, tidyselect::all_of(source), as = name, becomes(1, from(2)), the_rest(0)),
        turn_compute(book, each * 2 + 1, each = tidyselect::all_of(source), as = name),
        define(book, tidyselect::all_of(source), label = name, high = "more"),
        if (source %in% c("x", "y")) {
          define(book, tidyselect::all_of(source), missing = kinds[step %% 2 + 1])
        } else {
          turn_composite(book, c(tidyselect::all_of(source), y), as = name, at_least = 1)
        }
      ))
      books <- c(books, list(book))
    }
    for (step in 9:2) {
      sheet <- tempfile()
      save_turns(books[[step]], sheet)
      again <- quietly(apply_turns(data, sheet))
      expect_equal(as.data.frame(again), as.data.frame(books[[step]]))
      undone <- quietly(undo(books[[step]]))
      expect_equal(as.data.frame(undone), as.data.frame(books[[step - 1]]))
      expect_equal(codebook(undone), codebook(books[[step - 1]]))
    }
    back <- Reduce(function(book, i) quietly(undo(book)), 1:8, books[[9]])
    for (step in 2:9) {
      back <- quietly(redo(back))
      expect_equal(as.data.frame(back), as.data.frame(books[[step]]))
      expect_equal(codebook(back), codebook(books[[step]]))
      expect_equal(turns(back), turns(books[[step]]))
    }
    refused(redo(back), "nothing-to-redo")
    expect_equal(as.data.frame(quietly(undo(back))), as.data.frame(books[[8]]))
  }
})
