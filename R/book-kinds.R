# A formula may ask for a missing kind of a derived variable. It is put in terms of the
# originals, so that every back end can tell kinds apart by their codes alone.
rewrite_kinds <- function(node, book) {
  if (!uses(node, "unanswered")) return(node)
  walk_formula(node, function(call) {
    if (call_head(call) != "unanswered" || length(call) != 3) return(call)
    kind_condition(as.character(call[[2]]), call[[3]], book)
  })
}

# The reasons for which a variable may be missing, whether or not a row is now.
kinds_known <- function(book, name) {
  if (!is_derived(book, name)) return(original_kinds(meaning_in(book, name)))
  made <- held(book, "columns")[[name]]
  carried <- if (length(made$from) == 1) kinds_known(book, made$from)
  unique(c(carried, made$rule_kinds[!is.na(made$rule_kinds)], setdiff(standard_kinds, "blank")))
}

# TRUE where the variable is missing for this reason. What a rule says comes first, then the
# reasons of the sources, as explain_missing() has it.
kind_condition <- function(name, kind, book) {
  if (!is_derived(book, name)) return(original_condition(name, kind, book))
  made <- held(book, "columns")[[name]]
  by_rule <- rule_condition(made, kind)
  by_source <- source_condition(made, kind, book)
  if (is.null(by_source)) return(by_rule %||% nowhere(name))
  ruled <- c(made$rule_kinds[!is.na(made$rule_kinds)], made$lost %||% "unmatched")
  claimed <- any_of_them(lapply(ruled, rule_condition, made = made))
  if (!is.null(claimed)) by_source <- call("&", call("!", claimed), by_source)
  any_of_them(list(by_rule, call("&", call("unanswered", as.name(name)), by_source)))
}

original_kinds <- function(meaning) {
  c("blank", names(meaning$missing), if (!is.null(meaning$asked_if)) "not asked",
    if (!is.null(meaning$read)) "unreadable")
}

# Who was not asked is missing for that reason alone.
original_condition <- function(name, kind, book) {
  asked <- asked_node(meaning_in(book, name))
  test <- call("unanswered", as.name(name), kind)
  if (is.null(asked)) return(test)
  not_asked <- call("==", call("first_valid", call("choose", asked, 1, 0), 1), 0)
  if (kind == "not asked") not_asked else call("&", call("!", not_asked), test)
}

nowhere <- function(name) call("&", call("unanswered", as.name(name)), FALSE)

# The rows that a rule made missing for this reason, or that no rule caught.
rule_condition <- function(made, kind) {
  if (!is.call(made$expr) || call_head(made$expr) != "choose") return(NULL)
  parts <- choose_parts(made$expr)
  hit <- rep_len(made$rule_kinds %in% kind, length(parts$tests)) & length(made$rule_kinds) > 0
  rest <- kind == (made$lost %||% "unmatched") && is_lone_na(parts$default)
  if (!any(hit) && !rest) return(NULL)
  pairs <- unlist(Map(list, parts$tests, as.numeric(hit)), recursive = FALSE)
  chosen <- as.call(c(list(as.name("choose")), unname(pairs), as.numeric(rest)))
  call("==", call("first_valid", chosen, 0), 1)
}

# Among the missing rows: those that are missing because of their sources, or of the formula.
source_condition <- function(made, kind, book) {
  if (is_row_node(made$expr)) return(if (kind == "too few items") TRUE)
  missing <- any_of_them(lapply(made$from, function(v) call("unanswered", as.name(v))))
  any_of_them(list(
    own_condition(made, kind, missing, unreadable_condition(made, book), earlier_conditions(made$expr)),
    carried_condition(made, kind, missing, book)
  ))
}

# Rows whose sources are all there: the reason lies in the formula.
own_condition <- function(made, kind, missing, unreadable, earlier) {
  among <- function(test, ...) {
    others <- call("!", any_of_them(list(missing, ...)))
    if (isTRUE(test)) others else if (!is.null(test)) call("&", others, test)
  }
  switch(kind,
    "unreadable" = among(unreadable, earlier$first, earlier$lacking),
    "no earlier occasion" = among(earlier$first, earlier$lacking),
    "a source is missing" = earlier$lacking,
    if (kind == (made$lost %||% "undefined")) among(TRUE, unreadable, earlier$first, earlier$lacking)
  )
}

unreadable_condition <- function(made, book) {
  any_of_them(c(
    lapply(numbers_in_text(made$expr, book), function(v) call("unanswered", call("+", as.name(v), 0))),
    lapply(dates_in_text(made$expr, book), function(v) call("unanswered", call("as.Date", as.name(v))))
  ))
}

# TRUE where there is no earlier occasion, and where the earlier one has no valid answer.
earlier_conditions <- function(expr) {
  calls <- calls_of(expr, "previous")
  first <- lapply(calls, function(call) {
    call[[2]] <- call$order
    call("is.na", call)
  })
  lacking <- Map(function(call, none) call("&", call("!", none), call("is.na", call)), calls, first)
  list(first = any_of_them(first), lacking = any_of_them(lacking))
}

carried_condition <- function(made, kind, missing, book) {
  if (length(made$from) != 1 || !made$carry) return(if (kind == "a source is missing") missing)
  if (kind %in% kinds_known(book, made$from)) kind_condition(made$from, kind, book)
}

any_of_them <- function(tests) {
  tests <- tests[!vapply(tests, is.null, NA)]
  if (length(tests)) any_of_tests(tests)
}
