# Random programs: some steps, one after the other, on awkward data. Whatever comes of them must be
# the same in memory, from the sheet, by both scripts, after an amendment that changes nothing, and
# after undoing.
random_program <- function(rows = NULL) {
  data <- frames[[sample(setdiff(names(frames), "no rows"), 1)]]
  if (!is.null(rows)) data <- data[rep_len(seq_len(nrow(data)), rows), , drop = FALSE]
  row.names(data) <- NULL
  book <- turnbook(data)
  for (step in steps[sample(length(steps), sample(2:6, 1))]) {
    book <- tryCatch(quietly(step(book)), ableturn_error = function(e) book)
  }
  list(data = data, book = book)
}

values_in <- function(book, name) core("values_of")(core("variable_in")(book, name))

# The ways in which a program goes apart, as words; none is an empty text.
program_differences <- function(program) {
  book <- program$book
  names <- core("derived_names")(book)
  if (!length(names)) return(character())
  differs <- function(n, given) {
    length(core("rows_that_differ")(values_in(book, n), given[[n]])) > 0
  }
  unlike <- function(given) Filter(function(n) differs(n, given), names)
  sheet <- tempfile()
  save_turns(book, sheet)
  again <- quietly(apply_turns(program$data, sheet))
  found <- list(
    sheet = unlike(lapply(stats::setNames(names, names),
      function(n) values_in(again, n))),
    base = unlike(run_base_script(book, program$data)),
    reasons = Filter(function(n) !identical(why(again, n), why(book, n)), names)
  )
  last <- names[length(names)]
  amended <- tryCatch(quietly(amend(book, tidyselect::all_of(last), note = "the same")),
    ableturn_error = function(e) NULL)
  if (!is.null(amended)) {
    found$amend <- unlike(lapply(stats::setNames(names, names),
      function(n) values_in(amended, n)))
    found$undo <- if (!identical(as.data.frame(quietly(undo(amended))), as.data.frame(book))) "undo"
  }
  unlist(found)
}

attack_programs <- function(times, rows = NULL) {
  told <- character()
  for (i in seq_len(times)) {
    differences <- tryCatch(program_differences(random_program(rows)),
      error = function(e) c(stopped = conditionMessage(e)))
    if (length(differences)) told <- c(told, paste0(i, ": ", names(differences), " ", differences))
  }
  told
}
