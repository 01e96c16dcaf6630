# What the page shows of a book, as data: its variables, and its steps in their order. All words are
# those of the core and of the views.

# Of some variables: what each is, how many of its rows are valid, which codes look like missing
# ones (of originals), and from what a derived one is made.
desk_variables <- function(book, names = base::names(book)) {
  one <- function(name) {
    meaning <- meaning_in(book, name)
    from <- derived_in(book, name)$from
    suspects <- if (!is_derived(book, name)) suspect_codes(column_in(book, name)$x)
    list(name = name, label = meaning$label %||% "", level = meaning$level %||% "",
      kind = kind_in_words(book, name),
      derived = is_derived(book, name), from = from %||% character(),
      valid = facts_of(book, name)$valid / max(1, row_count(book)),
      suspects = show_value(suspects %||% numeric()), validity = validity_words(book, name))
  }
  lapply(self_named(names), one)
}

kind_in_words <- function(book, name) {
  if (has_text(book, name)) return("text")
  if (inherits(column_in(book, name)$x, "Date")) "date" else "number"
}

# Of each step: its `type`, what it `makes` or is about, what it `says` in a sentence, how many rows
# are `valid` of what it made, its open findings in words, and which later variables depend on it.
desk_steps <- function(book) {
  open <- Filter(function(finding) is.null(finding$because), all_findings(book))
  lapply(seq_along(steps_of(book)), function(place) {
    step <- steps_of(book)[[place]]
    makes <- step$turn$makes %||% step$vars
    mine <- Filter(function(finding) finding$variable %in% step$turn$makes, open)
    list(place = place, type = step$type, makes = makes %||% character(),
      says = if (step$type == "turn") methods_sentence(step$turn, book) else
        upper_first(named_step(step)),
      valid = vapply(step$turn$makes, function(name) validity_words(book, name), ""),
      findings = lapply(mine, in_words), users = setdiff(users_of(book, makes), makes))
  })
}
