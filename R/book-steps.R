# The steps on the record: which of them made a variable, what rests on what, and their order.

# The variables made from these, directly or in steps.
users_of <- function(book, names) {
  found <- asked_by(book, names)
  for (name in derived_names(book)) {
    if (any(derived_in(book, name)$reads %in% c(names, found))) found <- c(found, name)
  }
  intersect(found, derived_names(book))
}

entry_of <- function(book, name) {
  made <- vapply(steps_of(book), function(e) name %in% e$turn$makes, NA)
  which(made)[1]
}

# Takes entries off the record, and the variables they made.
drop_entry <- function(book, places) {
  log <- steps_of(book)
  gone <- unlist(lapply(log[places], function(e) e$turn$makes))
  columns <- derived_of(book)
  with_parts(book, log = log[-places], columns = columns[setdiff(names(columns), gone)])
}

# The record and the columns in an order in which each can be made.
in_order <- function(book) {
  log <- steps_of(book)
  makes <- lapply(log, function(e) e$turn$makes)
  reads <- lapply(log, entry_reads)
  done <- ordered_by_need(makes, reads, own = TRUE)
  stuck <- unlist(makes[setdiff(seq_along(log), done)])
  if (length(done) < length(log)) fail("cycle", name = stuck[1], through = stuck[-1])
  order <- intersect(unlist(makes[done]), derived_names(book))
  with_parts(book, log = log[done], columns = derived_of(book)[order])
}

entry_reads <- function(entry) {
  switch(entry$type, turn = turn_reads(entry$turn), define = entry$vars,
    check = formula_vars(parse_formula(entry$formula)))
}

# The checks on the record.
check_entries <- function(book) Filter(function(e) e$type == "check", steps_of(book))

# The checks that read one of these variables.
checks_on <- function(book, names) {
  conditions <- vapply(check_entries(book), `[[`, "", "formula")
  conditions[vapply(conditions, function(text) any(formula_vars(parse_formula(text)) %in% names),
    NA)]
}

# Whether units that changes of the book are about have rows in several groups of a variable.
shares_units <- function(book, by) {
  units <- unique(unlist(lapply(steps_of(book), function(entry) entry$turn$unit)))
  any(vapply(units, function(unit) {
    site <- site_of(book)
    both <- call("group", call("choose", call("!", call("unanswered", as.name(by))), as.name(by)),
      as.name(unit), how = "max")
    if (has_text(site$variable(by))) return(!is.null(repeats_at(site, list(as.name(unit)))))
    rows_where(site, call("!=", both, as.name(by))) > 0
  }, NA))
}
