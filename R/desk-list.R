#' @include meaning-new.R
NULL

# Which variables stand in the list, and in which order: by what is looked for, by what is filtered
# and by what they are sorted. For looking only: the data keep their order.

#   search  words; `sort`, a name of list_orders; `show`, a name of list_filters, or "set: " and
#           the name of a set
new_view <- function() list(search = "", sort = "place", show = "all")

# Each order: its words, and a function of the names that gives what they are sorted by; where it is
# the same, they keep their place.
list_orders <- list(
  place = list(words = "as in the data", by = NULL),
  name = list(words = "by name", by = function(names, book) lower_case(names)),
  label = list(words = "by label", by = function(names, book) {
    vapply(names, function(n) lower_case(meaning_in(book, n)$label %||% n), "")
  }),
  type = list(words = "by type", by = function(names, book) {
    vapply(names, kind_in_words, "", book = book)
  }),
  level = list(words = "by level", by = function(names, book) {
    match(vapply(names, level_in, "", book = book), measurement_levels)
  }),
  missing = list(words = "most missing first", by = function(names, book) {
    vapply(names, function(n) facts_of(variable_in(book, n))$valid, 0)
  }),
  set = list(words = "by set", by = function(names, book) {
    replace(sets_of(book)[names], !nzchar(sets_of(book)[names]), "\U10FFFF")
  }),
  from = list(words = "by what they are made from", by = function(names, book) {
    vapply(names, function(n) {
      paste(match(c(derived_in(book, n)$from, n), names(book)) + 1e6, collapse = " ")
    }, "")
  })
)

# Each filter: its words, and whether a variable is shown.
list_filters <- list(
  all = list(words = "all", fits = function(name, book) TRUE),
  made = list(words = "made here", fits = function(name, book) is_derived(book, name)),
  came = list(words = "originals", fits = function(name, book) !is_derived(book, name)),
  number = list(words = "numbers", fits = function(name, book) is_of_type(name, book, "number")),
  text = list(words = "texts", fits = function(name, book) is_of_type(name, book, "text")),
  date = list(words = "dates", fits = function(name, book) is_of_type(name, book, "date")),
  nominal = list(words = "nominal", fits = function(name, book) is_of_level(name, book, "nominal")),
  ordinal = list(words = "ordinal", fits = function(name, book) is_of_level(name, book, "ordinal")),
  scale = list(words = "interval or ratio", fits = function(name, book) {
    level_in(name, book) %in% c("interval", "ratio")
  }),
  unstated = list(words = "no level stated", fits = function(name, book) {
    is_of_level(name, book, "")
  }),
  missing = list(words = "with missing answers", fits = function(name, book) {
    facts_of(variable_in(book, name))$valid < row_count(book)
  }),
  suspects = list(words = "codes look missing", fits = function(name, book) {
    length(suspects_on_desk(name, book)) > 0
  }),
  findings = list(words = "with open findings", fits = function(name, book) {
    any(vapply(derived_in(book, name)$found, function(f) is.null(f$because), NA))
  })
)

is_of_type <- function(name, book, kind) kind_in_words(book, name) == kind

is_of_level <- function(name, book, level) level_in(name, book) == level

level_in <- function(name, book) meaning_in(book, name)$level %||% ""

# The set of each variable, "" where it is in none.
sets_of <- function(book) {
  vapply(self_named(names(book)), function(name) meaning_in(book, name)$set %||% "", "")
}

# What the list shows, in its order. In the order of the data, what was made here comes first.
names_listed <- function(book, view) {
  names <- c(rev(derived_names(book)), original_names(book))
  if (view$show != "all") names <- names[vapply(names, filter_of(view$show), NA, book = book)]
  names <- names_found(names, book, view$search)
  by <- list_orders[[view$sort]]$by
  if (is.null(by) || !length(names)) return(names)
  names[order(by(names, book), method = "radix")]
}

filter_of <- function(show) {
  if (!startsWith(show, "set: ")) return(list_filters[[show]]$fits)
  function(name, book) identical(meaning_in(book, name)$set, substring(show, 6))
}

# Names that hold all the words that are looked for, in the name, label, type, level or set; where
# none does, those that hold one of the words in their name.
names_found <- function(names, book, search) {
  words <- words_sought(search)
  if (!length(words)) return(names)
  text <- vapply(names, told_shortly, "", book = book,
    with_type = any(words %in% c("number", "numbers", "text", "texts", "date", "dates")))
  all <- names[hold_all(words, text)]
  if (length(all)) return(all)
  names[Reduce(`|`, lapply(words, function(word) grepl(word, lower_case(names), fixed = TRUE)))]
}

# The words of a search, and which texts hold all of them.
words_sought <- function(search) {
  words <- strsplit(lower_case(trimws(search)), "[[:space:],;]+")[[1]]
  words[nzchar(words)]
}

hold_all <- function(words, texts) {
  Reduce(`&`, lapply(words, grepl, texts, fixed = TRUE), rep(TRUE, length(texts)))
}

# Its type is found out only where it is looked for, as a column has to be read for that.
told_shortly <- function(name, book, with_type) {
  type <- if (with_type) paste0(kind_in_words(book, name), "s")
  lower_case(paste(c(described_shortly(name, book), level_in(name, book), type,
    meaning_in(book, name)$set), collapse = " "))
}

# A view as the page asks for it; what is unknown is what stands there at first.
view_asked <- function(event, book) {
  view <- new_view()
  said <- function(key) if (is_one(event[[key]], is.character)) event[[key]] else view[[key]]
  view$search <- one_typed(said("search"))
  if (said("sort") %in% names(list_orders)) view$sort <- said("sort")
  sets <- paste("set:", unique(sets_of(book)))
  if (said("show") %in% c(names(list_filters), sets)) view$show <- said("show")
  view
}
