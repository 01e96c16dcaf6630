#' Rename what was made
#'
#' Gives derived variables other names. The turns that made them are made under the new
#' names, and every turn, check and definition that speaks of them follows. Several at
#' once may change places. Originals keep the names they came with.
#'
#' @param book A turnbook.
#' @param ... New names and the variables that get them: `new = old`.
#' @return The book. The receipt says what speaks of the new names.
#' @section Errors: Class `ableturn_error`: `ableturn_error_rename_original` for an original,
#'   `ableturn_error_renamed_taken` for a name that another variable has.
#' @seealso [amend()], [drop_turn()]; `rename =` of [apply_turns()] for data whose columns are
#'   named otherwise, and of [write_data()] for names in a file alone.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_composite(book, st_1:st_6, reversed = c(st_2, st_5), as = "strain")
#' book <- turn_standardize(book, strain)
#' book <- rename_turn(book, stress = strain)
#' @export
rename_turn <- function(book, ...) {
  given <- book_and_names(rlang::enquo(book), rlang::enquos(...))
  book <- as_book(rlang::eval_tidy(given$book))
  new <- chosen_names(book, given$names)
  check_renaming(book, new)
  users <- setdiff(users_of(book, names(new)), names(new))
  checks <- checks_on(book, names(new))
  after <- renamed_book(book, new)
  told <- list(verb = "rename", makes = unname(new), was = names(new), users = users,
    checks = length(checks))
  finish_step(after, book, list(type = "rename", makes = names(new), by = unname(new)),
    new_receipt(told, list(), row_count(book)))
}

# A variable may be renamed to `book`, which R takes for the argument of that name: then the book is
# what stands there without a name.
book_and_names <- function(book, dots) {
  unnamed <- which(!nzchar(names(dots)))
  first <- if (length(unnamed) == 1) tryCatch(rlang::eval_tidy(dots[[unnamed]]), error = identity)
  if (!inherits(first, c("turnbook", "data.frame"))) return(list(book = book, names = dots))
  list(book = dots[[unnamed]], names = c(dots[-unnamed], list(book = book)))
}

# New names, named by the variables that get them.
chosen_names <- function(book, dots) {
  if (!length(dots) || !all(nzchar(names(dots)))) fail("rename-turn-form")
  old <- vapply(dots, function(dot) {
    chosen <- select_vars(book, dot, "...")
    if (length(chosen) != 1) fail("rename-turn-form")
    chosen
  }, "")
  setNames(names(dots), old)
}

check_renaming <- function(book, new) {
  original <- intersect(names(new), original_names(book))
  if (length(original)) fail("rename-original", name = original)
  check_new_names(unname(new))
  twice <- c(names(new)[duplicated(names(new))], new[duplicated(new)])
  if (length(twice)) fail("rename-twice", name = twice[1])
  taken <- intersect(new, setdiff(names(book), names(new)))
  if (length(taken)) fail("renamed-taken", name = taken)
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
  if (isTRUE(turn$valid_count)) usual <- with_count(turn$makes[1])
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
  if (!is.null(step$formula)) step$formula <- rewritten(step$formula)
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
