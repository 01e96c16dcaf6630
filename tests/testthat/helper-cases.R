# One test for each entry of a table, called by its name, so that an error ends that one alone.
test_each <- function(what, cases, test) {
  for (name in names(cases)) {
    test_that(paste0(what, ": ", name), {
      test(cases[[name]], name)
    })
  }
}

# Long tables are tried whole where ABLETURN_TESTS is "all", as `.ci/run` sets it; else every third.
sampled <- function(cases) {
  if (identical(Sys.getenv("ABLETURN_TESTS"), "all")) return(cases)
  cases[seq_along(cases) %% 3 == 1]
}
