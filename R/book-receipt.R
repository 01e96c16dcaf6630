# The receipt of a turn: what became of every row. A view gives it words.
new_receipt <- function(turn, parts, rows, recorded = FALSE) {
  structure(list(turn = turn, parts = parts, rows = rows, recorded = recorded),
    class = "ableturn_receipt_data")
}

# Receipts are conditions, so that they can be caught; layers above word them.
show_receipt <- function(receipt) {
  if (identical(getOption("ableturn.quiet"), "findings") && !has_alarm(receipt)) return(invisible())
  tell_analyst("ableturn_receipt", receipt = receipt)
}

# Whether something looks wrong that nobody has accepted.
has_alarm <- function(receipt) {
  found <- unlist(lapply(receipt$parts, function(part) if (is.list(part)) part$found),
    recursive = FALSE)
  any(vapply(found, function(f) f$severity == "warn" && is.null(f$because), NA))
}

receipt_part <- function(out, worked, column, learned, book) {
  full <- worked$full
  single <- if (length(out$from) == 1) out$from
  told <- worked$told %||% told_in_rows(out, worked, book)
  list(
    name = out$name, label = column$meaning$label, from = out$from, meaning = column$meaning,
    valid_before = if (!is.null(single)) facts_of(book, single)$valid,
    valid = column$facts$valid, missing = count_kinds(worked$own, worked$rows),
    range = value_range(column),
    lacking = told$lacking, rules = rule_counts(out, full),
    unmatched = told$unmatched, boundary = told$boundary,
    items = item_counts(out, full),
    learned = learned$learned, unreadable = unreadable_values(out, book), remarks = out$remarks,
    coded = coded_levels(out, column, book)
  )
}

# See told_at_site().
told_in_rows <- function(out, worked, book) {
  list(lacking = lacking_sources(out, worked$shown), unmatched = unmatched_values(out, worked),
    boundary = boundary_rows(out, worked, book))
}

# Texts that were to be numbers or dates and are none, with how many rows hold each.
unreadable_values <- function(out, book) {
  numbers <- unread_texts(numbers_in_text(out$expr, book), as_number, book,
    function(text) call("+", text, 0))
  dates <- unread_texts(dates_in_text(out$expr, book), as_date, book,
    function(text) call("as.Date", text))
  texts <- c(numbers$values, dates$values)
  if (!length(texts)) return(NULL)
  structure(count_values(texts, c(numbers$rows, dates$rows)),
    what = if (length(numbers$values)) "number" else "date")
}

# `tried`: the same reading as a formula.
unread_texts <- function(names, read, book, tried) {
  if (!length(names)) return(NULL)
  met <- lapply(names, function(name) {
    if (is_long(column_in(book, name))) unread_at_site(as.name(name), tried, book) else
      values_met(book, name)
  })
  values <- as.character(unlist(lapply(met, `[[`, "values")))
  lost <- is.na(read(values))
  list(values = values[lost], rows = as.integer(unlist(lapply(met, `[[`, "rows")))[lost])
}

unread_at_site <- function(text, tried, book) {
  lost <- call("&", call("!", call("unanswered", text)), call("unanswered", tried(text)))
  found <- groups_at_site(info_of(book)$site, book, list(text), info_of(book)$site$most, lost)
  if (is.null(found)) refuse_answers(as.character(text), book)
  list(values = found$keys[[1]], rows = found$rows)
}

# For a column that gives each level a value: the levels, their labels and rows.
coded_levels <- function(out, column, book) {
  node <- if (is.call(out$expr) &&
    call_head(out$expr) == "choose") choose_parts(out$expr)$default else out$expr
  if (!is_lookup(node) || !identical(out$lost, "unmatched")) return(NULL)
  source <- as.character(node[[3]])
  facts <- facts_of(book, source)
  levels <- node[[4]]
  at <- match(levels, fit_type(facts$values, levels))
  quick_table(code = show_value(levels), label = label_of(levels,
    meaning_in(book, source)$codes) %|% "", rows = facts$rows[at] %|% 0L, value = node[[2]])
}

value_range <- function(column) {
  ends <- c(column$facts$low, column$facts$high)
  if (is.character(column$x) || anyNA(ends)) return(NULL)
  if (inherits(column$x, "Date")) as_date(ends) else ends
}

rule_counts <- function(out, full) {
  if (is.null(out$rules)) return(code_counts(out, full))
  rest <- vapply(out$rules, `[[`, NA, "rest")
  order <- c(which(!rest), which(rest))
  rows <- c(full$rows[seq_len(sum(!rest))], if (any(rest)) full$none)
  quick_table(
    code = vapply(out$rules[order], function(r) show_code(r$code), ""),
    label = vapply(out$rules[order], function(r) r$label %||% "", ""),
    caught = vapply(out$rules[order], describe_rule, ""),
    rows = rows
  )
}

# The rules with the rows each caught.
rule_table <- function(derived) {
  if (is.null(derived$rules)) return(NULL)
  table <- rule_counts(derived, derived$counts)
  names(table) <- c("code", "label", "made from", "rows")
  table
}

# A condition has two codes: 1 where it holds, 0 where it does not.
code_counts <- function(out, full) {
  if (is.null(full$branch) || is.null(out$meaning$codes)) return(NULL)
  quick_table(
    code = c("1", "0"), label = c("Yes", "No"), caught = c("it holds", "it does not"),
    rows = c(full$rows[1], full$none)
  )
}

# The values that no rule caught, or that a table does not hold, with how many rows hold each.
unmatched_values <- function(out, worked) {
  table <- identical(out$lost, "not in the table")
  if (!table && (is.null(worked$full$branch) || is.null(out$rules))) return(NULL)
  kind <- if (table) out$lost else "unmatched"
  column <- worked$shown$column
  if (!kind %in% column$kinds) return(NULL)
  at <- which(is.na(column$x))[reasons(column) == kind]
  values <- lapply(out$from, function(name) values_of(worked$shown$book, name)[at])
  counted_answers(out, values, worked$shown$rows[at])
}

# Answers of the sources side by side, with how many rows hold each.
counted_answers <- function(out, values, rows) {
  shown <- lapply(values, function(x) show_each(x) %|% "missing")
  if (length(shown) > 1) shown <- Map(paste, out$from, shown, sep = " = ")
  counts <- count_values(do.call(paste, c(unname(shown), sep = ", ")), rows)
  if (identical(out$lost, "not in the table")) structure(counts, table = TRUE) else counts
}

show_each <- function(x) {
  values <- unique(x)
  show_value(values)[match(x, values)]
}

# How many rows lie exactly on an end of a range or on a constant, and where they went.
boundary_rows <- function(out, worked, book) {
  if (length(out$from) != 1) return(NULL)
  points <- sort(boundary_points(out))
  if (!length(points)) return(NULL)
  x <- as_number(values_of(worked$small, out$from))
  in_cells <- !is.null(worked$rows)
  # several cells may have one value, where this was made of several variables
  rows <- if (in_cells) rows_by(match(x, points), points, worked$rows) else
    rows_at(points, x, facts_of(book, out$from))
  met <- rows > 0
  if (!any(met)) return(NULL)
  first <- if (in_cells) match(points[met], x) else first_rows(x, points[met])
  quick_table(value = points[met], rows = rows[met], code = show_value(worked$own$x[first]))
}

boundary_points <- function(out) {
  if (!is.null(out$rules)) {
    return(range_ends(unlist(lapply(out$rules, `[[`, "when"), recursive = FALSE)))
  }
  test <- if (is.call(out$expr) && call_head(out$expr) == "choose") out$expr[[2]]
  compares <- is.call(test) && is_ordering(call_head(test))
  if (compares && is.symbol(test[[2]]) && is.numeric(test[[3]])) test[[3]] else numeric()
}

# What a receipt says of a composite: how many rows rest on how many items, and how the items hang
# together.
item_counts <- function(out, full) {
  if (is.null(full$with) || !is_row_node(out$expr)) return(NULL)
  nodes <- row_items(out$expr)
  counts <- setNames(full$with, seq_along(full$with) - 1L)
  told <- list(of = length(nodes), at_least = as.list(out$expr)$at_least %||% length(nodes),
    rows = rev(counts))
  if (!out$scale) return(told)
  c(told, agreement(full$items, full$sums))
}

# Cronbach's alpha over rows with every item, and each item's correlation with the sum of the
# others.
agreement <- function(items, sums) {
  told <- sums %||% item_sums(kernel_items(items), items_shift(items), items_sign(items))
  own <- told$own
  if (told$complete < 3 || anyNA(own) || anyNA(told$total) || any(own <= 0)) {
    return(told["complete"])
  }
  k <- length(own)
  rest <- (told$with_total - own) / sqrt(own * (told$total - 2 * told$with_total + own))
  list(complete = told$complete, rest = rest, alpha = k / (k - 1) * (1 - sum(own) / told$total))
}

alpha_of <- function(spread) {
  k <- ncol(spread)
  k / (k - 1) * (1 - sum(diag(spread)) / sum(spread))
}

# Each item's correlation with the sum of the others, from the covariances.
item_rest <- function(spread) {
  own <- diag(spread)
  with_all <- rowSums(spread)
  (with_all - own) / sqrt(own * (sum(spread) - 2 * with_all + own))
}

# How many rows have at least one, two, ... valid items of a score.
rows_with_items <- function(derived) rev(cumsum(rev(derived$counts$with[-1])))
