# What the page shows of a book, as data: its variables, and its steps in their order. All words are
# those of the core and of the views.

# Of some variables: what each is, how many of its rows are valid, which codes look like missing
# ones (of originals), and from what a derived one is made.
desk_variables <- function(book, names = base::names(book)) {
  one <- function(name) {
    meaning <- meaning_in(book, name)
    from <- derived_in(book, name)$from
    list(name = name, label = meaning$label %||% "", level = meaning$level %||% "",
      kind = kind_in_words(book, name),
      derived = is_derived(book, name), from = from %||% character(),
      valid = facts_of(variable_in(book, name))$valid / max(1, row_count(book)),
      suspects = show_value(suspects_on_desk(name, book)), validity = validity_words(book, name))
  }
  lapply(self_named(names), one)
}

kind_in_words <- function(book, name) {
  if (has_text(variable_in(book, name))) return("text")
  if (inherits(column_of(variable_in(book, name))$x, "Date")) "date" else "number"
}

# Of each step: its `type`, what it `makes` or is about, which variables it `reads`, what it `says`
# in a sentence, its `note`, how many rows are `valid` of what it made, its findings in words, those
# that are open and those that were `accepted`. `places`: of which steps.
desk_steps <- function(book, places = seq_along(steps_of(book))) {
  lapply(intersect(places, seq_along(steps_of(book))), function(place) {
    step <- steps_of(book)[[place]]
    made <- step$turn$makes
    found <- found_of(made, book)
    accepted <- accepted_of(found)
    c(short_step(book, place), list(says = step_in_words(step, book),
      note = step$turn$note %||% step$meaning$note,
      valid = vapply(made, function(name) validity_words(book, name), ""),
      findings = lapply(found[!accepted], in_words),
      accepted = lapply(found[accepted], in_words)))
  })
}

# Of a step what its line tells, which costs little.
short_step <- function(book, place) {
  step <- steps_of(book)[[place]]
  made <- step$turn$makes
  list(place = place, type = step$type, verb = step$turn$verb,
    makes = made %||% step$vars %||% character(),
    reads = as.character(unique(unlist(lapply(made, function(name) derived_in(book, name)$reads)))),
    open = sum(!accepted_of(found_of(made, book))),
    noted = !is.null(step$turn$note %||% step$meaning$note))
}

found_of <- function(names, book) {
  found <- unlist(lapply(names, function(name) derived_in(book, name)$found), recursive = FALSE,
    use.names = FALSE)
  found[!duplicated(vapply(found, finding_key, ""))]
}

accepted_of <- function(found) !vapply(found, function(f) is.null(f$because), NA, USE.NAMES = FALSE)

step_in_words <- function(step, book) {
  if (step$type == "turn") return(methods_sentence(step$turn, book))
  if (step$type != "define") return(upper_first(named_step(step)))
  told <- meaning_in_words(step$meaning)
  paste0("Defined. ", paste0(names(told), ": ", told, collapse = ". "), ".")
}

# What a variable means, by what is said of it.
meaning_in_words <- function(meaning) {
  limits <- if (length(meaning$limits)) paste(show_number(meaning$limits), collapse = " to ")
  told <- c(Label = meaning$label, Codes = codes_in_words(meaning$codes),
    Missing = kinds_in_words(meaning$missing), Level = meaning$level,
    High = direction_in_words(meaning), Unit = meaning$unit, Limits = limits, Set = meaning$set,
    "Asked if" = meaning$asked_if, Note = meaning$note, Read = meaning$read, Role = meaning$role)
  told[nzchar(told)]
}
