# The house: a room calls only those below it, but for the hooks in the table, and no file is long.
layers <- c("base-", "meaning-", "formula-", "turn-", "ask-", "learn-", "book-", "find-", "look-",
  "sheet-", "script-", "sql-", "file-", "view-", "figure-", "report-", "desk-", "cli-")

# The sources beside the tests, or beside R CMD check's copy of them.
read_house <- function(folder) {
  files <- setdiff(list.files(folder, "\\.R$", full.names = TRUE),
    file.path(folder, "RcppExports.R"))
  parsed <- lapply(files, parse, keep.source = TRUE)
  names(parsed) <- basename(files)
  defines <- lapply(parsed, function(p) {
    assigns <- function(e) is.call(e) && identical(e[[1]], as.name("<-")) && is.symbol(e[[2]])
    assigned <- Filter(assigns, as.list(p))
    vapply(assigned, function(e) as.character(e[[2]]), "")
  })
  owner <- rep(names(defines), lengths(defines))
  names(owner) <- unlist(defines)
  calls <- lapply(names(parsed), function(file) {
    tokens <- utils::getParseData(parsed[[file]])
    used <- unique(tokens$text[tokens$token %in% c("SYMBOL_FUNCTION_CALL", "SYMBOL")])
    setdiff(unique(unname(owner[intersect(used, names(owner))])), file)
  })
  names(calls) <- names(parsed)
  calls
}

layer_of <- function(files) {
  vapply(files, function(f) c(which(startsWith(f, layers)), NA)[1], 1L)
}

room_of <- function(files) sub("-.*", "", files)

test_that("no room calls up, and no file is long", {
  folder <- source_folder()
  skip_if(is.null(folder), "the sources are not here")
  calls <- read_house(folder)
  expect_setequal(names(calls)[is.na(layer_of(names(calls)))], "ableturn-package.R")
  up <- unlist(lapply(names(calls), function(file) {
    above <- calls[[file]][layer_of(calls[[file]]) > layer_of(file)]
    if (length(above)) paste(file, "calls", above)
  }))
  expect_equal(up, NULL)
  lengths <- vapply(list.files(folder, full.names = TRUE), function(f) length(readLines(f)), 1L)
  expect_lte(max(lengths[basename(names(lengths)) != "RcppExports.R"]), 300)
})

# Generic functions of our own, with the room that defines each and the rooms that have methods of
# it.
read_generics <- function(folder) {
  files <- list.files(folder, "[.]R$")
  lines <- lapply(file.path(folder, files), readLines)
  generics <- lapply(lines, function(l) {
    sub(" <- .*", "",
      grep("^[a-z_]+ <- function.*UseMethod", l, value = TRUE))
  })
  defined <- setNames(rep(room_of(files), lengths(generics)), unlist(generics))
  methods <- lapply(names(defined), function(generic) {
    has <- vapply(lines, function(l) any(grepl(paste0("^`?", generic, "[.][A-Za-z_.]+`? <- "), l)),
      NA)
    setdiff(room_of(files[has]), defined[[generic]])
  })
  Map(list, called = defined, given = setNames(methods, names(defined)))
}

test_that("the table of hooks holds every generic that a higher room answers, and no other", {
  folder <- source_folder()
  skip_if(is.null(folder), "the sources are not here")
  met <- Filter(function(g) length(g$given) > 0, read_generics(folder))
  stated <- Filter(function(h) h$hook != "conditionMessage", core("hooks"))
  names(stated) <- vapply(stated, `[[`, "", "hook")
  expect_setequal(names(met), names(stated))
  for (hook in names(met)) {
    expect_equal(met[[hook]]$called, stated[[hook]]$called, info = hook)
    expect_setequal(met[[hook]]$given, stated[[hook]]$given)
  }
})

test_that("no name is defined twice", {
  folder <- source_folder()
  skip_if(is.null(folder), "the sources are not here")
  lines <- unlist(lapply(list.files(folder, full.names = TRUE), readLines))
  defined <- sub(" <- .*", "", grep("^[`a-zA-Z_.0-9]+ <- ", lines, value = TRUE))
  expect_equal(defined[duplicated(defined)], character())
})

test_that("every error that is raised has words, and all words are used", {
  folder <- source_folder()
  skip_if(is.null(folder), "the sources are not here")
  text <- paste(unlist(lapply(list.files(folder, full.names = TRUE), readLines)), collapse = "\n")
  words <- names(core("error_words"))
  raised <- unique(gsub(".*\"(.*)\"", "\\1",
    regmatches(text, gregexpr("fail(_at)?\\(\"[a-z-]+\"", text))[[1]]))
  expect_setequal(setdiff(raised, words), character())
  met <- regmatches(text, gregexpr("\"[a-z0-9-]+\"", text))[[1]]
  expect_equal(setdiff(words, gsub("\"", "", met[duplicated(met)])), character())
})
