# The receipt of a turn: what became of every row. A view gives it words.
new_receipt <- function(turn, parts, rows, recorded = FALSE) {
  structure(list(turn = turn, parts = parts, rows = rows, recorded = recorded), class = "ableturn_receipt_data")
}

# Receipts are conditions, so that they can be caught; layers above word them.
show_receipt <- function(receipt) {
  if (isTRUE(getOption("ableturn.quiet"))) return(invisible())
  message(structure(
    class = c("ableturn_receipt", "message", "condition"),
    list(message = "", call = NULL, receipt = receipt)
  ))
}

receipt_part <- function(out, full, column, learned, book, place) {
  single <- if (length(out$from) == 1) out$from
  list(
    name = out$name, label = column$meaning$label, from = out$from, meaning = column$meaning,
    valid_before = if (!is.null(single)) sum(!is.na(column_in(book, single)$x)),
    valid = sum(!is.na(column$x)), missing = count_kinds(column),
    range = value_range(column$x),
    rules = rule_counts(out, full$branch),
    unmatched = unmatched_values(out, full$branch, column, book),
    boundary = boundary_rows(out, column, book),
    items = item_counts(out, full$valid, place),
    learned = learned$learned, unreadable = unreadable_values(out, book), remarks = out$remarks,
    coded = coded_levels(out, column, book)
  )
}

# Texts that were to be numbers or dates and are none, with how many rows hold each.
unreadable_values <- function(out, book) {
  lost <- function(names, read) {
    unlist(lapply(names, function(name) {
      x <- column_in(book, name)$x
      x[!is.na(x) & is.na(read(x))]
    }))
  }
  numbers <- lost(numbers_in_text(out$expr, book), as_number)
  dates <- lost(dates_in_text(out$expr, book), as_date)
  if (!length(c(numbers, dates))) return(NULL)
  structure(count_values(c(numbers, dates)), what = if (length(numbers)) "number" else "date")
}

# For a column that gives each level a value: the levels, their labels and rows.
coded_levels <- function(out, column, book) {
  node <- if (is.call(out$expr) && call_head(out$expr) == "choose") choose_parts(out$expr)$default else out$expr
  if (!is_lookup(node) || !identical(out$lost, "unmatched")) return(NULL)
  source <- as.character(node[[3]])
  x <- column_in(book, source)$x
  levels <- node[[4]]
  data.frame(code = show_value(levels), label = label_of(levels, meaning_in(book, source)$codes) %|% "",
    rows = tabulate(match(x, levels), length(levels)), value = node[[2]])
}

value_range <- function(x) {
  if (is.character(x) || all(is.na(x))) return(NULL)
  range(x, na.rm = TRUE)
}

rule_counts <- function(out, branch) {
  if (is.null(out$rules)) return(code_counts(out, branch))
  rest <- vapply(out$rules, `[[`, NA, "rest")
  order <- c(which(!rest), which(rest))
  hits <- tabulate(branch[!is.na(branch)] + 1L, length(out$rules) + 1L)
  rows <- c(hits[-1][seq_len(sum(!rest))], if (any(rest)) hits[1])
  data.frame(
    code = vapply(out$rules[order], function(r) show_code(r$code), ""),
    label = vapply(out$rules[order], function(r) r$label %||% "", ""),
    caught = vapply(out$rules[order], describe_rule, ""),
    rows = rows
  )
}

# A condition has two codes: 1 where it holds, 0 where it does not.
code_counts <- function(out, branch) {
  if (is.null(branch) || is.null(out$meaning$codes)) return(NULL)
  data.frame(
    code = c("1", "0"), label = c("Yes", "No"), caught = c("it holds", "it does not"),
    rows = c(sum(branch %in% 1L), sum(branch %in% 0L))
  )
}

# The values that no rule caught, or that a table does not hold, with how many rows hold each.
unmatched_values <- function(out, branch, column, book) {
  table <- identical(out$lost, "not in the table")
  if (!table && (is.null(branch) || is.null(out$rules))) return(NULL)
  rows <- which(is.na(column$x))[reasons(column) == if (table) out$lost else "unmatched"]
  if (!length(rows)) return(NULL)
  shown <- lapply(out$from, function(name) show_value(column_in(book, name)$x[rows]))
  shown <- lapply(shown, function(text) ifelse(is.na(text), "missing", text))
  if (length(shown) > 1) shown <- Map(paste, out$from, shown, sep = " = ")
  values <- count_values(do.call(paste, c(unname(shown), sep = ", ")))
  if (table) structure(values, table = TRUE) else values
}

count_values <- function(x) {
  values <- unique(x)
  counts <- tabulate(match(x, values), length(values))
  number <- suppressWarnings(as.numeric(values))
  order <- if (anyNA(number)) order(-counts, values, method = "radix") else order(number)
  data.frame(value = values[order], rows = counts[order])
}

# How many rows lie exactly on an end of a range or on a constant, and where they went.
boundary_rows <- function(out, column, book) {
  if (length(out$from) != 1) return(NULL)
  x <- as_number(column_in(book, out$from)$x)
  points <- boundary_points(out)
  points <- points[points %in% x]
  if (!length(points)) return(NULL)
  rows <- lapply(points, function(p) which(x == p))
  data.frame(
    value = points, rows = lengths(rows),
    code = vapply(rows, function(r) paste(unique(show_value(column$x[r])), collapse = ", "), "")
  )
}

boundary_points <- function(out) {
  if (!is.null(out$rules)) {
    return(range_ends(unlist(lapply(out$rules, `[[`, "when"), recursive = FALSE)))
  }
  test <- if (is.call(out$expr) && call_head(out$expr) == "choose") out$expr[[2]]
  compares <- is.call(test) && call_head(test) %in% c("<", ">", "<=", ">=")
  if (compares && is.symbol(test[[2]]) && is.numeric(test[[3]])) test[[3]] else numeric()
}
