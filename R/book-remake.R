# Turns on the record are made again: after a change of what they read, and under other names.

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

# The book with the variables that took other names while it was made again, for the receipt of the
# step: new names, named by the old ones. A finished step has none.
with_followed <- function(book, renamed) {
  info <- info_of(book)
  info$followed <- if (length(renamed)) c(info$followed, renamed)
  with_parts(book, info = info)
}

# The record under the new names; what it speaks of is made again from it, so that columns, labels
# and formulas agree. `usual`: the place of a step whose names follow from it, so that no name of
# its own is kept for it.
renamed_book <- function(book, new, usual = integer()) {
  before <- steps_of(book)
  log <- lapply(before, renamed_entry, new = new)
  for (place in usual) log[[place]]$turn$renamed <- before[[place]]$turn$renamed
  columns <- lapply(derived_of(book), renamed_sources, new = new)
  names(columns) <- new_name(names(columns), new)
  after <- with_parts(book, log = log, columns = columns,
    cache = cache_without(book, c(names(new), new)))
  changed <- which(!mapply(identical, log, before))
  for (place in changed) if (log[[place]]$type == "turn") after <- remake_entry(after, place)
  after
}

# What a column is made from; until it is made again, it may be compared with others.
renamed_sources <- function(variable, new) {
  sources <- variable$sources
  altered(variable, name = new_name(variable$name, new),
    expr = replace_names(variable$expr, lapply(as.list(new), as.name)),
    from = new_name(variable$from, new), reads = new_name(variable$reads, new),
    sources = setNames(sources, new_name(names(sources), new)))
}

new_name <- function(names, new) {
  found <- match(names, names(new), nomatch = 0L)
  names[found > 0] <- new[found]
  names
}

renamed_entry <- function(entry, new) {
  switch(entry$type,
    define = entry$vars <- new_name(entry$vars, new),
    check = entry <- renamed_formulas(entry, new),
    turn = entry$turn <- renamed_turn(entry$turn, new)
  )
  entry
}

# Wherever a turn speaks of variables.
renamed_turn <- function(turn, new) {
  old <- turn$makes
  for (key in intersect(c("makes", variable_keys), names(turn))) {
    turn[[key]] <- new_name(turn[[key]], new)
  }
  turn$renamed <- names_of_their_own(turn, old)
  turn <- renamed_formulas(turn, new)
  turn <- renamed_in_each(turn, "rules", function(rule) renamed_parts(rule, "where", new))
  turn <- renamed_in_each(turn, "scales", function(scale) renamed_scale(scale, new))
  if (has_trait(turn$verb, "its table names variables")) turn <- renamed_parts(turn, "table", new)
  renamed_parts(turn, "define", new)
}

# Names that do not follow from the turn itself: those of dummies and of the scores of an
# instrument, and of a count of valid items. Gives the usual names, named by those they have.
names_of_their_own <- function(turn, old) {
  usual <- old
  before <- match(old, names(turn$renamed))
  usual[!is.na(before)] <- turn$renamed[stats::na.omit(before)]
  named <- named_results(turn)
  if (length(named) < length(turn$makes)) usual <- all_results(turn, named)
  else if (type_of_turn(turn$verb)$pattern == "never") return(NULL)
  other <- usual != turn$makes
  if (any(other)) setNames(usual[other], turn$makes[other])
}

# A formula, and the statistics that were learned for it.
renamed_formulas <- function(step, new) {
  by <- setNames(lapply(new, as.name), names(new))
  rewritten <- function(text) {
    node <- parse_formula(text)
    if (any(formula_vars(node) %in% names(new))) formula_text(replace_names(node, by)) else text
  }
  for (key in intersect(c("formula", "baseline"),
    names(step))) step[[key]] <- rewritten(step[[key]])
  renamed_in_each(step, "learned", function(note) {
    note$of <- rewritten(note$of)
    renamed_parts(note, "groups", new)
  })
}

renamed_in_each <- function(whole, key, rename) {
  if (length(whole[[key]])) whole[[key]] <- lapply(whole[[key]], rename)
  whole
}

# A part whose names are variables.
renamed_parts <- function(whole, key, new) {
  if (!is.null(names(whole[[key]]))) names(whole[[key]]) <- new_name(names(whole[[key]]), new)
  whole
}

renamed_scale <- function(scale, new) {
  for (key in intersect(c("items", "reversed"), names(scale))) {
    scale[[key]] <- new_name(scale[[key]], new)
  }
  renamed_parts(renamed_parts(scale, "norm", new), "weights", new)
}
