# Why a row is missing, for data and as conditions of formulas.

# Why a row is missing that no rule decides: the last of these that holds, and none of them where
# the formula gives nothing for answers that are all there. Each is told twice over, which must
# agree:
#   rows  for data: of the missing rows `gone` those for which it holds; `earlier`: see
#         earlier_occasions()
#   test  for formulas: a condition on the variables that are read, NULL where it never holds
reasons_in_order <- list(
  list(kind = "unreadable",
    rows = function(gone, out, book, earlier) unreadable_rows(gone, out, book),
    test = function(derived, book) unreadable_condition(derived, book)),
  list(kind = "no earlier occasion", rows = function(gone, out, book, earlier) earlier$first,
    test = function(derived, book) any_of_them(first_conditions(derived$expr))),
  list(kind = "a source is missing", rows = function(gone, out, book, earlier) earlier$lacking,
    test = function(derived, book) any_of_them(lacking_conditions(derived$expr))),
  # the reasons of the source itself, where there is one and they are carried
  list(kind = "a source is missing",
    rows = function(gone, out, book, earlier) source_missing_rows(gone, out, book),
    test = function(derived, book) {
      any_of_them(lapply(derived$from,
        function(v) call("unanswered", as.name(v))))
    })
)

# Texts that were to be numbers or dates and are none.
unreadable_rows <- function(gone, out, book) {
  hit <- logical(length(gone))
  for (name in numbers_in_text(out$expr, book)) {
    hit <- hit | is.na(as_number(values_of(book, name)[gone]))
  }
  for (name in dates_in_text(out$expr, book)) {
    hit <- hit | is.na(as_date(values_of(book, name)[gone]))
  }
  hit
}

source_missing_rows <- function(gone, out, book) {
  hit <- logical(length(gone))
  for (name in out$from) hit <- hit | is.na(values_of(book, name)[gone])
  hit
}

# Of the missing rows those without an earlier occasion (`first`), and those whose earlier one has
# no valid answer (`lacking`).
earlier_occasions <- function(gone, out, book) {
  found <- list(first = logical(length(gone)), lacking = logical(length(gone)))
  context <- context_of(book)
  for (call in calls_of(out$expr, "previous")) {
    args <- as.list(call)
    before <- rows_before(args, context)[gone]
    found$first <- found$first | is.na(before)
    found$lacking <- found$lacking | (!is.na(before) & is.na(evaluate(args[[2]], context)[before]))
  }
  found
}

unreadable_condition <- function(derived, book) {
  any_of_them(c(
    lapply(numbers_in_text(derived$expr, book), function(v) {
      call("unanswered",
        call("+", as.name(v), 0))
    }),
    lapply(dates_in_text(derived$expr, book), function(v) {
      call("unanswered",
        call("as.Date", as.name(v)))
    })
  ))
}

# TRUE where there is no earlier occasion.
first_conditions <- function(expr) {
  lapply(calls_of(expr, "previous"), function(call) {
    call[[2]] <- call$order
    call("is.na", call)
  })
}

# TRUE where there is one, without a valid answer.
lacking_conditions <- function(expr) {
  Map(function(call, none) call("&", call("!", none), call("is.na", call)),
    calls_of(expr, "previous"), first_conditions(expr))
}

any_of_them <- function(tests) {
  tests <- compact(tests)
  if (length(tests)) any_of_tests(tests)
}
