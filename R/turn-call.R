# A turn as a call of its verb, part by part, in the order in which they are written. Each part has the `name` of an
# argument (empty for what goes into the dots), its `shape` and its `value`. amend() makes the call again from it, and
# the script of own calls writes it down.
turn_as_call <- function(turn, with_pattern) {
  type <- type_of_turn(turn$verb)
  main <- if (length(type$main)) Map(main_part, names(type$main), type$main, list(turn)) else
    list(call_part("", "selection", turn$from))
  kept <- setdiff(names(type$keys), c(type$main, "from", "rules", "title", "as"))
  others <- lapply(c(kept, "high", "note", "accept"), function(key) {
    name <- if (key %in% names(type$called)) type$called[[key]] else key
    call_part(name, keys_of(turn$verb)[[key]], turn[[key]])
  })
  more <- if (!is.null(type$more)) type$more(turn)
  parts <- c(main, list(call_part("as", "constant", results_as(turn, type, with_pattern))), others,
    Map(call_part, names(more), "constant", more),
    lapply(turn$rules, call_part, name = "", shape = "rule"))
  unname(Filter(function(part) !is.null(part$value), parts))
}

call_part <- function(name, shape, value) list(name = name, shape = shape, value = value)

main_part <- function(name, key, turn) {
  switch(key,
    scales = call_part(name, "instrument", list(instrument = turn$title, scales = turn$scales)),
    formula = call_part(name, "formula", turn$formula), call_part(name, "selection", turn[[key]])
  )
}

# What `as` was: a pattern, or the names.
results_as <- function(turn, type, with_pattern) {
  by_pattern <- type$pattern == "always" || (type$pattern == "amended" && with_pattern)
  if (by_pattern) turn[["as"]] else named_results(turn)
}
