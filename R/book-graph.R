# The variables made from these, directly or in steps.
users_of <- function(book, names) {
  found <- asked_by(book, names)
  for (name in derived_names(book)) {
    if (any(held(book, "columns")[[name]]$reads %in% c(names, found))) found <- c(found, name)
  }
  intersect(found, derived_names(book))
}

entry_of <- function(book, name) {
  made <- vapply(held(book, "log"), function(e) name %in% e$turn$makes, NA)
  which(made)[1]
}

# Takes entries off the record, and the variables they made.
drop_entry <- function(book, places) {
  log <- held(book, "log")
  gone <- unlist(lapply(log[places], function(e) e$turn$makes))
  columns <- held(book, "columns")
  with_parts(book, log = log[-places], columns = columns[setdiff(names(columns), gone)])
}

# The record and the columns in an order in which each can be made.
in_order <- function(book) {
  log <- held(book, "log")
  makes <- lapply(log, function(e) e$turn$makes)
  reads <- lapply(log, entry_reads)
  done <- integer()
  waiting <- seq_along(log)
  while (length(waiting)) {
    open <- makes[waiting]
    ready <- Position(function(i) !any(reads[[i]] %in% setdiff(unlist(open), makes[[i]])), waiting)
    if (is.na(ready)) fail("cycle", name = unlist(open)[1], through = unlist(open)[-1])
    done <- c(done, waiting[ready])
    waiting <- waiting[-ready]
  }
  order <- intersect(unlist(makes[done]), derived_names(book))
  with_parts(book, log = log[done], columns = held(book, "columns")[order])
}

entry_reads <- function(entry) {
  switch(entry$type, turn = turn_reads(entry$turn), define = entry$vars,
    check = formula_vars(parse_formula(entry$formula)))
}

# The checks on the record.
check_entries <- function(book) Filter(function(e) e$type == "check", held(book, "log"))

# The checks that read one of these variables.
checks_on <- function(book, names) {
  conditions <- vapply(check_entries(book), `[[`, "", "formula")
  conditions[vapply(conditions, function(text) any(formula_vars(parse_formula(text)) %in% names), NA)]
}
