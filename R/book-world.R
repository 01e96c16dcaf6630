# What a turn may know of the book while it lowers itself.
world_of <- function(book, recorded = list(), site = site_of(book),
                     progress = function(done) NULL) {
  variable <- function(name) site$variable(name)
  learning <- showing_progress(site, progress)
  c(world_of_rows(site, learning, recorded), list(
    is_recorded = function(note) any(vapply(recorded, function(r) identical(r$of, note$of), NA)),
    names = names(book), id = info_of(book)$id, rows = row_count(book),
    learn_all = function(call) learn_notes(call, learning, recorded),
    learn = function(call) learn_call(call, learning, recorded)$note,
    meaning = function(name) variable(name)$meaning,
    facts = function(name) facts_of(variable(name)),
    met = function(name) answers_of(variable(name)),
    column = function(name) values_of(variable(name)),
    values = function(name) values_held(variable(name)),
    outside = function(name, limits) values_outside(variable(name), limits),
    answers = function(name, most) answers_upto(variable(name), most),
    is_whole = function(name) has_whole_values(variable(name)),
    bands = function(name, cuts, ends) {
      bands_at(site_of_one(variable(name)), as.name(name), cuts, ends)
    },
    few = function(name) few_answers(variable(name)),
    is_text = function(name) has_text(variable(name)) || is_empty(variable(name)),
    has_numbers = function(name) value_type(variable(name)) == "number",
    kinds_met = function(name) names(missing_of(variable(name))),
    kinds = function(name) kinds_known(variable(name))
  ))
}

# What is known of several variables together, or of rows for which something holds.
world_of_rows <- function(site, learning, recorded) {
  list(
    groups = function(name, within) groups_in_world(site, name, within),
    ranks_ahead = function(name, shares) {
      if (site_can(site, "values")) ranks_at(learning, as.name(name), shares)
    },
    coders_agree = function(names, meaning) agreement_at(site, names, meaning),
    against = function(names) items_against(site, names),
    repeats = function(names) repeats_at(site, lapply(names, as.name)),
    rows_with = function(test) rows_where(site, learn_formula(test, learning, recorded)$node),
    gaps = function(order, unit, occasions) steps_at(site, order, unit, occasions)
  )
}

# Rows, mean and SD of a variable in each group, where there are no more groups than are fetched.
groups_in_world <- function(site, name, within) {
  cells <- prod(vapply(within, function(g) answers_upto(site$variable(g), register_values), 1))
  if (!site_can(site, "values") && cells >= register_values) return(NULL)
  moments_at(site, as.name(name), lapply(within, as.name), of = c("mean", "sd"))
}

# A site where statistics are learned, which takes its time before the first step is done.
showing_progress <- function(site, progress) {
  teller <- scoped(site, function(name) {
    progress(0)
    site$variable(name)
  })
  teller$memo <- site$memo
  teller
}
