# Replaces the statistics in a formula by their values, learned from the columns or taken from
# what is `recorded`. Gives the formula and what was learned: of, is, rows.
learn_formula <- function(node, at, recorded = list()) {
  notes <- new.env()
  notes$learned <- list()
  node <- walk_formula(node, function(call) {
    word <- formula_words[[call_head(call)]]
    if (!isTRUE(word$learned)) return(call)
    note <- learn_call(call, at, recorded)
    notes$learned <- c(notes$learned, list(note$note))
    note$node
  })
  list(node = node, learned = unique(notes$learned))
}

learn_call <- function(call, at, recorded) {
  if (call_head(call) == "spelled") return(learn_spelling(call, at))
  of <- formula_text(call)
  known <- Filter(function(r) identical(r$of, of), recorded)
  learn <- if (call_head(call) == "rare_values") learn_rare else learn_statistic
  note <- if (length(known)) known[[1]] else learn(call, of, at)
  list(node = note$is, note = note)
}

learn_statistic <- function(call, of, at) {
  word <- formula_words[[call_head(call)]]
  args <- lapply(as.list(call)[-1], evaluate, at = at)
  x <- as_number(args[[1]])
  use <- is.finite(x)
  others <- lapply(args[-1], function(a) if (length(a) == length(x)) as_number(a)[use] else a)
  value <- if (any(use)) as.double(do.call(word$run, c(list(x[use]), others))) else NA_real_
  if (anyNA(value)) fail("nothing-to-learn", of = of, rows = sum(use))
  list(of = of, is = value, rows = sum(use))
}

# spelled(x, "a", "b", loose = TRUE) becomes x %in% the spellings met in the data.
learn_spelling <- function(call, at) {
  loose <- isTRUE(as.list(call)$loose)
  wanted <- unlist(row_items(call)[-1])
  met <- spellings_met(evaluate(call[[2]], at), wanted, loose)
  list(
    node = call("%in%", call[[2]], met),
    note = list(of = formula_text(call), is = met, rows = NULL)
  )
}

spellings_met <- function(x, wanted, loose) {
  texts <- unique(as.character(x[!is.na(x)]))
  form <- if (loose) loosen else normal_text
  met <- texts[form(texts) %in% form(wanted)]
  sort_points(unique(c(met, if (!length(met)) wanted)))
}

# rare_values(x, "rarer_than", share, named ...): the values held by too few, those named aside.
learn_rare <- function(call, of, at) {
  args <- as.list(call)[-1]
  x <- evaluate(args[[1]], at)
  x <- x[!is.na(x)]
  values <- sort_values(unique(x))
  rows <- tabulate(match(x, values), length(values))
  few <- if (args[[2]] == "rarer_than") rows / length(x) < args[[3]] else rank(-rows, ties.method = "min") > args[[3]]
  list(of = of, is = setdiff(values[few], unlist(args[-(1:3)])), rows = length(x))
}
