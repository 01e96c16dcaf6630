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

# For formulas the expression is what counts; what has no name takes the place of the verb's first arguments.
new_arguments <- function(dots, verb) {
  new <- as.list(dots)
  if (is.null(names(new))) names(new) <- rep("", length(new))
  main <- type_of_turn(verb)$main
  first <- which(!nzchar(names(new)) & !vapply(new, makes_rule, NA))[1]
  if (length(main) && !is.na(first)) names(new)[first] <- names(main)[1]
  formula <- names(new) %in% names(main)[main == "formula"]
  new[formula] <- lapply(new[formula], rlang::quo_get_expr)
  new
}

# What a turn was given, as arguments of its verb.
arguments_of <- function(turn) {
  parts <- turn_as_call(turn, with_pattern = TRUE)
  stats::setNames(lapply(parts, argument_value), vapply(parts, `[[`, "", "name"))
}

argument_value <- function(part) {
  switch(part$shape, selection = , names = rlang::call2("all_of", part$value), formula = parse_formula(part$value),
    table = as.data.frame(part$value, optional = TRUE), part$value)
}
