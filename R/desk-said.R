#' @include desk-reader.R desk-typed.R desk-rules.R desk-fill.R
NULL

# What was typed, said back in our notation.

# What was typed, in our notation, for each field where that is another; of rules, of each range.
read_back <- function(fields, said, texts = character()) {
  known <- intersect(names(said), names(fields))
  told <- lapply(self_named(known), function(argument) {
    kind <- fields[[argument]]$kind
    typed <- if (kind == "separator") separator_of_page(said[[argument]]) else said[[argument]]
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
  separator = function(text, texts) {
    if (text %in% names(separators)) paste("a", text) else text
  },
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
