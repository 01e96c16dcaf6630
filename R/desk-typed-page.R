# What the page says was typed, as the desk keeps it. The page sends plain text, and pairs of texts
# where names go with values, as these names are a user's own.

# By kind of field, where it is not kept as it comes; `before` is what the desk has kept of it.
kinds_of_page <- list(
  rules = function(said, before, texts) filled_rules(said, before, texts),
  named = function(said, before, ...) pairs_as_list(said),
  codes = function(said, before, ...) pairs_as_list(said),
  accepts = function(said, before, ...) pairs_as_list(said),
  reasons = function(said, before, ...) alike_as_one(pairs_as_list(said)),
  pairs = function(said, before, ...) pairs_as_list(said),
  names = function(said, before, ...) as.character(unlist(said)),
  separator = function(said, before, ...) separator_of_page(said),
  table = function(said, before, ...) table_of_page(said, before)
)

typed_of_page <- function(fields, said, before = list(), texts = character()) {
  known <- intersect(names(said), names(fields))
  lapply(self_named(known), function(argument) {
    kind <- kinds_of_page[[fields[[argument]]$kind]]
    if (is.null(kind)) return(plain_of_page(said[[argument]]))
    at_argument(argument, kind(said[[argument]], before[[argument]], texts))
  })
}

# Texts, numbers and truth values, and nothing else.
plain_of_page <- function(said) {
  said <- unlist(said)
  if (is.atomic(said) && length(said) == 1 && !is.na(said)) said else ""
}

# A field that holds nothing but blanks is not empty.
separator_of_page <- function(said) {
  said <- plain_of_page(said)
  if (is.character(said) && nzchar(said) && !nzchar(trimws(said))) write_separator(said) else said
}

# Codes of one reason may stand on several lines.
alike_as_one <- function(typed) {
  typed <- compact_typed(typed)
  lapply(split_in_order(typed, names(typed)), function(lines) paste(unlist(lines), collapse = "; "))
}

# A table: a path that was typed; a file that was chosen, with its bytes; or what was there before.
table_of_page <- function(said, before) {
  if (isTRUE(said$kept)) return(before)
  if (is.null(said$name)) return(plain_of_page(said$path %||% said))
  if (sum(nchar(said$bytes)) > most_bytes * 4 / 3 + 4) {
    fail("desk-file-large", name = said$name, most = size_in_words(most_bytes))
  }
  read_sent(said$name, openssl::base64_decode(said$bytes))
}

most_bytes <- 5e6

# Read as the file would be where it lies; an instrument file, as what it says.
read_sent <- function(name, bytes) {
  room <- tempfile("sent-")
  dir.create(room)
  on.exit(unlink(room, recursive = TRUE))
  ending <- tolower(gsub("[^A-Za-z0-9]", "", sub(".*[.]", "", basename(name))))
  path <- file.path(room, paste0("table.", ending))
  writeBin(bytes, path)
  if (ending %in% c("yaml", "yml")) open_instrument(path) else read_data(path)
}

word_errors(list(
  "desk-file-large" = c("{name} is larger than {most}, which is too much for a table of codes.",
    "Keep the columns that are looked up, or name a path on this machine.")
))
