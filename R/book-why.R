# A column that is missing in the rows of its one source and no others has the reasons of that.
column_as_source <- function(full, out, book) {
  if (length(out$from) != 1 || !out$carry || !is.null(full$branch) || !is.null(full$lost)) return(NULL)
  source <- column_in(book, out$from)
  if (gone_alike(full$x, source$x)) new_column(full$x, source$why, source$kinds)
}

# Why each missing row of a derived variable is missing, as text.
explain_missing <- function(full, out, book) {
  if (!is.null(full$lost)) return(c("too few items", "undefined")[full$lost])
  gone <- which(is.na(full$x))
  if (!length(gone)) return(character())
  if (!is.null(full$branch)) return(explain_rules(full$branch[gone], gone, out, book))
  explain_sources(gone, out, book)
}

# A row that no rule caught, one that a rule made missing, or one that could not be decided.
explain_rules <- function(branch, gone, out, book) {
  reason <- explain_sources(gone, out, book)
  if (is_lone_na(choose_parts(out$expr)$default)) reason[which(branch == 0)] <- out$lost %||% "unmatched"
  if (is.null(out$kinds)) return(reason)
  kind <- out$kinds[replace(branch, branch %in% 0L, NA)]
  ifelse(is.na(kind), reason, kind)
}

explain_sources <- function(gone, out, book) {
  reason <- rep(out$lost %||% "undefined", length(gone))
  for (name in numbers_in_text(out$expr, book)) {
    reason[is.na(as_number(values_of(book, name)[gone]))] <- "unreadable"
  }
  for (name in dates_in_text(out$expr, book)) reason[is.na(as_date(values_of(book, name)[gone]))] <- "unreadable"
  for (call in calls_of(out$expr, "previous")) reason <- explain_previous(reason, call, gone, book)
  for (name in out$from) reason[is.na(values_of(book, name)[gone])] <- "a source is missing"
  if (length(out$from) == 1 && out$carry) reason <- carry_reasons(reason, gone, column_in(book, out$from))
  reason
}

# No earlier occasion, or one without a valid answer.
explain_previous <- function(reason, call, gone, book) {
  args <- as.list(call)
  at <- place_of(book)
  before <- rows_before(args, at)[gone]
  value <- evaluate(args[[2]], at)
  reason[is.na(before)] <- "no earlier occasion"
  reason[!is.na(before) & is.na(value[before])] <- "a source is missing"
  reason
}

carry_reasons <- function(reason, gone, source) {
  at <- match(gone, which(is.na(source$x)))
  known <- !is.na(at)
  reason[known] <- source$kinds[source$why[at[known]]]
  reason
}

# Which sources lack an answer where several are needed: their reasons and how many rows have each, named by source.
# Where none of them does, it is lacking on the occasion before. `shown` holds the rows of the data, or cells with how
# many rows each stands for.
lacking_sources <- function(out, shown) {
  column <- shown$column
  vague <- match("a source is missing", column$kinds)
  if (length(out$from) < 2 || is.na(vague)) return(NULL)
  hit <- logical(length(column$x))
  hit[which(is.na(column$x))[column$why == vague]] <- TRUE
  before <- hit
  counts <- lapply(self_named(out$from), function(name) {
    source <- column_in(shown$book, name)
    gone <- which(is.na(source$x))
    kept <- hit[gone]
    before[gone] <<- FALSE
    some <- list(x = rep(NA, sum(kept)), why = source$why[kept], kinds = source$kinds)
    if (any(kept)) count_kinds(some, shown$rows[gone[kept]])
  })
  if (any(before)) counts[["the occasion before"]] <- c(missing = if (is.null(shown$rows)) sum(before) else
    sum(shown$rows[before]))
  counts <- Filter(length, counts)
  counts[order(-vapply(counts, sum, 0), method = "radix")]
}

# The reasons of a derived variable, one for each NA row; where several sources were needed, by source: "income:
# Refused; hours: blank".
told_reasons <- function(book, name) {
  column <- column_in(book, name)
  told <- reasons(column)
  from <- derived_in(book, name)$from
  vague <- which(told %in% "a source is missing")
  if (length(from) < 2 || !length(vague)) return(told)
  at <- which(is.na(column$x))[vague]
  by_source <- rep("", length(at))
  for (source in from) {
    part <- pick_rows(column_in(book, source), at)
    gone <- which(is.na(part$x))
    by_source[gone] <- paste0(by_source[gone], ifelse(nzchar(by_source[gone]), "; ", ""), source, ": ", reasons(part))
  }
  told[vague] <- ifelse(nzchar(by_source), by_source, "the occasion before: missing")
  told
}

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
  made <- derived_in(book, name)
  carried <- if (length(made$from) == 1) kinds_known(book, made$from)
  unique(c(carried, made$rule_kinds[!is.na(made$rule_kinds)], setdiff(standard_kinds, "blank")))
}

# TRUE where the variable is missing for this reason. What a rule says comes first, then the
# reasons of the sources, as explain_missing() has it.
kind_condition <- function(name, kind, book) {
  if (!is_derived(book, name)) return(original_condition(name, kind, book))
  made <- derived_in(book, name)
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
  tests <- compact(tests)
  if (length(tests)) any_of_tests(tests)
}
