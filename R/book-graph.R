# The variables made from these, directly or in steps.
users_of <- function(book, names) {
  found <- character()
  for (name in derived_names(book)) {
    if (any(held(book, "columns")[[name]]$from %in% c(names, found))) found <- c(found, name)
  }
  found
}

entry_of <- function(book, name) {
  made <- vapply(held(book, "log"), function(e) name %in% e$turn$makes, NA)
  which(made)[1]
}

# Takes an entry off the record, and the variables it made.
drop_entry <- function(book, place) {
  log <- held(book, "log")
  gone <- log[[place]]$turn$makes
  columns <- held(book, "columns")
  with_parts(book, log = log[-place], columns = columns[setdiff(names(columns), gone)])
}
