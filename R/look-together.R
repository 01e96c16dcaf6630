# Columns of ticked answers looked at together, with one denominator.

# A row for each column: how many rows have ticked it, of those that have answered any of them, and
# its share of all ticks.
look_together <- plainly(function(book, names, weight = NULL) {
  site <- site_of(book)
  if (!is.null(weight)) check_weight(weight, site)
  for (name in names) check_ticks(variable_in(book, name))
  w <- if (is.null(weight)) 1 else call("first_valid", as.name(weight), 0)
  x <- lapply(names, as.name)
  ticked <- lapply(x, function(one) {
    call("first_valid", call("choose", call("==", one, 1), w, 0), 0)
  })
  given <- any_of_tests(lapply(x, function(one) call("!", call("unanswered", one))))
  any <- any_of_tests(lapply(x, function(one) call("==", tally_node(call("==", one, 1)), 1)))
  found <- counts_at(site, list(), given, sums = c(ticked, list(w, call("first_valid",
    call("choose", any, w, 0), 0))))
  sums <- if (length(found$rows)) colSums(found$sums) else rep(0, length(names) + 2)
  ticks <- sums[seq_along(names)]
  all <- sums[length(names) + 1]
  share <- function(part, whole) if (whole > 0) 100 * part / whole else NA_real_
  out <- data.frame(variable = names, label = vapply(names, function(name) {
    meaning_in(book, name)$label %||% ""
  }, ""), rows = ticks, percent = share(ticks, all), percent_answers = share(ticks, sum(ticks)),
  row.names = NULL)
  as_table(out, "ableturn_together", of = all, none = all - sums[length(names) + 2],
    missing = row_count(book) - sum(found$rows), weight = weight)
})

check_ticks <- function(variable) {
  facts <- facts_of(variable)
  values <- as_number(facts$values)
  if (!facts$few || !all(values %in% 0:1)) fail("together-ticks", name = variable$name)
}
