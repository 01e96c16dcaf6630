# What a turn may know of the book while it lowers itself.
world_of <- function(book, recorded = list(), site = site_of(book),
                     progress = function(done) NULL) {
  variable <- function(name) site$variable(name)
  learning <- showing_progress(site, progress)
  list(
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
    gaps = function(order, unit, occasions) steps_at(site, order, unit, occasions),
    is_text = function(name) has_text(variable(name)) || is_empty(variable(name)),
    kinds = function(name) kinds_known(variable(name))
  )
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
