#' @export
make_turn.data.frame <- function(book, turn, replace = FALSE) {
  make_turn(as_book(book), turn, replace)
}

#' @export
make_turn.turnbook <- plainly(function(book, turn, replace = FALSE) {
  book <- with_sources(book)
  check_turn(turn)
  recorded <- if (!isTRUE(turn$refit)) turn$learned
  turn$refit <- NULL
  turn <- settle_turn(turn, world_of(book, recorded))
  cleared <- drop_replaced(book, turn, replace)
  made <- make_columns(cleared$book, turn, recorded)
  new <- add_entry(cleared$book, made, recorded = length(recorded) > 0)
  if (length(cleared$users)) new <- remake(in_order(new), turn$makes)$book
  made$receipt$turn$followed <- info_of(new)$followed
  finish_step(new, book, list(type = "turn", verb = turn$verb, makes = turn$makes), made$receipt)
})

# The book with the variables that took other names while it was made again, for the receipt of the
# step: new names, named by the old ones. A finished step has none.
with_followed <- function(book, renamed) {
  info <- info_of(book)
  info$followed <- if (length(renamed)) c(info$followed, renamed)
  with_parts(book, info = info)
}

# The files that were opened for a turn are files that the book came from.
with_sources <- function(book) {
  if (is.null(opened_files$paths)) return(book)
  info <- info_of(book)
  info$sources <- take_opened(info$sources)
  with_parts(book, info = info)
}

# The book with what a turn made; `recorded` tells that it rests on statistics from elsewhere.
add_entry <- function(book, made, recorded = FALSE) {
  entry <- list(type = "turn", turn = made$turn, recorded = recorded)
  with_parts(book, columns = c(derived_of(book), made$columns),
    log = c(steps_of(book), list(entry)))
}

drop_replaced <- function(book, turn, replace) {
  check_flag(replace, "replace")
  check_new_names(turn$makes)
  original <- intersect(turn$makes, original_names(book))
  if (length(original)) fail("name-original", name = original, verb = turn$verb)
  taken <- intersect(turn$makes, derived_names(book))
  if (length(taken) && !replace) fail("name-taken", name = taken)
  users <- if (length(taken)) setdiff(users_of(book, taken), taken)
  read <- if (length(users)) intersect(turn_reads(turn), users)
  if (length(read)) fail("cycle", name = taken[1], through = read)
  places <- vapply(taken, entry_of, 1L, book = book)
  for (place in if (length(places)) sort(unique(places), decreasing = TRUE)) {
    lost <- setdiff(steps_of(book)[[place]]$turn$makes, turn$makes)
    if (length(lost)) fail("replace-group", name = taken, others = lost)
    book <- drop_entry(book, place)
  }
  list(book = book, users = users)
}

# Makes again what depends on the changed variables, and nothing else. Gives the book and the names
# that were made, turn by turn.
remake <- function(book, changed) {
  changed <- unique(c(changed, asked_by(book, changed)))
  made <- list()
  progress <- progress_of(length(steps_of(book)), "step")
  for (place in seq_along(steps_of(book))) {
    entry <- steps_of(book)[[place]]
    if (entry$type != "turn") next
    reads <- c(turn_reads(entry$turn),
      unlist(lapply(derived_of(book)[entry$turn$makes], `[[`, "reads")))
    if (!any(reads %in% changed)) next
    book <- remake_entry(book, place)
    changed <- c(changed, steps_of(book)[[place]]$turn$makes)
    made <- c(made, list(steps_of(book)[[place]]$turn$makes))
    progress(place)
  }
  list(book = book, made = made)
}

remake_entry <- function(book, place) {
  log <- steps_of(book)
  entry <- log[[place]]
  recorded <- if (isTRUE(entry$recorded)) entry$turn$learned else list()
  turn <- settle_turn(with_definitions(entry$turn, log), world_of(book, recorded))
  after_levels <- names_after_levels(entry$turn, turn)
  if (length(after_levels)) {
    return(with_followed(renamed_book(book, after_levels, place), after_levels))
  }
  refuse_removed(book, setdiff(entry$turn$makes, turn$makes))
  made <- make_columns(book, turn, recorded)
  columns <- derived_of(book)
  after <- utils::tail(which(names(columns) %in% entry$turn$makes), 1)
  kept <- columns[setdiff(names(columns), entry$turn$makes)]
  columns <- append(kept, made$columns,
    sum(names(kept) %in% names(columns)[seq_len(c(after, length(columns))[1])]))
  made$turn[["define"]] <- entry$turn[["define"]]
  log[[place]]$turn <- made$turn
  with_parts(book, columns = columns, log = log)
}

# A column that is named after its level gets another name where the same level is called otherwise,
# and what is made from it follows: the new names, named by the old ones. Nothing follows to the
# column of another level.
names_after_levels <- function(old, new) {
  if (!is_named_by_levels(new) || has_other_levels(new)) return(NULL)
  moved <- !old$makes %in% new$makes & !new$makes %in% old$makes
  if (any(moved)) setNames(new$makes[moved], old$makes[moved])
}

# A variable that is no longer made must not be used by another.
refuse_removed <- function(book, gone) {
  if (!length(gone)) return()
  users <- Filter(function(name) any(gone %in% derived_in(book, name)$reads), derived_names(book))
  users <- c(users, checks_on(book, gone))
  if (length(users)) fail("still-used", name = gone, users = users)
}

# A turn with all that was later stated about its variables.
with_definitions <- function(turn, log) {
  for (entry in log) {
    if (entry$type != "define") next
    for (name in intersect(turn$makes, entry$vars)) {
      turn[["define"]][[name]] <- merge_meaning(turn[["define"]][[name]] %||% new_meaning(),
        entry$meaning)
    }
  }
  turn
}

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
