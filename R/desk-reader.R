#' @include desk-typed.R
NULL

# One reader of numbers, lists and ranges for all fields, as people type them; as_typed and
# write_range() say it back in our notation.

# Numbers parted by blanks, commas or semicolons; `size`, how many there must be, if that is known.
# A comma between two figures is a decimal mark, unless only as many numbers fit as parts are there:
# where both may be meant, that has to be said.
read_number_list <- function(text, size = NULL) {
  text <- plain_signs(text)
  pieces <- strsplit(text, "\\s*;\\s*|,\\s+|\\s+(?!%)", perl = TRUE)[[1]]
  pieces <- pieces[nzchar(pieces)]
  parts <- strsplit(text, "[,;[:space:]]+")[[1]]
  if (length(pieces) == 1 && grepl("^[-+]?[0-9]+,[-+]?[0-9]+(,[-+]?[0-9]+)*$", pieces)) {
    if (identical(length(parts), as.integer(size)) || length(parts) > 2) {
      return(vapply(parts, read_number, 0, USE.NAMES = FALSE))
    }
    if (is.null(size)) fail("typed-both", typed = text, list = paste(parts, collapse = "; "),
      decimal = sub(",", ".", text, fixed = TRUE))
  }
  vapply(pieces, read_number, 0, USE.NAMES = FALSE)
}

# Two limits: 1 5, 1-5, 1 to 5, 1,5.
read_both_ends <- function(text) {
  range <- read_typed_range(text)
  ends <- if (!is.null(range)) c(range$low, range$high)
  if (length(ends) && all(is.finite(ends))) ends else read_number_list(text, 2)
}

# Values of the chosen variables, and labels, that look like ranges: "18-29".
texts_like_ranges <- function(book, chosen) {
  if (!length(chosen)) return(character())
  met <- tryCatch(rule_values(book, chosen, 5000)$table, error = function(e) NULL)
  texts <- unique(c(met$value[met$kind == "text"], met$label))
  texts <- texts[nzchar(texts) & grepl("[0-9]", texts)]
  texts[!vapply(texts, function(text) {
    is.null(tryCatch(read_typed_range(text), error = function(e) NULL))
  }, NA)]
}

# What was typed, in our notation, for each field where that is another; of rules, of each range.
read_back <- function(fields, said, texts = character()) {
  known <- intersect(names(said), names(fields))
  told <- lapply(self_named(known), function(argument) {
    kind <- fields[[argument]]$kind
    typed <- said[[argument]]
    if (kind == "rules") return(as.list(vapply(typed$ranges, function(row) {
      said_back(row$when, function(text) when_as_typed(typed_when(text, texts)))
    }, "")))
    if (!kind %in% names(said_kinds) || !is.character(unlist(typed))) return(NULL)
    if (kind == "reasons") return(as.list(vapply(typed, function(pair) {
      said_back(pair[[2]], said_kinds[[kind]], texts)
    }, "")))
    said_back(typed, said_kinds[[kind]], texts)
  })
  Filter(function(text) any(nzchar(unlist(text))), told)
}

# By kind of field what was typed, read and written again.
said_kinds <- list(
  number = function(text, texts) show_number(read_number(text)),
  numbers = function(text, texts) paste(show_number(read_number_list(text)), collapse = " "),
  limits = function(text, texts) paste(show_number(read_both_ends(text)), collapse = " to "),
  moments = function(text, texts) paste(show_number(read_number_list(text, 2)), collapse = " "),
  values = function(text, texts) matchers_as_typed(as_matchers(as.list(typed_values(text, texts)))),
  reasons = function(text, texts) matchers_as_typed(as_matchers(as.list(typed_values(text, texts))))
)

# "" where nothing is to be said back.
said_back <- function(typed, read, ...) {
  if (is_untyped(typed)) return("")
  text <- one_typed(typed)
  again <- tryCatch(read(text, ...), error = function(e) NULL)
  same <- function(x) gsub("[[:space:],;]+(to )?", " ", x)
  if (!is.character(again) || anyNA(again) || length(again) != 1 || grepl("NA", again) ||
    same(again) == same(text)) "" else again
}

word_errors(list(
  "typed-both" = c("{typed} may be two numbers or one.", "Write {list} or {decimal}.")
))
