#' @export
make_turn.data.frame <- function(book, turn, replace = FALSE) make_turn(as_book(book), turn, replace)

#' @export
make_turn.turnbook <- function(book, turn, replace = FALSE) {
  cleared <- make_room(book, turn, replace)
  made <- make_columns(cleared$book, turn, turn$learned)
  book <- add_entry(cleared$book, made, cleared$replaced)
  keep_sheet(held(book, "info")$sheet, book)
  show_receipt(made$receipt)
  book
}

# The book with what a turn made; `replaced` are the turns whose variables it takes over.
add_entry <- function(book, made, replaced = list()) {
  entry <- list(type = "turn", turn = made$turn, replaced = replaced)
  with_parts(book, columns = c(held(book, "columns"), made$columns), log = c(held(book, "log"), list(entry)))
}

make_room <- function(book, turn, replace) {
  check_flag(replace, "replace")
  check_new_names(turn$makes)
  original <- intersect(turn$makes, original_names(book))
  if (length(original)) fail("name-original", name = original, verb = turn$verb)
  taken <- intersect(turn$makes, derived_names(book))
  if (length(taken) && !replace) fail("name-taken", name = taken)
  replaced <- list()
  for (name in taken) {
    if (!is_derived(book, name)) next
    entry <- held(book, "log")[[entry_of(book, name)]]
    book <- take_out(book, name, turn, entry)
    replaced <- c(replaced, list(entry$turn))
  }
  list(book = book, replaced = replaced)
}

take_out <- function(book, name, turn, entry) {
  users <- users_of(book, name)
  if (length(users)) fail("still-used", name = name, users = users)
  lost <- setdiff(entry$turn$makes, turn$makes)
  if (length(lost)) fail("replace-group", name = name, others = lost)
  drop_entry(book, entry_of(book, name))
}

# The columns a turn makes, the turn with what it learned, and the receipt.
make_columns <- function(book, turn, recorded = list()) {
  check_turn(turn)
  place <- place_of(book)
  parts <- lapply(lower(turn, world_of(book, recorded)), make_column, book = book, place = place, recorded = recorded)
  columns <- lapply(parts, `[[`, "column")
  names(columns) <- turn$makes
  learned <- unique(unlist(lapply(parts, `[[`, "learned"), recursive = FALSE))
  turn$learned <- if (length(learned)) learned
  for (name in turn$makes) columns[[name]]$verb <- turn$verb
  receipt <- new_receipt(turn, lapply(parts, `[[`, "receipt"), row_count(book))
  list(columns = columns, turn = turn, receipt = receipt)
}

make_column <- function(out, book, place, recorded) {
  learned <- learn_formula(rewrite_kinds(out$expr, book), place, recorded)
  learned$learned <- c(out$notes, learned$learned)
  out$expr <- learned$node
  out$from <- formula_vars(out$expr)
  full <- evaluate_column(out$expr, place)
  if (identical(formula_type(out), "code")) full$x <- as_code(full$x)
  why <- explain_missing(full, out, book)
  column <- c(
    column_with_reasons(full$x, why),
    list(
      meaning = out$meaning, expr = out$expr, from = out$from, rule_kinds = out$kinds,
      carry = out$carry, learned = learned$learned
    )
  )
  list(column = column, learned = learned$learned, receipt = receipt_part(out, full, column, learned, book, place))
}

# Codes of rules and flags are integer where they are whole; other results stay as they are.
formula_type <- function(out) {
  if (is.call(out$expr) && call_head(out$expr) == "choose") "code" else "result"
}
