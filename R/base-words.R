#' @include base-fail.R
NULL

# What can be wrong with arguments and files. The words of each room stand in a file of its own.
word_errors(list(
  "bad-choice" = c("`{argument}` is {value}, which is not one of: {allowed}.", "Choose one of these."),
  "not-a-text" = c("`{argument}` must be one text in quotes, not {got}.", "Write it as {argument} = \"...\"."),
  "not-yes-no" = c("`{argument}` must be TRUE or FALSE, not {got}.", "Write {argument} = TRUE.",
    sheet = "Write {argument}: true."),
  "not-a-number" = c("`{argument}` must be {size}, not {got}.", "Check what is given for {argument}."),
  "unused-argument" = c("There is no argument `{name}`.{hint}", "The arguments are: {known}."),
  "bad-letters" = c("In {name} there is text whose bytes are no letters ({count} such): {text}.",
    "Read the file with its own encoding, or convert it: iconv(x, \"latin1\", \"UTF-8\")."),
  "file-exists" = c("{path} exists already and was left as it is.",
    "Choose another name, or add overwrite = TRUE.",
    sheet = "Choose another name, or add --overwrite."),
  "file-unwritable" = c("{path} cannot be written: {why}. What was there before was left as it is.",
    "Check that the folder is yours to write in and the disk is not full."),
  "no-folder" = c("There is no folder {folder}.", "Make it first, or choose another."),
  "package-needed" = c("For {what} the package {package} is needed, and it is not installed.",
    "Install it: install.packages(\"{package}\")."),
  "file-ending" = c("{path} promises another format: {what} is written as {known}.",
    "Give it that ending: there is no {ending} here yet.")
))

# The input cannot be read.
word_errors(list(
  "file-missing" = c("There is no file {path}.{hint}", "Check its name and folder."),
  "file-folder" = c("{path} is a folder, not a file.", "Name a file in it."),
  "file-closed" = c("{path} cannot be read: permission is denied.", "Check who may read it."),
  "file-empty" = c("{path} is empty.", "A table needs a header line at least."),
  "file-odd" = c("{path} is no ordinary file.", "Name a file."),
  "file-binary" = c("{path} is not a text file.", "Save the table as CSV first."),
  "file-not-utf8" = c("{path}, line {line}, is not in UTF-8.", "Save it in UTF-8."),
  "file-outside" = c("{path} names a file that is not in its own folder: {name}.",
    "Put that file beside it, or name it yourself.")
), unread = TRUE)
