# Every error, worded once: what is wrong and where, then what to do; where that differs, `sheet`:
# what to do for who works on a turn sheet rather than in R; `desk`: for who points and types into
# fields, and `desk_what`: what is wrong, in the words of the page. Each room adds the words of its
# own errors, and of its findings.
error_words <- new.env(parent = emptyenv())

finding_words <- new.env(parent = emptyenv())

# `unread`: the input cannot be read, so that the command line ends with another status.
word_errors <- function(words, unread = FALSE) {
  stopifnot(!names(words) %in% names(error_words))
  for (id in names(words)) assign(id, list(words = words[[id]], unread = unread), error_words)
}

word_findings <- function(words) list2env(words, finding_words)

finding_ids <- function() sort(names(finding_words), method = "radix")

# Stops with an error of the classes ableturn_error_<id> and ableturn_error, whose words stand in
# `error_words`.
fail <- function(id, ...) {
  values <- lapply(list(...), name_list)
  for (key in setdiff(names(values), several_lines)) values[[key]] <- show_controls(values[[key]])
  for (key in intersect(names(values), several_lines)) {
    values[[key]] <- show_controls(values[[key]], "\n")
  }
  words <- error_words[[id]]$words
  text <- fill_words(words_for_reader(words, 1:2), values)
  in_sheet <- if ("sheet" %in% names(words)) fill_words(words["sheet"], values)
  stop(errorCondition(
    paste(text, collapse = "\n"),
    class = c(paste0("ableturn_error_", gsub("-", "_", id)),
      if (error_words[[id]]$unread) "ableturn_error_unread", "ableturn_error"),
    call = call_of_analyst(), detail = list(...), in_sheet = in_sheet
  ))
}

# The function of this package that the analyst called, as a call without its arguments, which may
# be long; NULL where none was, as on the command line.
call_of_analyst <- function() {
  for (i in seq_len(sys.nframe())) {
    head <- sys.call(i)[[1]]
    own <- is.symbol(head) && identical(environment(sys.function(i)), topenv())
    if (own && as.character(head) %in% getNamespaceExports(topenv())) {
      return(call(as.character(head)))
    }
  }
}

# Whom messages are for: "r", or "sheet" for a turn sheet and the command line, or "desk".
reader <- function() getOption("ableturn.reader", "r")

# What is wrong and what to do, of all the words of a message; `places`: where these stand for R.
words_for_reader <- function(words, places) {
  own <- switch(reader(), desk = list("desk_what", c("desk", "sheet")), sheet = list(NULL, "sheet"))
  pick <- function(i) {
    known <- if (length(own)) intersect(own[[i]], names(words))
    unname(words[if (length(known)) known[1] else places[i]])
  }
  c(pick(1), pick(2))
}

for_reader <- function(in_r, in_sheet, on_desk = in_sheet) {
  switch(reader(), r = in_r, sheet = in_sheet, desk = on_desk)
}

# Pieces of an error that may be lines in themselves.
several_lines <- c("shown", "why", "todo")

fill_words <- function(words, values) {
  filled <- vapply(words, function(w) {
    as.character(glue::glue_data(values, w, .envir = baseenv(), .trim = FALSE))
  }, "")
  unname(filled)
}

# At most `most` names in a row, the rest counted.
name_list <- function(x, most = 16) {
  if (!length(x)) return("none")
  if (length(x) == 1) return(x)
  shown <- utils::head(as.character(x), most)
  more <- length(x) - length(shown)
  if (more) shown <- c(shown, paste("and", more, "more"))
  paste(shown, collapse = ", ")
}

# The nearest of `known` to a misspelt name, worded as a hint; "" when nothing is near.
near_hint <- function(name, known) {
  near <- nearest(name, known)
  if (is.na(near)) "" else paste0(" Did you mean `", near, "`?")
}

nearest <- function(name, known) {
  if (!length(known) || nchar(name) < 2) return(NA_character_)
  away <- utils::adist(name, known, ignore.case = TRUE)[1, ]
  best <- which.min(away)
  if (away[best] <= max(1, ceiling(nchar(name) / 3))) known[best] else NA_character_
}

# What can be wrong with arguments and files. The words of each room stand in a file of its own.
word_errors(list(
  "bad-choice" = c("`{argument}` is {value}, which is not one of: {allowed}.{hint}",
    "Choose one of these."),
  "not-a-text" = c("`{argument}` must be one text in quotes, not {got}.",
    "Write it as {argument} = \"...\"."),
  "not-yes-no" = c("`{argument}` must be TRUE or FALSE, not {got}.", "Write {argument} = TRUE.",
    sheet = "Write {argument}: true."),
  "not-a-number" = c("`{argument}` must be {size}, not {got}.",
    "Write a plain number, as in {argument} = 3.", sheet = "Write a plain number: {argument}: 3.",
    desk = "Write a plain number, such as 3."),
  "unused-argument" = c("There is no argument `{name}`.{hint}", "The arguments are: {known}."),
  "bad-letters" = c("In {name} there is text whose bytes are no letters ({count} such): {text}.",
    "Read the file with its own encoding, or convert it: iconv(x, \"latin1\", \"UTF-8\").",
    desk = "Save the file in UTF-8, and open it again."),
  "file-exists" = c("{path} exists already and was left as it is.",
    "Choose another name, or add overwrite = TRUE.",
    sheet = "Choose another name, or add --overwrite.",
    desk = "Choose another name, or tick that it may be replaced."),
  "file-is-source" = c(paste("{path} is a file that this work was opened from, which is never",
    "written over. Nothing was written."),
    "Choose another name."),
  "file-unwritable" = c("{path} cannot be written: {why}. What was there before was left as it is.",
    "Check that the folder is yours to write in and the disk is not full."),
  "no-folder" = c("There is no folder {folder}.", "Make it first, or choose another."),
  "package-needed" = c("For {what} the package {package} is needed, and it is not installed.",
    "Install it: install.packages(\"{package}\").",
    desk = "It has to be installed in R first."),
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
  "file-binary" = c("{path} is no text file, nor of another open format that is read here.",
    paste("Save the table as CSV; or read it with any reader and give the data frame,",
      "turnbook(data): attributes label, labels, na_values and na_range of its columns count."),
    desk = "Save the table as CSV, and choose that."),
  "file-not-utf8" = c("{path}, line {line}, is not in UTF-8.", "Save it in UTF-8."),
  "file-outside" = c("{path} names a file that is not in its own folder: {name}.",
    "Put that file beside it, or name it yourself.")
), unread = TRUE)

tell_analyst <- function(class, ...) {
  if (isTRUE(getOption("ableturn.quiet"))) return(invisible())
  message(structure(class = c(class, "message", "condition"), list(message = "", call = NULL, ...)))
}

# Work of many steps tells how far it is: after two seconds, then each time the time spent has
# doubled, or after ten seconds more. Call what this gives with the number of steps done. Progress
# is a condition, worded by layers above.
progress_of <- function(steps, what) {
  started <- seconds_now()
  due <- 2
  function(done) {
    spent <- seconds_now() - started
    if (spent < due || done >= steps) return(invisible())
    due <<- spent + min(spent, 10)
    show_progress(list(done = done, steps = steps, what = what, seconds = spent))
  }
}

seconds_now <- function() proc.time()[["elapsed"]]

# For people who wait: not for a log.
show_progress <- function(progress) {
  shown <- getOption("ableturn.progress", interactive() || isatty(stderr()))
  if (isTRUE(shown)) tell_analyst("ableturn_progress", progress = progress)
}
