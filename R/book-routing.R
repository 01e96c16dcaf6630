# For whom questions were asked: conditions over originals.

# Originals whose condition reads one of these, directly or in steps.
asked_by <- function(book, names) {
  meanings <- meanings_of(book)
  conditions <- Filter(function(m) !is.null(m$asked_if), meanings)
  found <- character()
  repeat {
    more <- base::names(Filter(function(m) any(formula_vars(asked_node(m)) %in% c(names, found)),
      conditions))
    if (all(more %in% found)) return(found)
    found <- union(found, more)
  }
}

# These originals and those that their conditions read.
with_asked <- function(book, names) {
  repeat {
    read <- unlist(lapply(names, function(name) formula_vars(asked_node(meaning_in(book, name)))))
    if (all(read %in% names)) return(names)
    names <- union(names, read)
  }
}

# The condition with codes in place of labels; it may read originals alone, and not in a circle.
check_asked <- function(book, vars, text) {
  if (is.null(text)) return(NULL)
  node <- parse_formula(text)
  check_formula(node, original_names(book), text)
  world <- world_of(book)
  node <- ready_formula(node, world)
  learned <- FALSE
  walk_formula(node, function(call) {
    learned <<- learned || isTRUE(formula_words[[call_head(call)]]$learned)
    call
  })
  if (learned) fail("asked-statistic", formula = text)
  if (is.character(node)) refuse_quoted_formula(node, world)
  if (result_type(node, type_in(world)) != "truth") fail("flag-no-condition", formula = text)
  round <- intersect(with_asked(book, formula_vars(node)), vars)
  if (length(round)) fail("cycle", name = round, through = formula_vars(node))
  formula_text(node)
}

# Conditions that came with a codebook, checked against the data.
settle_asked <- function(book) {
  meanings <- meanings_of(book)
  asked <- compact(lapply(meanings, `[[`, "asked_if"))
  for (name in names(asked)) meanings[[name]]$asked_if <- NULL
  book <- with_parts(book, meanings = meanings)
  # One after the other, so that a condition which leads back to its own variable is met before it
  # is asked.
  for (name in names(asked)) {
    meanings[[name]]$asked_if <- check_asked(book, name, asked[[name]])
    book <- with_parts(book, meanings = meanings)
  }
  book
}
