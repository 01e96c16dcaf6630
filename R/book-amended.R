# A turn with other arguments: its verb is called again, with what it was given before and what
# is new, on a book that only hands back the turn.
amended_turn <- function(book, old, dots) {
  verb <- get(paste0("turn_", old$verb), mode = "function")
  given <- arguments_of(old)
  new <- new_arguments(dots, old$verb)
  strange <- setdiff(names(new)[nzchar(names(new))], names(formals(verb)))
  if (length(strange)) fail("unused-argument", name = strange[1], hint = near_hint(strange[1], names(formals(verb))),
    known = setdiff(names(formals(verb)), c("book", "...", "replace")))
  if (any(c("as", "replace") %in% names(new))) fail("amend-name", name = old$makes[1])
  call <- rlang::call2(verb, asking_book(book), !!!merged_arguments(given, new))
  turn <- rlang::eval_tidy(call)
  turn[["define"]] <- old[["define"]]
  turn$renamed <- old$renamed
  if (!is.null(turn$makes)) turn$makes <- with_later_names(turn$makes, turn$renamed)
  turn
}

asking_book <- function(book) structure(unclass(book), class = c("ableturn_asking", "turnbook"))

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
  c(given[setdiff_names(given, new)], unname(new[unnamed & !rules]), unname(new[rules]), new[!unnamed])
}

setdiff_names <- function(given, new) !(nzchar(names(given)) & names(given) %in% names(new))

# For formulas the expression is what counts; it is the one argument without a name.
new_arguments <- function(dots, verb) {
  new <- as.list(dots)
  if (is.null(names(new))) names(new) <- rep("", length(new))
  main <- switch(verb, compute = "formula", flag = "condition", reverse = , rescale = , bin = , dummy = ,
    standardize = , crosswalk = , norm = , change = , group = "vars", composite = , key = , tally = "items",
    interact = "a", instrument = "file")
  first <- which(!nzchar(names(new)) & !vapply(new, makes_rule, NA))[1]
  if (!is.null(main) && !is.na(first)) names(new)[first] <- main
  formula <- names(new) %in% c("formula", "condition") & verb %in% c("compute", "flag")
  new[formula] <- lapply(new[formula], rlang::quo_get_expr)
  new
}

# What a turn was given, as arguments of its verb.
arguments_of <- function(turn) {
  keys <- keys_of(turn$verb)
  keys <- keys[setdiff(names(keys), c("from", "rules", "define", "renamed", "learned", "formula", "with", "title",
    "scales", "as"))]
  named <- Map(function(key, shape) {
    value <- turn[[key]]
    switch(shape, table = as.data.frame(value, optional = TRUE), names = chosen_again(value), value)
  }, names(keys), keys)
  named <- named[!vapply(named, is.null, NA)]
  names(named)[names(named) == "right"] <- "key"
  as <- if (turn$verb %in% c("dummy", "instrument")) turn$as else named_results(turn)
  c(main_arguments(turn), named, if (!is.null(as)) list(as = as))
}

unnamed <- function(arguments) stats::setNames(arguments, rep("", length(arguments)))

chosen_again <- function(names) if (!is.null(names)) rlang::call2("all_of", names)

main_arguments <- function(turn) {
  from <- chosen_again(turn$from)
  switch(turn$verb,
    compute = list(formula = parse_formula(turn$formula)), flag = list(condition = parse_formula(turn$formula)),
    recode = , collapse = unnamed(c(if (!is.null(from)) list(from), turn$rules)),
    composite = , key = , tally = list(items = from),
    interact = list(a = from, b = chosen_again(turn$with)),
    instrument = list(file = list(instrument = turn$title, scales = turn$scales)),
    crosswalk = list(vars = from, from = names(turn$table)[1], to = names(turn$table)[2]),
    list(vars = from)
  )
}
