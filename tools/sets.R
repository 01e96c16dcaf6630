# The test files that try more where more is set up, by what that is: `make test` runs them without
# it, `make test-formats`, `make test-desk` and `make test-engines` with it. Where ABLETURN_ONCE is
# set, as in `.ci/run`, which makes all of these, `make test` leaves them to the others.
test_sets <- list(
  formats = c("file", "file-formats", "file-codebook", "file-source", "file-ways",
    "report-package"),
  desk = c("desk-pages", "desk-panes", "desk-browser", "desk-strangers", "desk-lost",
    "desk-days", "desk-open"),
  engines = c("sql", "sql-table", "sql-walls", "all-statistics", "all-worked-cases", "all-random",
    "all-programs", "formula-random", "sql-random", "sql-shards")
)
