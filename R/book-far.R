# Variables whose values are worked out where the rows are (see book-site.R), as their sources span
# more combinations than are fetched. Their answers come with counts, if these are few; else such a
# variable is long: `far` says where and under which name it is found, and what is known of it:
#   site, kept, name  where it is asked about, see kept_book()
#   rows     how many rows there are of each of its kinds of missing
#   whole    whether all its numbers are whole; `endless`: whether some are infinite

long_column <- function(like, kinds, far, rows) {
  list(x = far_values(like[0], rows), why = far_values(integer(), sum(far$rows)), kinds = kinds,
    far = far)
}

# An original that is long, as it is worked with.
long_original <- function(book, name) {
  meaning <- meaning_in(book, name)
  info <- info_of(book)
  proto <- valid_column(original_in(book, name)[0], meaning)
  kinds <- c(proto$kinds, if (!is.null(meaning$asked_if)) "not asked")
  alone <- with_parts(book, columns = list())
  known <- known_at_site(info$site, alone, name, proto$x, list(reason_node(name, kinds, alone)))
  rows <- rows_by(known$groups$keys[[1]], kinds, known$groups$rows)
  far <- list(site = info$site, kept = kept_book(alone), name = name, rows = rows,
    whole = known$whole, endless = known$endless)
  c(long_column(proto$x, kinds, far, info$rows), list(facts = known$facts,
    answered_unasked = unasked_answers(name, meaning, alone)))
}

# How many rows of those who were not asked hold an answer all the same.
unasked_answers <- function(name, meaning, book) {
  asked <- asked_node(meaning)
  if (is.null(asked)) return(NULL)
  all <- with_parts(book, meanings = replace(meanings_of(book), name,
    list(without_fields(meaning, "asked_if"))), cache = new.env())
  not_asked <- original_condition(name, "not asked", book)
  rows_where(all, call("&", not_asked, call("!", call("unanswered", as.name(name)))))
}

# The facts of a variable at the site, see facts_of_column(), what its numbers are like, and, as
# groups_at_site() has it, the combinations of the formulas `within`: all in one question if it can.
known_at_site <- function(site, book, name, like, within) {
  node <- as.name(name)
  if (is.character(like)) {
    return(list(facts = text_facts(site, book, node), whole = FALSE, endless = FALSE,
      groups = groups_at_site(site, book, within, site$most)))
  }
  ends <- ends_at_site(site, book, node, within)
  told <- ends_of_all(ends$told)
  gone <- told$rows == 0
  below <- if (!gone && told$low < 0) groups_at_site(site, book, list(node), 20, call("<", node, 0))
  negatives <- if (gone || told$low >= 0) 0L else if (is.null(below)) 21L else length(below$rows)
  facts <- list(valid = told$valid, few = FALSE, low = if (gone) NA_real_ else told$low,
    high = if (gone) NA_real_ else told$high, negatives = negatives, values = numeric(),
    rows = integer())
  few <- if (site$most < 2048) few_values(site, book, node)
  if (!is.null(few)) facts[c("few", "values", "rows")] <- c(TRUE, few)
  list(facts = facts, whole = told$parts == 0, endless = told$valid > told$rows,
    groups = list(keys = ends$keys, rows = as.integer(ends$told$n)))
}

# The ends over all groups.
ends_of_all <- function(told) {
  some <- told$rows > 0
  list(valid = sum(told$valid), rows = sum(told$rows), parts = sum(told$parts),
    low = min(told$low[some], Inf), high = max(told$high[some], -Inf))
}

text_facts <- function(site, book, node) {
  found <- groups_at_site(site, book, list(call("is.na", node)), 2)
  list(valid = sum(found$rows[found$keys[[1]] %in% 0]), few = FALSE, low = NA_real_,
    high = NA_real_, negatives = 0L, values = character(), rows = integer())
}

few_values <- function(site, book, node) {
  found <- groups_at_site(site, book, list(node), 2048)
  if (is.null(found)) return(NULL)
  values <- as.double(found$keys[[1]])
  use <- which(is.finite(values))
  use <- use[order(values[use])]
  list(values[use], found$rows[use])
}

# The place of the reason among `kinds` for which a variable is missing in a row.
reason_node <- function(name, kinds, book) {
  pairs <- lapply(seq_along(kinds), function(i) {
    held <- call("choose", kind_condition(name, kinds[i], book), 1, 0)
    list(call("==", call("first_valid", held, 0), 1), i)
  })
  rest <- match("undefined", kinds, 1L)
  call("choose", call("unanswered", as.name(name)),
    as.call(c(list(as.name("choose")), unlist(pairs, recursive = FALSE), list(rest))), NA)
}

# How many rows are missing for each reason, of those for which `where` is true.
rows_by_reason <- function(book, name, kinds, where = NULL) {
  found <- groups_at_site(info_of(book)$site, book, list(reason_node(name, kinds, book)),
    length(kinds) + 1, where)
  rows_by(found$keys[[1]], kinds, found$rows)
}

# A derived variable that is made at the site: what work_out() gives, in its answers, each with the
# rows that hold it; of a long one in its reasons alone.
work_out_at_site <- function(out, book) {
  site <- info_of(book)$site
  for (call in calls_of(out$expr, "previous")) refuse_twice_at_site(call, book)
  kinds <- kinds_in_order(out, book)
  draft <- draft_of(out, book, kinds)
  parts <- list(reason = reason_node(out$name, kinds, draft), branch = branch_node(out$expr),
    valid = valid_node(out$expr))
  nodes <- compact(parts)
  found <- groups_at_site(site, draft, c(nodes, list(as.name(out$name))), site$most)
  long <- is.null(found)
  like <- derived_in(draft, out$name)$x
  known <- if (long) known_at_site(site, draft, out$name, like, unname(nodes))
  if (long) found <- known$groups
  keys <- setNames(found$keys, c(names(nodes), if (!long) "value"))
  x <- if (long) rep(like[0][1], length(found$rows)) else as_column(keys$value, like)
  if (long) x[is.na(keys$reason)] <- as_column(known$facts$low %|% 0, like)
  worked_at_site(out, draft, kinds, keys, found$rows, x, known)
}

# Earlier occasions of a unit are looked for where its rows are, whether its answers are few or not.
check_occasions_at_site <- function(out, book) {
  for (call in calls_of(out$expr, "previous")) check_unit_at_site(info_of(book)$site, book, call)
}

# See refuse_twice().
refuse_twice_at_site <- function(call, book) {
  parts <- as.list(call)[c("unit", "order")]
  twice <- repeats_at_site(info_of(book)$site, book, unname(parts))
  if (is.null(twice)) return()
  fail("occasions-twice", unit = as.character(parts$unit), order = as.character(parts$order),
    rows = twice$rows, value = paste(show_value(twice$values[[1]]), "at",
      show_value(twice$values[[2]])))
}

as_column <- function(values, like) {
  if (inherits(like, "Date")) return(as_date(values))
  if (is.integer(like)) as_code(as.double(values)) else values
}

# The reasons that a variable may be missing for, in the order in which they are told of it.
kinds_in_order <- function(out, book) {
  if (is_row_node(out$expr)) return(item_kinds)
  single <- length(out$from) == 1 && out$carry
  chosen <- is.call(out$expr) && call_head(out$expr) == "choose"
  unique(c(out$lost %||% "undefined", vapply(reasons_in_order, `[[`, "", "kind"),
    if (single) column_in(book, out$from)$kinds,
    if (chosen) c(out$lost %||% "unmatched", stats::na.omit(out$kinds))))
}

# The book with the variable as it will be, without any values.
draft_of <- function(out, book, kinds) {
  vars <- vars_behind(out)
  blank <- lapply(self_named(vars), function(name) {
    column <- column_in(book, name)
    new_column(if (is_far(column)) column$x[0][1] else column$x[NA_integer_], 1L, column$kinds)
  })
  small <- book_of_cells(blank, 1L, book)
  x <- evaluate_column(out$expr, context_of(small))$x
  if (out$codes || formula_type(out) == "code") x <- as_code(x)
  made <- list(x = far_values(x[0], row_count(book)), kinds = kinds, expr = out$expr,
    rules = out$rules, rule_kinds = out$kinds, carry = out$carry, lost = out$lost,
    from = out$from, needs = formula_vars(out$expr), meaning = out$meaning,
    facts = facts_of_column(numeric()))
  book_with(book, out$name, made)
}

# The name in a book, for a question, of a column that is not in it.
guest <- "\r"

# The book with a variable in place of one of that name, or after all others.
book_with <- function(book, name, column) {
  columns <- derived_of(book)
  columns[[name]] <- column
  with_parts(book, columns = columns)
}

# The place of the rule that a row is caught by, 0 for none.
branch_node <- function(expr) {
  if (!is.call(expr) || call_head(expr) != "choose") return(NULL)
  tests <- choose_parts(expr)$tests
  as.call(c(list(as.name("choose")), unlist(Map(list, tests, seq_along(tests)), recursive = FALSE),
    0))
}

# How many of its items a row has.
valid_node <- function(expr) {
  if (is_row_node(expr)) as.call(c(list(as.name("row_valid")), row_items(expr)))
}

# `keys`: in each group of rows the place of the reason, of the rule, and the number of items.
worked_at_site <- function(out, draft, kinds, keys, rows, x, known) {
  why <- as.integer(keys$reason)
  own <- told_column(x, why, kinds)
  full <- c(list(x = x), branch_told(out, draft, keys$branch, rows), items_told(out, draft,
    keys$valid, rows))
  facts <- if (is.null(known)) facts_in_cells(x, rows) else known$facts
  worked <- list(full = full, own = own, small = NULL, rows = rows, facts = facts,
    told = told_at_site(out, draft, kinds))
  worked$column <- if (is.null(known)) cells_at_site(own, keys, rows, out$name, draft) else
    far_derived(own, rows, out$name, draft, known)
  worked
}

# One row for each group: its answer, or why it has none.
told_column <- function(x, why, kinds) {
  x[!is.na(why)] <- NA
  met <- sort(unique(why[!is.na(why)]))
  new_column(x, match(why[is.na(x)], met), kinds[met])
}

# Its answers are few: the cells in which it stands, known at the site by the variable itself.
cells_at_site <- function(own, keys, rows, name, draft) {
  named <- setNames(list(own$x, as.integer(keys$reason)), c(name, reason_key(name)))
  once <- group_cells_by(named, rows)
  site <- info_of(draft)$site
  site$kept <- kept_book(draft)
  site$drafts <- derived_of(draft)[name]
  kind <- integer(length(rows))
  kind[is.na(own$x)] <- own$why
  cells <- list(codes = far_codes(site, lapply(named, `[`, once$first)), rows = once$rows,
    values = own$x[once$first], kind = kind[once$first])
  new_indexed(cells, own$kinds)
}

# Groups that differ in what is not asked for here are one.
group_cells_by <- function(keys, rows) {
  text <- key_texts(keys)
  first <- which(!duplicated(text))
  list(first = first, rows = as.integer(sums_at(rows, match(text, text[first]), first)))
}

# Under which name the reason of a variable stands beside its values.
reason_key <- function(name) paste0(guest, name)

far_derived <- function(own, rows, name, draft, known) {
  counts <- rows_by(own$why, own$kinds, rows[is.na(own$x)])
  far <- list(site = info_of(draft)$site, kept = kept_book(draft), name = name, rows = counts,
    whole = known$whole, endless = FALSE)
  long_column(own$x, own$kinds, far, row_count(draft))
}
