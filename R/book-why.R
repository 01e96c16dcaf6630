# A column that is missing in the rows of its one source and no others has the reasons of that.
column_as_source <- function(full, out, book) {
  if (length(out$from) != 1 || !out$carry || !is.null(full$branch) || !is.null(full$lost)) {
    return(NULL)
  }
  source <- column_in(book, out$from)
  if (gone_alike(full$x, source$x)) new_column(full$x, source$why, source$kinds)
}

# The reasons of rows without a score.
item_kinds <- c("too few items", "undefined")

# Why each missing row of a derived variable is missing: `why`, in the order of the rows, a position
# in `kinds`.
explain_missing <- function(full, out, book) {
  if (!is.null(full$lost)) return(told_kinds(full$lost, item_kinds))
  gone <- gone_rows(full$x)
  if (!length(gone)) return(list(why = integer(), kinds = character()))
  told <- if (is.null(full$branch)) explain_sources(gone, out, book) else
    explain_rules(full$branch[gone], gone, out, book)
  told_kinds(told$why, told$kinds)
}

# Each kind once, and only those that some row has.
told_kinds <- function(why, kinds) {
  met <- unique(kinds[tabulate(why, length(kinds)) > 0])
  list(why = match(kinds, met)[why], kinds = met)
}

# A row that no rule caught, one that a rule made missing, or one that could not be decided.
explain_rules <- function(branch, gone, out, book) {
  told <- explain_sources(gone, out, book)
  kinds <- c(told$kinds, out$lost %||% "unmatched", out$kinds)
  if (is_lone_na(choose_parts(out$expr)$default)) {
    told$why[which(branch == 0)] <- length(told$kinds) + 1L
  }
  ruled <- which(branch > 0)
  ruled <- ruled[!is.na(out$kinds[branch[ruled]])]
  told$why[ruled] <- length(told$kinds) + 1L + branch[ruled]
  list(why = told$why, kinds = kinds)
}

explain_sources <- function(gone, out, book) {
  kinds <- c(out$lost %||% "undefined", vapply(reasons_in_order, `[[`, "", "kind"))
  why <- rep(1L, length(gone))
  earlier <- earlier_occasions(gone, out, book)
  for (i in seq_along(reasons_in_order)) {
    why[reasons_in_order[[i]]$rows(gone, out, book, earlier)] <- i + 1L
  }
  if (length(out$from) != 1 || !out$carry) return(list(why = why, kinds = kinds))
  source <- column_in(book, out$from)
  carried <- kinds_at(source, gone)
  known <- which(carried > 0)
  why[known] <- length(kinds) + carried[known]
  list(why = why, kinds = c(kinds, source$kinds))
}

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

# Which sources lack an answer where several are needed: their reasons and how many rows have each,
# named by source. Where none of them does, it is lacking on the occasion before. `shown` holds the
# rows of the data, or cells with how many rows each stands for.
lacking_sources <- function(out, shown) {
  column <- shown$column
  vague <- match("a source is missing", column$kinds)
  if (length(out$from) < 2 || is.na(vague)) return(NULL)
  rows <- gone_rows(column$x)[column$why == vague]
  before <- rep(TRUE, length(rows))
  counts <- lapply(self_named(out$from), function(name) {
    source <- column_in(shown$book, name)
    why <- kinds_at(source, rows)
    gone <- which(why > 0)
    before[gone] <<- FALSE
    some <- list(x = rep(NA, length(gone)), why = why[gone], kinds = source$kinds)
    if (length(gone)) count_kinds(some, shown$rows[rows[gone]])
  })
  if (any(before)) counts[["the occasion before"]] <- c(
    missing = if (is.null(shown$rows)) sum(before) else sum(shown$rows[rows[before]]))
  counts <- Filter(length, counts)
  counts[order(-vapply(counts, sum, 0), method = "radix")]
}

# The reasons of a derived variable, one for each NA row; where several sources were needed, by
# source: "income: Refused; hours: blank".
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
    by_source[gone] <- paste0(by_source[gone], ifelse(nzchar(by_source[gone]), "; ", ""), source,
      ": ", reasons(part))
  }
  told[vague] <- ifelse(nzchar(by_source), by_source, "the occasion before: missing")
  told
}

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
