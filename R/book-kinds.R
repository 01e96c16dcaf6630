# Missing kinds as conditions of formulas.

# A formula may ask for a missing kind of a derived variable. It is put in terms of the originals,
# so that every back end can tell kinds apart by their codes alone.
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
  derived <- derived_in(book, name)
  carried <- if (length(derived$from) == 1) kinds_known(book, derived$from)
  unique(c(carried, derived$rule_kinds[!is.na(derived$rule_kinds)],
    setdiff(standard_kinds, "blank")))
}

# TRUE where the variable is missing for this reason. What a rule says comes first, then the reasons
# of the sources, as explain_missing() has it.
kind_condition <- function(name, kind, book) {
  if (!is_derived(book, name)) return(original_condition(name, kind, book))
  derived <- derived_in(book, name)
  by_rule <- rule_condition(derived, kind)
  by_source <- source_condition(derived, kind, book)
  if (is.null(by_source)) return(by_rule %||% nowhere(name))
  ruled <- c(derived$rule_kinds[!is.na(derived$rule_kinds)], derived$lost %||% "unmatched")
  claimed <- any_of_them(lapply(ruled, rule_condition, derived = derived))
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
rule_condition <- function(derived, kind) {
  if (!is.call(derived$expr) || call_head(derived$expr) != "choose") return(NULL)
  parts <- choose_parts(derived$expr)
  hit <- rep_len(derived$rule_kinds %in% kind, length(parts$tests)) & length(derived$rule_kinds) > 0
  rest <- kind == (derived$lost %||% "unmatched") && is_lone_na(parts$default)
  if (!any(hit) && !rest) return(NULL)
  pairs <- unlist(Map(list, parts$tests, as.numeric(hit)), recursive = FALSE)
  chosen <- as.call(c(list(as.name("choose")), unname(pairs), as.numeric(rest)))
  call("==", call("first_valid", chosen, 0), 1)
}

# Among the missing rows: those that are missing because of their sources, or of the formula; see
# reasons_in_order.
source_condition <- function(derived, kind, book) {
  if (is_row_node(derived$expr)) return(if (kind == "too few items") TRUE)
  carries <- length(derived$from) == 1 && derived$carry
  tests <- lapply(reasons_in_order, function(why) why$test(derived, book))
  kinds <- c(derived$lost %||% "undefined", vapply(reasons_in_order, `[[`, "", "kind"))
  if (carries) kinds[length(kinds)] <- NA
  own <- lapply(which(kinds %in% kind), function(i) {
    and_none_of(c(list(TRUE), tests)[[i]], tests[seq_along(tests) >= i])
  })
  carried <- if (carries && kind %in% kinds_known(book, derived$from)) kind_condition(derived$from,
    kind, book)
  any_of_them(c(own, list(carried)))
}

and_none_of <- function(test, later) {
  others <- any_of_them(later)
  if (is.null(test) || is.null(others)) return(test)
  if (isTRUE(test)) call("!", others) else call("&", call("!", others), test)
}
