#' @include base-fail.R
NULL

# What can be wrong with the tables, codebooks and columns of files.
word_errors(list(
  "blank-frame" = c("`blank` says how a file is read, and these data are a data frame.",
    "Leave it out, or name the values: define(book, ..., missing = c(\"No answer\" = \"-\"))."),
  "bad-blank" = c("`blank` must be texts that stand for a blank answer, not {got}.", "Write blank = c(\"NA\", \"-\")."),
  "field-unknown" = c("A turn of kind {verb} holds `{field}`, which a turn sheet cannot hold. Nothing was saved.",
    "This is a fault of the package: please report it."),
  "rename-form" = c("`rename` must be names for columns, not {got}.", "Write rename = c(st_2 = \"st_2_r\")."),
  "rename-what" = c("{name} is to be renamed, but is no derived column among those to write.",
    "Only derived columns are renamed; originals are written as they came."),
  "reasons-taken" = c("There is a column {name} already, which the reasons would be named.",
    "Leave that column out: columns = ..."),
  "rename-taken" = c("The file would have two columns named {name}.",
    "Choose another name, or leave one out with `columns`."),
  "no-such-row" = c("There is no row {rows}; the rows run from 1 to {most}.", "Give positions, or id = ..."),
  "no-id" = c("The data have no row identifier.", "Give positions: rows = 17; or open the data with id = ..."),
  "no-such-id" = c("No row has the {name} {value}.", "Check the identifier with look()."),
  "codebook-pair" = c("An entry of {key} is no value with its label.", "Write {{\"value\": 1, \"label\": \"Never\"}}.")
))

# The input cannot be read.
word_errors(list(
  "ragged" = c("{path}, line {line}: {actual} where the header has {expected} ({lines} such).",
    "Look for a missing or extra separator, or an unclosed quote, in that line."),
  "open-quote" = c("{path}, line {line}: a quote is opened and never closed.", "Close it, or take it out."),
  "after-quote" = c("{path}, line {line}: something follows the quote that closes a field begun in line {begun}.",
    "Double the quotes inside a field, or put a separator after it."),
  "misread" = c("{path} has {lines} rows, but {rows} could be read.",
    "Look for odd quotes or line ends, or save it anew."),
  "sheet-columns" = c("The data lack columns that {path} reads: {names}.",
    "If they have other names here: apply_turns(..., rename = c(age = \"AGE_YRS\")). To make the others: skip = TRUE.",
    sheet = "If they have other names here: --rename age=AGE_YRS. To make the others: --skip."),
  "sheet-rename-taken" = c("The data have a column {name} already.", "Leave it out of `rename`, or out of the data."),
  "codebook" = c("The codebook {path} cannot be used: {why}.",
    "It must be a Data Package descriptor in JSON with a Table Schema.")
), unread = TRUE)
