# What SECURITY.md promises, each held by tests: a test says `promise("...")` with the name of the
# promise that it holds. tools/promises.R makes the table of SECURITY.md from these calls;
# test-all-promises.R fails where a promise has no test.
promises <- c(
  data_run_nothing = "Opening data runs and loads nothing.",
  data_or_error = "Any bytes give data or an error of ours, in bounded time.",
  same_bytes = "Checking and opening a packed file read the same bytes.",
  sums_checked = "No part of a packed file is read without its size and its sum.",
  changes_told = "A package that was changed is told, whatever it is called.",
  sheet_is_data = "A sheet is data: no tag, no alias, no code, no address.",
  size_is_time = "What is ten times as large takes no more than thirty times as long.",
  options_nothing = "The options of R change nothing of what is read, made and written.",
  no_text_runs = "No text of a user becomes code, markup, a formula or a command.",
  no_text_is_sql = "No text is SQL, whatever is set.",
  no_foreign_call = "No operator, function, macro or trigger of others is called.",
  foreign_database = "A database of a stranger reads nothing but itself.",
  transaction_kept = "A transaction of the analyst stays hers.",
  whole_or_not = "A file or a table is written whole or not at all.",
  source_never = "What the data came from is never written.",
  nothing_taken = "Nothing is taken away untold by overwriting.",
  no_overwrite = "Nothing is overwritten without being asked for.",
  one_writer = "One process at a time writes a live sheet.",
  key_unseen = "The key of the desk stands in no command line.",
  nothing_fetched = "Nothing is fetched from an address.",
  own_page_only = "Only the desk's own page, in the browser that was let in, is heard.",
  work_not_lost = "Nothing done on the desk is lost."
)

promise <- function(name) {
  testthat::expect_true(all(name %in% names(promises)))
}
