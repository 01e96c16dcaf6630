#' Change or drop what was made
#'
#' `amend()` gives the turn that made a variable other arguments; all that
#' depends on it is made again and nothing else, and the rows that change are
#' counted. `drop_turn()` takes a turn off the record, with all variables it made;
#' it is refused while something depends on them.
#'
#' @param book A turnbook.
#' @param var The variable, or one of those that the turn made.
#' @param ... New arguments of that turn, as in its own call: `at_least = 4`,
#'   rules, or a formula. Rules replace all rules. What is not named stays.
#' @param learned Of a variable that was made from a sheet: `"recorded"` keeps the means, cut points
#'   and so on that are on record, `"refit"` learns them anew from these data, from then on.
#' @return The book. The receipt says how many turns were evaluated and how many
#'   rows of each variable differ.
#' @section Errors: `ableturn_error_cycle` where a variable would be made from
#'   itself; `ableturn_error_still_used` for `drop_turn()`.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_composite(book, st_1:st_6, reversed = c(st_2, st_5), as = "strain")
#' book <- turn_standardize(book, strain)
#' book <- amend(book, strain, at_least = 4)
#' book <- amend(book, strain_z, learned = "refit")
#' book <- drop_turn(book, strain_z)
#' @export
amend <- function(book, var, ..., learned = "recorded") {
  check_choice(learned, "learned", c("recorded", "refit"))
  came <- book
  book <- as_book(book)
  name <- derived_var(book, rlang::enquo(var), "amended")
  place <- entry_of(book, name)
  old <- steps_of(book)[[place]]$turn
  turn <- amended_turn(book, old, rlang::enquos(...))
  check_turn(turn)
  turn <- settle_turn(turn, world_of(drop_entry(book, place)))
  check_amended(book, old, turn)
  made <- put_in_place(book, place, turn, learned == "recorded")
  step <- list(type = "amend", verb = turn$verb, makes = turn$makes)
  as_given(finish_step(made$book, book, step, amend_receipt(book, made, turn)), came)
}

derived_var <- function(book, quo, what) {
  name <- one_var(book, quo, "var")
  if (!is_derived(book, name)) fail("not-derived", name = name, what = what)
  name
}

check_amended <- function(book, old, turn) {
  refuse_removed(book, setdiff(old$makes, turn$makes))
  users <- users_of(book, old$makes)
  new <- setdiff(turn$makes, old$makes)
  original <- intersect(new, original_names(book))
  if (length(original)) fail("name-original", name = original, verb = turn$verb)
  taken <- intersect(new, derived_names(book))
  if (length(taken)) fail("name-taken", name = taken)
  round <- intersect(turn_reads(turn), c(old$makes, users))
  if (length(round)) fail("cycle", name = old$makes[1], through = round)
}

# The amended turn takes the place of the old one; it and what depends on it are made again.
put_in_place <- function(book, place, turn, recorded = TRUE) {
  log <- steps_of(book)
  old <- log[[place]]$turn$makes
  log[[place]]$recorded <- if (recorded && isTRUE(log[[place]]$recorded)) TRUE
  turn$learned <- if (isTRUE(log[[place]]$recorded)) log[[place]]$turn$learned
  log[[place]]$turn <- turn
  book <- in_order(with_parts(book, log = log, columns = rename_columns(book, old, turn$makes)))
  book <- remake_entry(book, entry_of(book, turn$makes[1]))
  again <- remake(book, turn$makes)
  list(book = again$book, made = c(list(turn$makes), again$made))
}

# Old columns stand in, under the new names, until they are made.
rename_columns <- function(book, old, new) {
  columns <- derived_of(book)
  if (identical(old, new)) return(columns)
  columns <- columns[setdiff(names(columns), setdiff(old, new))]
  columns[setdiff(new, old)] <- list(list())
  columns
}

amend_receipt <- function(before, made, turn) {
  names <- unlist(made$made)
  renamed <- info_of(made$book)$followed
  was <- new_name(names, setNames(names(renamed), renamed))
  rows <- mapply(rows_changed, names, was, MoreArgs = list(a = before, b = made$book))
  all <- sum(vapply(steps_of(made$book), function(e) e$type == "turn", NA))
  told <- list(verb = "amend", makes = turn$makes, by = turn$verb, rows_changed = rows,
    evaluated = length(made$made),
    of = all, gone = setdiff(derived_names(before), c(derived_names(made$book), names(renamed))),
    followed = renamed, failing = failing_checks(made$book))
  new_receipt(told, list(), row_count(before))
}

# `was`: the name that the variable had before.
rows_changed <- function(name, was, a, b) {
  if (!is_derived(a, was)) return(row_count(b))
  as_row_counts(rows_apart(variable_in(a, was), variable_in(b, name), site_of(b))$differ)
}

# In how many rows two variables of one site differ, whatever they are called.
rows_apart <- function(a, b, site) {
  differ_at(also_knowing(site, list(first = a, second = b)), "first", "second",
    exact = is_exact(a$x))
}

is_exact <- function(x) is.character(x) || is.integer(x) || inherits(x, "Date")

#' @rdname amend
#' @param vars The variables to drop, a tidyselect selection.
#' @export
drop_turn <- function(book, vars) {
  came <- book
  book <- as_book(book)
  names <- select_vars(book, rlang::enquo(vars))
  original <- intersect(names, original_names(book))
  if (length(original)) fail("not-derived", name = original, what = "dropped")
  places <- sort(unique(vapply(names, entry_of, 1L, book = book)))
  makes <- unlist(lapply(steps_of(book)[places], function(e) e$turn$makes))
  users <- setdiff(users_of(book, makes), makes)
  if (length(users)) fail("still-used-drop", name = makes, users = users)
  checks <- checks_on(book, makes)
  if (length(checks)) fail("still-checked", name = makes, checks = checks)
  after <- drop_entry(book, places)
  log <- lapply(steps_of(after), function(e) if (e$type == "define") without_vars(e, makes) else e)
  after <- with_parts(after, log = Filter(function(e) e$type != "define" || length(e$vars), log))
  told <- list(verb = "drop", makes = makes)
  as_given(finish_step(after, book, list(type = "drop", makes = makes),
    new_receipt(told, list(), row_count(book))), came)
}

without_vars <- function(entry, names) {
  entry$vars <- setdiff(entry$vars, names)
  entry
}

# A turn with other arguments: its verb is called again, with what it was given before and what is
# new, on a book that only hands back the turn.
amended_turn <- function(book, old, dots) {
  verb <- get(paste0("turn_", old$verb), mode = "function")
  given <- arguments_of(old)
  new <- new_arguments(dots, old)
  strange <- setdiff(names(new)[nzchar(names(new))], names(formals(verb)))
  if (length(strange)) fail("unused-argument", name = strange[1],
    hint = near_hint(strange[1], names(formals(verb))),
    known = setdiff(names(formals(verb)), c("book", "...", "replace")))
  if (any(c("as", "replace") %in% names(new))) fail("amend-name", name = old$makes[1])
  call <- rlang::call2(verb, asking_book(book), !!!merged_arguments(given, new))
  turn <- rlang::eval_tidy(call)
  turn[["define"]] <- old[["define"]]
  turn$renamed <- old$renamed
  if (!is.null(turn$makes)) turn$makes <- with_later_names(turn$makes, turn$renamed)
  turn
}

asking_book <- function(book) {
  structure(unclass(book), class = c("ableturn_asking", "ableturn_book"))
}

#' @export
make_turn.ableturn_asking <- function(book, turn, replace = FALSE) turn

# Rules among the new arguments take the place of all rules, a selection that of the selection.
merged_arguments <- function(given, new) {
  unnamed <- !nzchar(names(new))
  rules <- unnamed & vapply(new, function(arg) rlang::is_quosure(arg) && makes_rule(arg), NA)
  old_rules <- vapply(given, is_rule, NA)
  old_selection <- !nzchar(names(given)) & !old_rules
  if (any(rules)) given <- given[!old_rules]
  if (any(unnamed & !rules)) given <- given[!old_selection[seq_along(given)]]
  c(given[setdiff_names(given, new)], unname(new[unnamed & !rules]), unname(new[rules]),
    new[!unnamed])
}

setdiff_names <- function(given, new) !(nzchar(names(given)) & names(given) %in% names(new))

# For formulas the expression is what counts; what has no name takes the place of the verb's first
# arguments.
new_arguments <- function(dots, turn) {
  new <- as.list(dots)
  if (is.null(names(new))) names(new) <- rep("", length(new))
  main <- first_arguments(turn)
  first <- which(!nzchar(names(new)) & !vapply(new, makes_rule, NA))[1]
  if (length(main) && !is.na(first)) names(new)[first] <- names(main)[1]
  formula <- names(new) %in% names(main)[main == "formula"]
  new[formula] <- lapply(new[formula], rlang::quo_get_expr)
  new
}

# What a turn was given, as arguments of its verb.
arguments_of <- function(turn) {
  parts <- turn_as_call(turn, with_pattern = TRUE)
  setNames(lapply(parts, argument_value), vapply(parts, `[[`, "", "name"))
}

argument_value <- function(part) {
  switch(part$shape, selection = , names = rlang::call2("all_of", part$value),
    formula = parse_formula(part$value),
    table = as.data.frame(part$value, optional = TRUE), part$value)
}
