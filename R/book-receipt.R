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

# What became of the rows of one variable. Each part is left out where there is nothing to tell.
receipt_part <- function(out, outcome, variable, sources, notes) {
  single <- if (length(out$from) == 1) sources[[out$from]]
  list(
    name = out$name, label = variable$meaning$label, from = out$from, meaning = variable$meaning,
    valid_before = if (!is.null(single)) facts_of(single)$valid,
    valid = variable$facts$valid, missing = outcome$missing, range = value_range(variable),
    lacking = lacking_sources(out, outcome), rules = rule_counts(out, outcome$branch),
    unmatched = unmatched_values(out, outcome), boundary = boundary_rows(out, outcome),
    items = item_counts(out, outcome), learned = notes,
    unreadable = unreadable_values(out$expr, sources),
    remarks = c(out$remarks, compared_remark(out, outcome),
      counted_remarks(out$counted, outcome$branch$rows)),
    coded = coded_levels(out, sources)
  )
}

# Mean and SD of the source and of the result, each over its valid rows.
compared_remark <- function(out, outcome) {
  if (is.null(out$compared)) return(NULL)
  told <- lapply(c(out$from[1], out$name), function(name) {
    moments_at(outcome$at, as.name(name), of = c("mean", "sd"))
  })
  if (!all(vapply(told, function(m) length(m$rows) > 0, NA))) return(NULL)
  each <- vapply(told, function(m) paste0(show_amount(m$mean), " (", show_amount(m$sd), ")"), "")
  list(new_remark(out$compared, paste(each, collapse = ", "), plain = TRUE))
}

# How many rows each condition of a turn has caught, where it says so.
counted_remarks <- function(words, rows) {
  told <- which(nzchar(words) & rows[seq_along(words)] > 0)
  lapply(told, function(i) new_remark(words[i], counted(rows[i], "row"), plain = TRUE))
}

# Which sources lack an answer where several are needed: their reasons and how many rows have each,
# named by source.
lacking_sources <- function(out, outcome) {
  vague <- "a source is missing"
  if (length(out$from) < 2 || !vague %in% outcome$kinds) return(NULL)
  if (!is.null(outcome$lacking)) return(most_first(outcome$lacking))
  here <- call("unanswered", as.name(out$name), vague)
  lacking <- lapply(self_named(out$from), function(name) {
    found <- counts_at(outcome$at, list(reason_node(name)), here)
    known <- !is.na(found$keys[[1]])
    kinds <- column_of(outcome$at$variable(name))$kinds
    counts_by_kind(found$rows[known], kinds[found$keys[[1]][known]])
  })
  most_first(lacking)
}

most_first <- function(counts) {
  counts <- Filter(length, counts)
  counts[order(-vapply(counts, sum, 0), method = "radix")]
}

# Texts that were to be numbers or dates and are none, with how many rows hold each.
unreadable_values <- function(expr, sources) {
  numbers <- unread_texts(numbers_in_text(expr, sources), as_number, sources,
    function(text) call("+", text, 0))
  dates <- unread_texts(dates_in_text(expr, sources), as_date, sources,
    function(text) call("as.Date", text))
  texts <- c(numbers$values, dates$values)
  if (!length(texts)) return(NULL)
  structure(count_values(texts, c(numbers$rows, dates$rows)),
    what = if (length(numbers$values)) "number" else "date")
}

# `tried`: the same reading as a formula.
unread_texts <- function(names, read, sources, tried) {
  if (!length(names)) return(NULL)
  met <- lapply(names, function(name) {
    text <- as.name(name)
    lost <- call("&", call("!", call("unanswered", text)), call("unanswered", tried(text)))
    at <- site_of_one(sources[[name]])
    found <- counts_at(at, list(text), lost, most = at$most %||% Inf)
    if (is.null(found)) refuse_answers(sources[[name]])
    list(values = found$keys[[1]], rows = found$rows)
  })
  list(values = as.character(unlist(lapply(met, `[[`, "values"))),
    rows = as_row_counts(as.double(unlist(lapply(met, `[[`, "rows")))))
}

# For a column that gives each level a value: the levels, their labels and rows.
coded_levels <- function(out, sources) {
  node <- if (is_choose(out$expr)) choose_parts(out$expr)$default else out$expr
  if (!is_lookup(node) || !identical(out$looked_up, "levels")) return(NULL)
  source <- sources[[as.character(node[[3]])]]
  facts <- facts_of(source)
  levels <- node[[4]]
  at <- match(levels, fit_type(facts$values, levels))
  quick_table(code = show_value(levels), label = label_of(levels, source$meaning$codes) %|% "",
    rows = facts$rows[at] %|% 0L, value = node[[2]])
}

value_range <- function(column) {
  ends <- c(column$facts$low, column$facts$high)
  if (is.character(column$x) || anyNA(ends)) return(NULL)
  if (inherits(column$x, "Date")) as_date(ends) else ends
}

rule_counts <- function(out, branch) {
  if (is.null(out$rules)) return(code_counts(out, branch))
  rest <- vapply(out$rules, `[[`, NA, "rest")
  order <- c(which(!rest), which(rest))
  rows <- c(branch$rows[seq_len(sum(!rest))], if (any(rest)) branch$none)
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

# The codes that conditions give, where they are no rules: 1 where it holds, 0 where it does not; or
# as the turn has put it, see `caught`.
code_counts <- function(out, branch) {
  codes <- out$meaning$codes
  if (is.null(branch) || is.null(codes)) return(NULL)
  given <- unlist(lapply(choose_parts(out$expr)[c("values", "default")], unlist), use.names = FALSE)
  caught <- out$caught %||% c("it holds", "it does not")
  if (!is.numeric(given) || length(given) != length(caught)) return(NULL)
  quick_table(code = show_value(given), label = label_of(given, codes) %|% "", caught = caught,
    rows = c(branch$rows[seq_len(length(given) - 1)], branch$none))
}

# The values that no rule caught, or that a table does not hold, with how many rows hold each.
unmatched_values <- function(out, outcome) {
  table <- identical(out$looked_up, "table")
  kind <- own_reason(out, "unmatched")
  if (!table && is.null(out$rules) || !kind %in% outcome$kinds) return(NULL)
  found <- counts_at(outcome$at, lapply(out$from, as.name),
    call("unanswered", as.name(out$name), kind), most = outcome$at$most %||% Inf)
  if (is.null(found)) fail("unmatched-many", name = out$name, most = grouped(outcome$at$most))
  if (!length(found$rows)) return(NULL)
  counted_answers(out, found$keys, as_row_counts(found$rows))
}

# Answers of the sources side by side, with how many rows hold each.
counted_answers <- function(out, values, rows) {
  shown <- lapply(values, function(x) show_each(x) %|% "missing")
  if (length(shown) > 1) shown <- Map(paste, out$from, shown, sep = " = ")
  counts <- count_values(do.call(paste, c(unname(shown), sep = ", ")), rows)
  if (identical(out$looked_up, "table")) structure(counts, table = TRUE) else counts
}

show_each <- function(x) {
  values <- unique(x)
  show_value(values)[match(x, values)]
}

# How many rows lie exactly on an end of a range or on a constant, and where they went.
boundary_rows <- function(out, outcome) {
  points <- boundary_points(out)
  if (length(out$from) != 1 || !length(points)) return(NULL)
  points <- sort(points)
  source <- as.name(out$from)
  found <- counts_at(outcome$points, list(call("+", source, 0), as.name(out$name)),
    as.call(list(as.name("%in%"), call("+", source, 0), points)), most = length(points))
  if (!length(found$rows)) return(NULL)
  quick_table(value = as.double(found$keys[[1]]), rows = as_row_counts(found$rows),
    code = show_value(as_column(found$keys[[2]], outcome$x)))
}

boundary_points <- function(out) {
  if (!is.null(out$counted)) return(numeric())
  if (!is.null(out$rules)) {
    return(range_ends(unlist(lapply(out$rules, `[[`, "when"), recursive = FALSE)))
  }
  test <- if (is.call(out$expr) && call_head(out$expr) == "choose") out$expr[[2]]
  compares <- is.call(test) && is_ordering(call_head(test))
  if (compares && is.symbol(test[[2]]) && is.numeric(test[[3]])) test[[3]] else numeric()
}

# What a receipt says of a composite: how many rows rest on how many items, and how the items hang
# together.
item_counts <- function(out, outcome) {
  if (is.null(outcome$with) || !is_row_node(out$expr)) return(NULL)
  nodes <- row_items(out$expr)
  counts <- setNames(outcome$with, seq_along(outcome$with) - 1L)
  told <- list(of = length(nodes), at_least = as.list(out$expr)$at_least %||% length(nodes),
    rows = rev(counts))
  if (!out$scale) return(told)
  c(told, agreement(outcome$sums %||% products_at(outcome$at, nodes, total = TRUE)))
}

# How many rows have at least one, two, ... valid items of a score.
rows_with_items <- function(derived) rev(cumsum(rev(derived$counts$with[-1])))
