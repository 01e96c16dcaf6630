#' @include base-fail.R
NULL

# What can be wrong with sheets, and with the scripts that are written from the same record.
word_errors(list(
  "bad-dialect" = c("There is no script dialect \"{dialect}\".", "Choose one of: {known}."),
  "no-turns" = c("There is nothing to write: no turn has been made.",
    "Make a variable first, then write the script."),
  "no-data-file" = c("The sheet {path} does not say which data it is for.", "Name them: --data FILE."),
  "script-broken" = c("The script cannot be read as R: {why}",
    "Nothing was run. Please report it, with the sheet."),
  "script-foreign" = c("The script holds `{name}`, which this package does not write. Nothing was run.",
    "Look at the script with write_script(), and at what the sheet or the data bring.",
    sheet = "Look at the script: ableturn script SHEET; and at what the sheet or the data bring."),
  "script-cannot-read" = c("The base script cannot read {file} as it was read here: {why}.",
    "Save the table anew, or use dialect = \"ableturn\".",
    sheet = "Save the table anew, or add --dialect ableturn."),
  "data-changed" = c("{file} has changed since it was opened.", "Open it again and repeat the proof.")
))

# The input cannot be read.
word_errors(list(
  "sheet-yaml" = c("The turn sheet {path} cannot be read: {why}",
    "Mend that line; text with signs in it goes in quotes."),
  "sheet-tag" = c("The turn sheet {path}, line {line}, holds a tag ({tag}), which could run code. It is refused.",
    "Take the tag out, or put the text in quotes."),
  "sheet-alias" = c("The turn sheet {path}, line {line}, holds a mark for a part of it ({tag}), which is not read.",
    "Write that part out where it belongs, or put the text in quotes."),
  "sheet-two" = c("The turn sheet {path}, line {line}, begins a second document, which would be passed over.",
    "Put it in a file of its own."),
  "sheet-version" = c("The turn sheet {path} has version {version}; this package reads version {known}.",
    "Its first line must be: able_turn: {known}"),
  "sheet-at" = c("{path}, line {line}, {where}: {why}", "{todo}"),
  "sheet-there" = c("There is a sheet {path} already, and it was left as it is.",
    "To go on from it: book <- apply_turns(data, sheet). To start anew, name another."),
  "sheet-locked" = c("The sheet {path} is being written by another process ({holder}).",
    "Close that one first, or name another sheet. If it no longer runs, delete {lock}."),
  "sheet-unlike" = c("The record cannot be kept in a sheet, as it would not come back the same: {where}: {why}",
    "What was there before was left as it is. Please report it."),
  "sheet-not-one" = c("{path} is not a turn sheet: {why}.", "A turn sheet begins with: able_turn: 1"),
  "data-outside" = c("The sheet {path} names data that are not in its folder: {name}.",
    "If they are the right ones, name them yourself: --data FILE.")
), unread = TRUE)
