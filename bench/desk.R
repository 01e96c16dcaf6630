# How long the desk takes to answer, on the demo survey and on wide and long data.
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

# What a page says one after the other, and the seconds until it is answered.
session <- function(book) {
  screen <- core("new_screen")(core("as_book")(book))
  say <- function(...) {
    took <- system.time(answered <- core("answer_safely")(screen, list(...)))[["elapsed"]]
    screen <<- answered$screen
    if (!is.null(screen$state$error)) stop(screen$state$error)
    took
  }
  seen <- names(book)[1:12]
  rule <- function(value, code) list(value = value, kind = "number", becomes = code)
  rules <- list(values = list(rule("1", "0"), rule("2", "0")), ranges = list(list(when = "3 ..",
    becomes = "1")), cases = list(), rest = list(how = "none"), labels = list())
  c(
    "the page" = say(do = "hello"),
    "twelve variables counted, first time" = say(do = "measure", names = seen),
    "a search" = say(do = "search", text = "v99"),
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
    "the base script" = say(do = "tab", tab = "script")
  )
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
