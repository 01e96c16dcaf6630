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
  came <- rlang::eval_tidy(given$book)
  book <- as_book(came)
  new <- chosen_names(book, given$names)
  check_renaming(book, new)
  users <- setdiff(users_of(book, names(new)), names(new))
  checks <- checks_on(book, names(new))
  after <- renamed_book(book, new)
  told <- list(verb = "rename", makes = unname(new), was = names(new), users = users,
    checks = length(checks))
  as_given(finish_step(after, book, list(type = "rename", makes = names(new), by = unname(new)),
    new_receipt(told, list(), row_count(book))), came)
}

# A variable may be renamed to `book`, which R takes for the argument of that name: then the book is
# what stands there without a name.
book_and_names <- function(book, dots) {
  unnamed <- which(!nzchar(names(dots)))
  first <- if (length(unnamed) == 1) tryCatch(rlang::eval_tidy(dots[[unnamed]]), error = identity)
  if (!inherits(first, c("ableturn_book", "data.frame"))) return(list(book = book, names = dots))
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
