# Why a row is missing: the reasons of a made variable, as conditions on the variables that it
# reads, so that every site and every script can tell them apart.

# Why a row is missing that no rule decides: the last of these that holds, and none of them where
# the formula gives nothing for answers that are all there. `test`: a condition, NULL where it never
# holds; the last one gives way to the reasons of the source itself, where there is one and they are
# carried.
reasons_in_order <- list(
  list(kind = "unreadable", test = function(expr, sources) unreadable_condition(expr, sources)),
  list(kind = "no earlier occasion",
    test = function(expr, sources) any_of_them(first_conditions(expr))),
  list(kind = "no baseline", test = function(expr, sources) {
    any_of_them(c(lacking_conditions(expr), baseline_conditions(expr)))
  }),
  list(kind = "a source is missing", test = function(expr, sources) {
    own <- setdiff(names(sources), only_in_baseline(expr))
    any_of_them(lapply(own, function(v) call("unanswered", as.name(v))))
  })
)

# The reasons of rows without a score.
item_kinds <- c("too few items", "undefined")

# Texts that were to be numbers or dates and are none.
unreadable_condition <- function(expr, sources) {
  gone <- function(node) call("unanswered", node)
  any_of_them(c(
    lapply(numbers_in_text(expr, sources), function(v) gone(call("+", as.name(v), 0))),
    lapply(dates_in_text(expr, sources), function(v) gone(call("as.Date", as.name(v))))
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

# TRUE where there is no valid answer to compare with.
baseline_conditions <- function(expr) {
  lapply(calls_of(expr, "baseline"), function(call) call("is.na", call))
}

# The variables that a formula reads for what it compares with and for nothing else: a row may lack
# these itself.
only_in_baseline <- function(expr) {
  inside <- unlist(lapply(calls_of(expr, "baseline"), formula_vars))
  if (is.null(inside)) return(NULL)
  outside <- walk_formula(expr, function(call) {
    if (call_head(call) == "baseline") call("baseline", NA) else call
  })
  setdiff(inside, formula_vars(outside))
}

any_of_them <- function(tests) {
  tests <- compact(tests)
  if (length(tests)) any_of_tests(tests)
}

# A formula may ask for a missing kind of a made variable. It is put in terms of the originals, so
# that every back end can tell kinds apart by their codes alone.
rewrite_kinds <- function(node, variable) {
  if (!uses(node, "unanswered")) return(node)
  walk_formula(node, function(call) {
    if (call_head(call) != "unanswered" || length(call) != 3) return(call)
    kind_condition(variable(as.character(call[[2]])), call[[3]])
  })
}

# The reasons for which a variable may be missing, whether or not a row is now.
kinds_known <- function(variable) {
  if (!is_made(variable)) return(original_kinds(variable$meaning))
  carried <- if (length(variable$from) == 1) kinds_known(variable$sources[[variable$from]])
  unique(c(carried, variable$rule_kinds[!is.na(variable$rule_kinds)],
    setdiff(standard_kinds, "blank")))
}

original_kinds <- function(meaning) {
  c("blank", names(meaning$missing), if (!is.null(meaning$asked_if)) "not asked",
    if (!is.null(meaning$read)) "unreadable")
}

# TRUE where the variable is missing for this reason. What a rule says comes first, then the reasons
# of the sources, as explain_missing() has it.
kind_condition <- function(variable, kind) {
  name <- variable$name
  if (!is_made(variable)) return(original_condition(name, kind, variable$meaning))
  by_rule <- rule_condition(variable, kind)
  by_source <- source_condition(variable, kind)
  if (is.null(by_source)) return(by_rule %||% nowhere(name))
  ruled <- c(variable$rule_kinds[!is.na(variable$rule_kinds)],
    own_reason(variable, "unmatched"))
  claimed <- any_of_them(lapply(ruled, rule_condition, made = variable))
  if (!is.null(claimed)) by_source <- call("&", call("!", claimed), by_source)
  any_of_them(list(by_rule, call("&", call("unanswered", as.name(name)), by_source)))
}

# Who was not asked is missing for that reason alone.
original_condition <- function(name, kind, meaning) {
  asked <- asked_node(meaning)
  test <- call("unanswered", as.name(name), kind)
  if (is.null(asked)) return(test)
  not_asked <- call("==", call("first_valid", call("choose", asked, 1, 0), 1), 0)
  if (kind == "not asked") not_asked else call("&", call("!", not_asked), test)
}

nowhere <- function(name) call("&", call("unanswered", as.name(name)), FALSE)

# The rows that a rule made missing for this reason, or that no rule caught.
rule_condition <- function(made, kind) {
  if (!is_choose(made$expr)) return(NULL)
  parts <- choose_parts(made$expr)
  hit <- rep_len(made$rule_kinds %in% kind, length(parts$tests)) & length(made$rule_kinds) > 0
  rest <- kind == own_reason(made, "unmatched") && is_lone_na(parts$default)
  if (!any(hit) && !rest) return(NULL)
  pairs <- unlist(Map(list, parts$tests, as.numeric(hit)), recursive = FALSE)
  chosen <- as.call(c(list(as.name("choose")), unname(pairs), as.numeric(rest)))
  call("==", call("first_valid", chosen, 0), 1)
}

is_choose <- function(expr) is.call(expr) && call_head(expr) == "choose"

# Among the missing rows: those that are missing because of their sources, or of the formula.
source_condition <- function(made, kind) {
  if (is_row_node(made$expr)) return(if (kind == "too few items") TRUE)
  from <- made$sources[made$from]
  carries <- length(from) == 1 && made$carry
  tests <- lapply(reasons_in_order, function(why) why$test(made$expr, from))
  kinds <- c(own_reason(made, "undefined"), vapply(reasons_in_order, `[[`, "", "kind"))
  if (carries) kinds[length(kinds)] <- NA
  own <- lapply(which(kinds %in% kind), function(i) {
    and_none_of(c(list(TRUE), tests)[[i]], tests[seq_along(tests) >= i])
  })
  carried <- if (carries && kind %in% kinds_known(from[[1]])) kind_condition(from[[1]], kind)
  any_of_them(c(own, list(carried)))
}

and_none_of <- function(test, later) {
  others <- any_of_them(later)
  if (is.null(test) || is.null(others)) return(test)
  if (isTRUE(test)) call("!", others) else call("&", call("!", others), test)
}

# The reasons that a result may be missing for, in the order in which they are told of it.
kinds_in_order <- function(out, sources) {
  if (is_row_node(out$expr)) return(item_kinds)
  single <- length(sources) == 1 && out$carry
  unique(c(own_reason(out, "undefined"), vapply(reasons_in_order, `[[`, "", "kind"),
    if (single) column_of(sources[[1]])$kinds,
    if (is_choose(out$expr)) c(own_reason(out, "unmatched"), stats::na.omit(out$kinds))))
}

# The place of the reason among its kinds for which a made variable, or an original, is missing in a
# row, as a formula.
reason_formula <- function(variable) {
  kinds <- variable$kinds
  pairs <- lapply(seq_along(kinds), function(i) {
    held <- call("choose", kind_condition(variable, kinds[i]), 1, 0)
    list(call("==", call("first_valid", held, 0), 1), i)
  })
  rest <- match("undefined", kinds, 1L)
  call("choose", call("unanswered", as.name(variable$name)),
    as.call(c(list(as.name("choose")), unlist(pairs, recursive = FALSE), list(rest))), NA)
}

# The place of the rule that a row is caught by, 0 for none.
branch_node <- function(expr) {
  if (!is_choose(expr)) return(NULL)
  tests <- choose_parts(expr)$tests
  as.call(c(list(as.name("choose")), unlist(Map(list, tests, seq_along(tests)), recursive = FALSE),
    0))
}

# How many of its items a row has.
valid_node <- function(expr) {
  if (is_row_node(expr)) as.call(c(list(as.name("row_valid")), row_items(expr)))
}
