# Findings about scores that hold an item which belongs elsewhere.

# Items that have nothing to do with others that belong together, as a code among answers.
unrelated_item <- function(items, made, book) {
  rest <- made$receipt$items$rest
  n <- made$receipt$items$complete
  if (is.null(rest) || anyNA(rest) || length(items) < 4 || n < 100) return(NULL)
  alone <- abs(rest) < min(0.15, 2 / sqrt(n))
  alone <- alone & !vapply(items, function(name) {
    identical(meaning_in(book, name)$level, "nominal")
  }, NA)
  if (!any(alone) || mean(alone) > 1 / 3 || any(rest[!alone] < 0.3)) return(NULL)
  new_finding("unrelated-item", made$out$name,
    values = paste0(items[alone], " (r = ", two_digits(rest[alone]), ")"))
}

# Two scores of three items and more that hold the same item, each with others of its own. What one
# questionnaire scores is as its authors have it, and a short form lies inside a long one.
shared_items <- function(items, made, book) {
  own <- unique(asked_items(items, book))
  if (made$turn$verb != "composite" || length(own) < 3) return(NULL)
  for (other in Filter(function(name) verbs_in(book, name) == "composite", derived_names(book))) {
    if (other == made$out$name) next
    theirs <- unique(asked_items(derived_in(book, other)$from, book))
    both <- intersect(own, theirs)
    if (length(both) && 2 * length(both) <= min(length(own), length(theirs)) &&
      length(theirs) > 2) {
      return(new_finding("item-shared", made$out$name, other = other, values = both))
    }
  }
}

# The originals that were asked, where items are these turned round or moved.
asked_items <- function(items, book) {
  vapply(items, function(name) {
    made <- if (is_derived(book, name)) derived_in(book, name)
    moved <- !is.null(made) && has_trait(made$verb, "moves the scale") && length(made$from) == 1
    if (moved) made$from else name
  }, "")
}
