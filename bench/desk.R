# How long the desk takes to answer: on the demo survey and on wide and long data; each of a hundred
# steps on 300 variables; and rows of the data, as they come into sight.
# Use: Rscript bench/desk.R [ROWS COLUMNS]
library(ableturn)
core <- function(name) get(name, asNamespace("ableturn"))
given <- as.numeric(commandArgs(TRUE))
rows <- if (length(given)) given[1] else 1e6
columns <- if (length(given) > 1) given[2] else 1000

# Twenty kinds of column, over and over: their content is shared, what is made of each is not.
made_up <- function(rows, columns) {
  set.seed(7)
  kinds <- c(lapply(1:12, function(i) sample(c(1:5, 99L), rows, TRUE)),
    lapply(1:4, function(i) round(stats::rlnorm(rows, 7), 2)),
    lapply(1:4, function(i) sample(c("north", "south", "east", NA), rows, TRUE)))
  out <- kinds[(seq_len(columns) - 1) %% 20 + 1]
  names(out) <- paste0("v", seq_len(columns))
  as.data.frame(out)
}

# A function that says something to a desk on a book, and gives the seconds until it is answered.
# Each step is kept aside at once, as on a desk without a sheet of the analyst.
Sys.setenv(R_USER_DATA_DIR = tempfile())
talk_to <- function(book) {
  screen <- core("new_screen")(core("with_rescue")(core("as_book")(book)))
  function(...) {
    took <- system.time(answered <- core("answer_safely")(screen, list(...)))[["elapsed"]]
    screen <<- answered$screen
    if (!is.null(screen$state$error)) stop(screen$state$error)
    took
  }
}

# What a page says one after the other, and the seconds until it is answered.
session <- function(book) {
  say <- talk_to(book)
  seen <- names(book)[1:12]
  rule <- function(value, code) list(value = value, kind = "number", becomes = code)
  rules <- list(values = list(rule("1", "0"), rule("2", "0")), ranges = list(list(when = "3 ..",
    becomes = "1")), cases = list(), rest = list(how = "none"), labels = list())
  c(
    "the page" = say(do = "hello"),
    "twelve variables counted, first time" = say(do = "measure", names = seen),
    "a search" = say(do = "list", search = "v99"),
    "the list by type" = say(do = "list", sort = "type"),
    "the list as it was" = say(do = "list"),
    "a variable chosen" = say(do = "choose", names = list("v1")),
    "its picture" = say(do = "picture", of = "look", name = "v1"),
    "a form opened" = say(do = "ask", verb = "recode"),
    "a preview" = say(do = "fill", verb = "recode", typed = list(rules = rules)),
    "the next preview" = say(do = "fill", verb = "recode", typed = list(rules = rules, as = "a")),
    "its picture, before and after" = say(do = "picture", of = "trial", name = "a"),
    "kept" = say(do = "keep"),
    "six items chosen" = say(do = "choose", names = as.list(paste0("v", 2:7))),
    "their score, a preview" = say(do = "ask", verb = "composite"),
    "thrown away" = say(do = "leave"), "undone" = say(do = "undo"), "redone" = say(do = "redo"),
    "the base script" = say(do = "tab", tab = "script"),
    "rows in sight" = say(do = "grid", from = 1, n = 30, column = 1, columns = 8),
    "rows far down" = say(do = "grid", from = 5e5, n = 30, column = 1, columns = 8),
    "sorted" = say(do = "grid", from = 1, n = 30, column = 1, columns = 8, sort = "v5"),
    "further down" = say(do = "grid", from = 9e4, n = 30, column = 1, columns = 8, sort = "v5"),
    "filtered" = say(do = "grid", from = 1, n = 30, column = 1, columns = 8, where = "v1 == 3"),
    "the working of a row" = say(do = "row", key = 7)
  )
}

# A hundred steps, one after the other: the seconds that the first, the tenth ... of them took from
# Keep to the page as it is then, and from the choice of a variable to the preview.
hundred <- function(columns = 300, rows = 2000, steps = 100) {
  set.seed(3)
  items <- as.data.frame(lapply(seq_len(columns), function(i) sample(c(1:5, NA), rows, TRUE)))
  names(items) <- paste0("v", seq_len(columns))
  say <- talk_to(turnbook(items))
  say(do = "hello")
  each <- lapply(seq_len(steps), function(i) {
    before <- say(do = "choose", names = list(paste0("v", i))) + say(do = "ask", verb =
      "standardize")
    c(step = i, preview = before, keep = say(do = "keep"))
  })
  as.data.frame(do.call(rbind, each))[unique(c(1, 10, 25, 50, 75, steps)), ]
}

demo <- turnbook(demo_file("ferry-survey.csv"), codebook = demo_file("ferry-survey.codebook.json"),
  id = person)
plain <- as.data.frame(demo, missing = "codes")[c("st_1", "st_3", "st_4", "st_6", "ea_1", "ea_2",
  "ea_3", "ea_4", "tr_1", "tr_2", "tr_3", "income")]
names(plain) <- paste0("v", 1:12)
large <- made_up(rows, columns)
times <- data.frame(demo = session(turnbook(plain)), large = session(turnbook(large)))
names(times)[2] <- paste(format(rows, big.mark = ","), "rows,", columns, "variables")
print(round(times, 3))
print(round(hundred(), 3), row.names = FALSE)
