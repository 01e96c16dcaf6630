# How far a reader has to go to follow one turn: every function of the package is made to say when
# it is entered, and a turn is made on the demo survey. Told are the entries, the different
# functions, the files they stand in, and how often the next entry is in another file.
# Use: Rscript tools/trace.R [FUNCTIONS]; with FUNCTIONS the most frequent changes of file as well.
suppressMessages(library(ableturn))
options(ableturn.quiet = TRUE)
space <- asNamespace("ableturn")
entered <- new.env()
entered$names <- character()

# The file in which each function of the package is defined.
files_of_functions <- function() {
  each <- lapply(list.files("R", "[.]R$", full.names = TRUE), function(path) {
    made <- Filter(function(e) is.call(e) && identical(e[[1]], as.name("<-")) && is.name(e[[2]]),
      as.list(parse(path, keep.source = FALSE)))
    names <- vapply(made, function(e) as.character(e[[2]]), "")
    stats::setNames(rep(basename(path), length(names)), names)
  })
  do.call(c, each)
}

says_so <- function(f, name) {
  body(f) <- call("{", bquote(.GlobalEnv$entered$names <- c(.GlobalEnv$entered$names, .(name))),
    body(f))
  f
}

put_in_place <- function(name, f, where) {
  if (bindingIsLocked(name, where)) unlockBinding(name, where)
  assign(name, f, where)
}

trace_all <- function(files) {
  methods <- space$.__S3MethodsTable__.
  for (name in names(files)) {
    f <- get0(name, space, inherits = FALSE)
    if (!is.function(f) || is.primitive(f)) next
    f <- says_so(f, name)
    put_in_place(name, f, space)
    if (exists(name, methods, inherits = FALSE)) put_in_place(name, f, methods)
    if (exists(name, "package:ableturn", inherits = FALSE)) {
      put_in_place(name, f, as.environment("package:ableturn"))
    }
  }
}

survey <- function() {
  turnbook(demo_file("ferry-survey.csv"), codebook = demo_file("ferry-survey.codebook.json"),
    id = person)
}

on_sqlite <- function() {
  con <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
  data <- as.data.frame(turnbook(demo_file("ferry-survey.csv")))
  DBI::dbWriteTable(con, "survey", data)
  turnbook(con, table = "survey", codebook = demo_file("ferry-survey.codebook.json"), id = person)
}

turns_traced <- list(
  composite = function(book) {
    turn_composite(book, st_1:st_6, reversed = c(st_2, st_5), at_least = 5, as = "strain")
  },
  recode = function(book) {
    turn_recode(book, crossings, as = "rider3", becomes(0, 0), becomes(1, from(1, upto = 4)),
      becomes(2, from(5)))
  },
  reverse = function(book) turn_reverse(book, st_2)
)

counted_entries <- function(names, files) {
  at <- files[names]
  c(entries = length(names), functions = length(unique(names)), files = length(unique(at)),
    changes = sum(utils::head(at, -1) != at[-1]))
}

files <- files_of_functions()
trace_all(files)
rows <- list()
paths <- character()
for (site in c("memory", "SQLite")) for (turn in names(turns_traced)) {
  if (site == "SQLite" && turn == "reverse") next
  book <- if (site == "memory") survey() else on_sqlite()
  entered$names <- character()
  invisible(turns_traced[[turn]](book))
  rows[[paste(turn, "in", site)]] <- counted_entries(entered$names, files)
  paths <- c(paths, paste(turn, site, entered$names))
  if (length(commandArgs(TRUE))) {
    cat("\n", turn, "in", site, "\n")
    at <- files[entered$names]
    print(utils::head(sort(table(paste(utils::head(at, -1), "->", at[-1])[
      utils::head(at, -1) != at[-1]]), decreasing = TRUE), 25))
    print(utils::head(sort(table(entered$names), decreasing = TRUE), 40))
    cat(sort(unique(at)), fill = 100)
  }
}
print(do.call(rbind, rows))
