# What is learned of a variable as a list of values: spellings, rare values, categories, and the
# whole distribution.

# spelled(x, "a", "b", loose = TRUE) becomes x %in% the spellings met in the data; with inside =
# "words", "pieces" or "patterns", x %in% the texts met that hold one of those.
learn_spelling <- function(call, site) {
  options <- as.list(call)
  wanted <- unlist(row_items(call)[-1])
  texts <- as.character(values_at(call[[2]], site)$values)
  met <- if (identical(options$inside, "entries")) {
    texts_with_entries(texts, wanted, options$by, isTRUE(options$loose))
  } else {
    spellings_met(texts, wanted, isTRUE(options$loose), options$inside)
  }
  list(
    node = call("%in%", call[[2]], met),
    note = new_note(formula_text(call), met)
  )
}

spellings_met <- function(texts, wanted, loose, inside = NULL) {
  if (!is.null(inside)) {
    return(sort_points(unique(texts[holds(texts, wanted, inside == "patterns", loose,
      inside == "words")])))
  }
  form <- if (loose) loosen else normal_text
  met <- texts[form(texts) %in% form(wanted)]
  sort_points(unique(c(met, if (!length(met)) wanted)))
}

# The distinct values of a variable or a formula and the rows of each.
values_at <- function(node, site) {
  if (is.symbol(node)) return(answers_of(site$variable(as.character(node))))
  near <- nearest_site(site, formula_vars(node))
  found <- counts_at(near, list(node), most = register_values)
  if (is.null(found)) fail("answers-many", name = formula_text(node),
    most = grouped(register_values))
  known <- !is.na(found$keys[[1]])
  list(values = found$keys[[1]][known], rows = found$rows[known])
}

# rare_values(x, "rarer_than", share, named ...): the values held by too few, those named aside.
learn_rare <- function(call, of, site) {
  args <- as.list(call)[-1]
  seen <- values_at(args[[1]], site)
  values <- sort_values(seen$values)
  rows <- seen$rows[match(values, seen$values)]
  all <- sum(rows)
  few <- if (args[[2]] == "rarer_than") rows / all < args[[3]] else rank(-rows,
    ties.method = "min") > args[[3]]
  new_note(of, setdiff(values[few], unlist(args[-(1:3)])), all)
}

# The values a variable takes, in their order.
learn_categories <- function(call, of, site) {
  node <- call[[2]]
  if (result_type(node, types_at(site)) == "date") {
    fail("group-date", of = of, name = formula_text(node))
  }
  seen <- values_at(node, site)
  codes <- if (is.symbol(node)) site$variable(as.character(node))$meaning$codes
  new_note(of, category_order(seen$values, codes), sum(seen$rows))
}

# One note a group: the distinct values and the weight at or below each.
learn_distribution <- function(call, of, site) {
  found <- distribution_in(statistic_parts(call, site))
  if (!length(found)) fail("nothing-to-learn", of = of, rows = counted(0, "row"))
  lapply(found, function(seen) {
    new_note(of, seen$values, seen$rows, seen$cumulative, if (length(seen$groups)) seen$groups)
  })
}

# The distinct values of each group and the weight at or below each, with how many rows there are;
# `groups` holds the values that tell a group.
distribution_in <- function(part) {
  plain <- !length(part$within) && is.null(part$weight)
  if (plain && site_can(part$site, "values") && is.null(part$site$times)) {
    seen <- sorted_counts(number_column(part$site, part$x))
    if (!length(seen$values)) return(list())
    return(list(list(values = seen$values, cumulative = cumsum(seen$rows), rows = sum(seen$rows))))
  }
  keys <- c(list(part$x), group_nodes(part), if (!is.null(part$weight)) list(as.name(part$weight)))
  found <- counts_at(part$site, keys, most = register_values)
  if (is.null(found)) fail("distribution-many", what = formula_text(part$x),
    most = grouped(register_values))
  distribution_of_groups(found, part)
}

distribution_of_groups <- function(found, part) {
  keys <- found$keys
  g <- seq_along(part$within)
  keys[1 + g] <- typed_keys(keys[1 + g], part)
  use <- is.finite(as_number(keys[[1]])) & Reduce(`&`, lapply(keys, function(x) !is.na(x)))
  # a weight may be a text that is read as a number
  w <- if (!is.null(part$weight)) as.double(as_number(keys[[length(keys)]])) %|% 0
  if (!is.null(w)) use <- use & w > 0
  cell <- if (length(g)) cell_of(keys[1 + g], combinations_of(keys[1 + g])$levels) else
    rep(1, length(use))
  lapply(unname(split(which(use), cell[use])), function(i) {
    seen <- distribution_of(as.double(as_number(keys[[1]][i])), w[i], found$rows[i])
    c(seen, list(rows = sum(found$rows[i]),
      groups = setNames(lapply(keys[1 + g], function(x) x[i[1]]), part$within)))
  })
}

# split_entries(x, by = ";"): the answers that occur, in the order of the codebook, else sorted; of
# loosely the same ones the most frequent spelling.
learn_entries <- function(call, of, site) {
  options <- as.list(call)
  seen <- values_at(call[[2]], site)
  pieces <- entries_in(as.character(seen$values), options$by)
  entries <- unlist(pieces)
  if (!length(entries)) return(new_note(of, character(), sum(seen$rows)))
  rows <- tapply(rep(as.double(seen$rows), lengths(pieces)), entries, sum)
  met <- sort_points(names(rows))
  if (isTRUE(options$loose)) {
    met <- met[order(-rows[met], method = "radix")]
    met <- sort_points(met[!duplicated(loosen(met))])
  }
  codes <- if (is.symbol(call[[2]])) site$variable(as.character(call[[2]]))$meaning$codes
  new_note(of, category_order(met, codes), sum(seen$rows))
}

# The texts that hold one of the answers, or, with none named, those that hold no answer at all.
texts_with_entries <- function(texts, wanted, by, loose) {
  form <- if (loose) loosen else normal_text
  sort_points(unique(texts[vapply(entries_in(texts, by), function(pieces) {
    if (is.null(wanted)) !length(pieces) else any(form(pieces) %in% form(wanted))
  }, NA)]))
}
