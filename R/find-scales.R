# Findings about scores that hold an item which belongs elsewhere.

# Items that have nothing to do with others that belong together, as a code among answers.
unrelated_item <- function(items, made) {
  rest <- made$receipt$items$rest
  n <- made$receipt$items$complete
  if (is.null(rest) || anyNA(rest) || length(items) < 4 || n < 100) return(NULL)
  alone <- abs(rest) < min(0.15, 2 / sqrt(n))
  alone <- alone & !vapply(items, function(name) {
    identical(made$sources[[name]]$meaning$level, "nominal")
  }, NA)
  if (!any(alone) || mean(alone) > 1 / 3 || any(rest[!alone] < 0.3)) return(NULL)
  new_finding("unrelated-item", made$out$name,
    values = paste0(items[alone], " (r = ", two_digits(rest[alone]), ")"))
}

# Two scores of three items and more that hold the same item, each with others of its own. What one
# questionnaire scores is as its authors have it, and a short form lies inside a long one.
shared_items <- function(items, made, book) {
  scores <- Filter(function(other) identical(other$verb, "composite"), derived_of(book))
  own <- if (length(scores)) unique(asked_items(made$sources[items]))
  if (length(own) < 3) return(NULL)
  for (other in setdiff(names(scores), made$out$name)) {
    from <- scores[[other]]$from
    theirs <- unique(asked_items(scores[[other]]$sources[from]))
    both <- intersect(own, theirs)
    if (length(both) && 2 * length(both) <= min(length(own), length(theirs)) &&
      length(theirs) > 2) {
      return(new_finding("item-shared", made$out$name, other = other, values = both))
    }
  }
}

# The originals that were asked, where items are these turned round or moved.
asked_items <- function(items) {
  vapply(items, function(item) {
    moved <- is_made(item) && has_trait(item$verb, "moves the scale") && length(item$from) == 1
    if (moved) item$from else item$name
  }, "")
}
