# What coming in and going out cost: opening data, writing, saving, proving, reporting.

doors <- function(rows) {
  set.seed(6)
  data <- sixty_columns(rows)[c(1:30, 41:48, 51:52)]
  came <- tempfile(fileext = ".csv")
  readr::write_csv(data, came, na = "", progress = FALSE)
  ours <- tempfile(fileext = ".csv")
  theirs <- tempfile(fileext = ".csv")
  script <- tempfile(fileext = ".R")
  sheet <- tempfile(fileext = ".yaml")
  book <- turnbook(data)
  made <- forty_turns(book)
  write_script(made, script)
  rbind(
    door("open a data frame", function() turnbook(data), NULL),
    door("open a CSV", function() turnbook(came), function() {
      readr::read_csv(came, show_col_types = FALSE, progress = FALSE, lazy = FALSE)
    }),
    door("write a CSV", function() write_data(book, ours, overwrite = TRUE), function() {
      readr::write_csv(data, theirs, na = "", progress = FALSE)
    }),
    door("save the turns", function() {
      forget(made)
      save_turns(made, sheet, overwrite = TRUE)
    }, NULL),
    door("prove 40 variables", function() stopifnot(attr(prove(made), "proved")), function() {
      run_by_itself(data, script)
    })
  )
}

door <- function(name, ours, theirs, runs = 3) {
  times <- replicate(runs, c(seconds(ours()), if (is.null(theirs)) NA else seconds(theirs())))
  ratio <- stats::median(times[1, ] / times[2, ])
  data.frame(door = name, seconds = stats::median(times[1, ]), alone = stats::median(times[2, ]),
    times = ratio)
}

# Base R's own way: the data saved, read and run through the script.
run_by_itself <- function(data, script) {
  kept <- tempfile(fileext = ".rds")
  saveRDS(data, kept, compress = FALSE)
  room <- new.env()
  assign("data", readRDS(kept), room)
  source(script, local = room)
}

forty_turns <- function(book) {
  each <- function(letter, i) as.name(paste0(letter, i))
  for (i in 1:8) {
    n <- each("n", i)
    book <- turn_recode(book, !!n, as = paste0("r", i), becomes(1, upto(29)),
      becomes(2, from(30, under = 60)), the_rest(3))
    book <- turn_reverse(book, !!each("q", i), limits = c(1, 5), as = paste0("v", i))
    book <- turn_composite(book, paste0("q", i:(i + 9)), as = paste0("s", i), at_least = 7)
    book <- turn_standardize(book, !!each("s", i), as = paste0("z", i))
    book <- turn_compute(book, a1 / (!!n + !!i), as = paste0("f", i))
  }
  book
}

reports <- function(sizes) {
  set.seed(7)
  data <- sixty_columns(1200)
  took <- vapply(sizes, function(variables) {
    book <- many_turns(turnbook(data), variables)
    path <- tempfile(fileext = ".html")
    seconds(report(book, path))
  }, 0)
  data.frame(variables = sizes, seconds = took)
}
