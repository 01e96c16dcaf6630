# One test for each entry of a table, called by its name, so that an error ends that one alone.
test_each <- function(what, cases, test) {
  stopifnot(length(cases) == 0 || !is.null(names(cases)))
  for (i in seq_along(cases)) {
    test_that(paste0(what, ": ", names(cases)[i]), {
      test(cases[[i]], names(cases)[i])
    })
  }
}

# Whether everything is tried, as `.ci/run` has it.
tries_all <- function() identical(Sys.getenv("ABLETURN_TESTS"), "all")

# Of long tables every third entry, or fewer of those that take longest, unless all is tried.
sampled <- function(cases, every = 3) {
  if (tries_all()) return(cases)
  cases[seq_along(cases) %% every == 1]
}
