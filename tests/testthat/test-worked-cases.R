# The worked cases that ship with the package: each in memory, as base R, as calls, and by sheet.
read_cases <- function(path) {
  keep <- list(seq = identity, "bool#yes" = identity, "bool#no" = identity)
  yaml::read_yaml(path, handlers = keep)
}

# Values as a list, or arithmetic in quotes.
worth <- function(x) {
  if (!is.list(x)) return(eval(parse(text = x), new.env(parent = globalenv())))
  unlist(lapply(x, function(v) if (is.null(v)) NA else v))
}

do_case <- function(case, survey) {
  start <- if (is.null(case$id)) "turnbook(survey)" else paste0("turnbook(survey, id = ", case$id, ")")
  quietly(eval(parse(text = paste(c(start, unlist(case$do)), collapse = " |>\n  ")), list2env(list(survey = survey))))
}

by_calls <- function(book, survey) {
  room <- list2env(list(survey = survey), parent = globalenv())
  quietly(eval(parse(text = core("script_lines")(book, "ableturn")[-1]), room))
  room$survey
}

by_sheet <- function(book, survey) {
  path <- tempfile(fileext = ".yaml")
  save_turns(book, path)
  again <- quietly(apply_turns(survey, path))
  second <- tempfile(fileext = ".yaml")
  save_turns(again, second)
  expect_identical(readLines(second), readLines(path))
  as.data.frame(again)
}

run_case <- function(case) {
  survey <- as.data.frame(lapply(case$data, worth), optional = TRUE)
  if (!is.null(case$refused)) {
    refused(do_case(case, survey), case$refused)
    return("refused")
  }
  book <- do_case(case, survey)
  ways <- list(memory = as.data.frame(book), script = run_base_script(book, survey),
    calls = by_calls(book, survey), sheet = by_sheet(book, survey))
  for (name in names(case$gives)) {
    expected <- worth(case$gives[[name]])
    for (way in names(ways)) {
      given <- as.vector(ways[[way]][[name]])
      if (all(is.na(expected))) storage.mode(expected) <- storage.mode(given)
      expect_equal(given, expected, tolerance = 1e-12,
        ignore_attr = TRUE, info = paste0(case$case, ": ", name, " by ", way))
    }
  }
  for (name in names(case$why)) expect_equal(why(book, name), worth(case$why[[name]]), info = case$case)
}

folder <- system.file("worked-cases", package = "ableturn")
for (file in list.files(folder, "[.]yaml$", full.names = TRUE)) {
  cases <- read_cases(file)
  test_that(paste("worked cases hold by every way:", basename(file), "with", length(cases)), {
    for (case in cases) {
      expect_true(all(c("case", "source", "data", "do") %in% names(case)))
      outcome <- tryCatch(run_case(case), error = identity)
      if (inherits(outcome, "error")) testthat::fail(paste0(case$case, ": ", conditionMessage(outcome)))
    }
  })
}
