#' @include base-fail.R
NULL

# Tells where in the sheet something is wrong; the reader of the file turns it into an error that
# names the line.
bad_spot <- function(spot, why, todo) {
  signalCondition(structure(class = c("ableturn_sheet_spot", "condition"),
    list(message = why, call = NULL, spot = spot, todo = todo)))
  fail("sheet-at", path = "sheet", line = "?", where = spot_text(spot), why = why, todo = todo)
}

# Errors of the core, told with their spot.
at_spot <- function(spot, code) {
  tryCatch(code, ableturn_error = function(e) {
    if (inherits(e, "ableturn_error_sheet_at")) stop(e)
    lines <- strsplit(conditionMessage(e), "\n", fixed = TRUE)[[1]]
    last <- length(lines)
    bad_spot(spot, paste(lines[-last], collapse = "\n"), e$in_sheet %||% lines[last])
  })
}

spot_text <- function(spot) {
  out <- ""
  for (step in spot) {
    out <- if (is.numeric(step)) paste0(out, "[", step, "]") else paste0(out,
      if (nzchar(out)) ".", step)
  }
  if (nzchar(out)) out else "the sheet"
}

check_keys <- function(raw, known, spot) {
  strange <- setdiff(names(raw), known)
  if (length(strange)) {
    bad_spot(c(spot, list(strange[1])), paste0("unknown key `", strange[1], "`",
      near_hint(strange[1], known)), paste0("Known here: ", paste(known, collapse = ", "), "."))
  }
}

# Raises what is wrong at a spot of a sheet, with the line it stands on.
fail_at_line <- function(spot, lines, path) {
  fail("sheet-at",
    path = path, line = line_of(spot$spot, lines), where = spot_text(spot$spot),
    why = conditionMessage(spot), todo = spot$todo
  )
}

# The first line at which the spot exists: the shortest beginning of the file that holds it. What
# holds it once holds it from there on, so that the search halves what is left.
line_of <- function(spot, lines) {
  if (weight_of(lines) > light_weight) return(line_in_pieces(spot, lines))
  low <- 0
  high <- length(lines)
  if (!begins_with_spot(high, spot, lines)) return("?")
  while (high - low > 1) {
    middle <- (low + high) %/% 2
    if (begins_with_spot(middle, spot, lines)) high <- middle else low <- middle
  }
  high
}

# Whether the first `n` lines hold the spot, or, where they end inside something, the lines that
# begin before.
begins_with_spot <- function(n, spot, lines) {
  for (end in n:max(1, n - 20)) {
    begun <- tryCatch(
      read_yaml(paste(lines[seq_len(end)], collapse = "\n"), yaml_line_handlers),
      error = function(e) NULL, warning = function(w) NULL
    )
    if (!is.null(begun)) return(holds_spot(begun, spot))
  }
  FALSE
}

yaml_line_handlers <- list("bool#yes" = identity, "bool#no" = identity, "seq" = identity)

holds_spot <- function(tree, spot) {
  for (step in spot) {
    if (!is.list(tree)) return(FALSE)
    if (is.numeric(step)) {
      if (length(tree) < step) return(FALSE)
    } else if (!step %in% names(tree)) {
      return(FALSE)
    }
    tree <- tree[[step]]
  }
  length(spot) > 0
}

# What can be wrong with sheets, and with the scripts that are written from the same record.
word_errors(list(
  "bad-dialect" = c("There is no script dialect \"{dialect}\".", "Choose one of: {known}."),
  "no-turns" = c("There is nothing to write: no turn has been made.",
    "Make a variable first, then write the script."),
  "no-data-file" = c("The sheet {path} does not say which data it is for.",
    "Name them: --data FILE."),
  "script-broken" = c("The script cannot be read as R: {why}",
    "Nothing was run. Please report it, with the sheet."),
  "prove-in-place" = c("These data stay in a database, where the {dialect} script cannot run.",
    "Prove the SQL: leave `dialect` out."),
  "prove-needs-id" = c("Rows of a table are compared by their identifier, and this book has none.",
    "Name one: turnbook(con, table = \"survey\", id = person).",
    sheet = "Name one in the sheet: data: {{id: person}}",
    desk = "Open the data with a row identifier."),
  "prove-many-rows" = c("Very many rows have a part in each value of {names}.",
    "Compare it in memory, on a part of the table."),
  "script-foreign" = c(
    "The script holds `{name}`, which this package does not write. Nothing was run.",
    "Look at the script with write_script(), and at what the sheet or the data bring.",
    sheet = "Look at the script: ableturn script SHEET; and at what the sheet or the data bring.",
    desk = "Look at the script; and at what the sheet or the data bring."),
  "script-cannot-read" = c("The base script cannot read {file} as it was read here: {why}.",
    "Save the table anew, or use dialect = \"ableturn\".",
    sheet = "Save the table anew, or add --dialect ableturn.",
    desk = "Save the table anew, or write a script for R with this package."),
  "data-changed" = c("{file} has changed since it was opened.",
    "Open it again and repeat the proof.")
))

# The input cannot be read.
word_errors(list(
  "sheet-yaml" = c("The turn sheet {path} cannot be read: {why}",
    "Mend that line; text with signs in it goes in quotes."),
  "sheet-two" = c(
    "The turn sheet {path}, line {line}, begins a second document, which would be passed over.",
    "Put it in a file of its own."),
  "sheet-version" = c(
    "The turn sheet {path} has version {version}; this package reads version {known}.",
    "Its first line must be: able_turn: {known}"),
  "sheet-at" = c("{path}, line {line}, {where}: {why}", "{todo}"),
  "sheet-there" = c("There is a sheet {path} already, and it was left as it is.",
    "To go on from it: book <- apply_turns(data, sheet). To start anew, name another.",
    desk = "Choose another name; or open it, to go on from it."),
  "sheet-locked" = c("The sheet {path} is being written by another process ({holder}).",
    "Close that one first, or name another sheet."),
  "sheet-no-lock" = c(paste("The sheet {path} cannot be kept at every step: its folder knows no",
    "locks ({why}), so that two programs could write it at once."),
    "Keep it in a folder of this machine; or save it when you are done: save_turns().",
    desk = "Keep it in a folder of this machine, or save it when you are done."),
  "sheet-unlike" = c(
    "The record cannot be kept in a sheet, as it would not come back the same: {where}: {why}",
    "What was there before was left as it is. Please report it."),
  "sheet-not-one" = c("{path} is not a turn sheet: {why}.",
    "A turn sheet begins with: able_turn: 1"),
  "data-outside" = c("The sheet {path} names data that are not in its folder: {name}.",
    "If they are the right ones, name them yourself: --data FILE.")
), unread = TRUE)
