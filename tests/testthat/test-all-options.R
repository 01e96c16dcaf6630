# The options of R change nothing of what is made, shown and written.

all_that_is_told <- function() {
  told <- list()
  shown <- function(code) capture.output(code)
  told$receipts <- receipts({
    book <- demo_work() |> turn_standardize(strain) |> turn_bin(income, groups = 4, as = "i4") |>
      turn_recode(crossings, as = "far", becomes(100000, 0), becomes(2e5, from(1, upto = 97))) |>
      turn_compute(paste0("x", income * 1000), as = "txt") |> turn_dummy(island) |>
      turn_compute(income / 3e5 + 1e-7, as = "small") |> must_hold(children <= household)
  })
  looks <- list(book, look(book, income, strain, far, txt), cross(book, crossings, rider3),
    turns(book), findings(book), codebook(book), item_analysis(book, st_1:st_6), checks(book),
    show_working(book, strain_z, rows = 17), lineage(book, strain_z), compare_books(book, book))
  told$shown <- shown(for (look in looks) print(look))
  error <- refused(turn_reverse(book, age, limits = c(1, 5)), "beyond-limits")
  told$error <- conditionMessage(error)
  room <- withr::local_tempdir()
  write <- function(name, how, ...) how(book, file.path(room, name), ...)
  write("a.turns.yaml", save_turns)
  for (dialect in c("base", "ableturn")) write(paste0(dialect, ".R"), write_script, dialect)
  for (engine in core("engine_names")()) write(paste0(engine, ".sql"), write_script, "sql", engine)
  quietly(write("a.csv", write_data))
  quietly(write("b.csv", write_data, values = "labels", missing = "reasons"))
  for (ending in c("json", "xml", "csv")) write(paste0("codes.", ending), write_codebook)
  told$files <- lapply(setNames(nm = list.files(room)), function(name) {
    grep("[0-9]{4}-[0-9]{2}-[0-9]{2}T|<[^>]*date=", readLines(file.path(room, name)), value = TRUE,
      invert = TRUE)
  })
  told$frame <- as.data.frame(book, values = "labels")
  told$again <- as.data.frame(quietly(apply_turns(demo_file("ferry-survey.csv"),
    file.path(room, "a.turns.yaml"))))
  told
}

told_on_table <- function() {
  skip_if_not_installed("RSQLite")
  connection <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
  on.exit(DBI::dbDisconnect(connection))
  DBI::dbWriteTable(connection, "t", data.frame(id = 1:400, x = (1:400) / 7, y = 400:1))
  book <- NULL
  lines <- receipts(book <- turnbook(connection, table = "t", id = id) |>
    turn_compute(x * 100000 + 1e-7, as = "a") |> turn_standardize(y) |> turn_bin(x, at = 20))
  list(lines, capture.output(print(look(book))), as.data.frame(book))
}

nasty_options <- list(
  "figures and marks" = list(scipen = -20, OutDec = ",", digits = 3, digits.secs = 6),
  "no exponents, no warnings" = list(scipen = 100, digits = 15, warn = -1),
  "warnings are errors" = list(warn = 2, useFancyQuotes = TRUE, deparse.max.lines = 1)
)
usual <- local({
  local_reproducible_output()
  list(memory = all_that_is_told(), table = told_on_table())
})

test_each("nothing changes with", nasty_options, function(options, name) {
  promise("options_nothing")
  withr::with_options(options, {
    memory <- all_that_is_told()
    table <- told_on_table()
  })
  for (part in names(usual$memory)) expect_identical(memory[[part]], usual$memory[[part]],
    info = part)
  expect_identical(table, usual$table)
})
