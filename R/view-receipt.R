#' @export
conditionMessage.ableturn_receipt <- function(c) {
  if (is_only_signalled(sys.function(sys.parent()))) "" else receipt_text(c$receipt)
}

# R asks for the text of a condition when it is signalled, read or not, and again to show it: words
# are made for who reads them.
is_only_signalled <- function(asker) identical(asker, signalCondition)

receipt_text <- plainly(function(receipt) {
  paste0(paste(for_terminal(receipt_lines(receipt)), collapse = "\n"), "\n")
})

receipt_lines <- plainly(function(receipt) {
  c(body_lines(receipt), followed_lines(receipt$turn$followed))
})

body_lines <- function(receipt) {
  if (identical(getOption("ableturn.quiet"), "findings")) return(alarm_lines(receipt))
  own <- step_receipts[[receipt$turn$verb]]
  if (!is.null(own)) return(own(receipt))
  if (length(receipt$parts) == 1) return(single_lines(receipt$parts[[1]], receipt))
  many_lines(receipt)
}

# The receipt with quiet = "findings": what looks wrong, under the names of what was made.
alarm_lines <- function(receipt) {
  c(title_line(name_list(receipt$turn$makes %||% receipt$turn$verb)),
    receipt_findings(receipt$parts))
}

# Receipts of steps that are no turns, and of those turns that have a form of their own.
step_receipts <- list(
  define = function(receipt) definition_lines(receipt),
  undo = function(receipt) named_step_lines("Undone: ", receipt),
  redo = function(receipt) named_step_lines("Done again: ", receipt),
  replay = function(receipt) replay_lines(receipt), amend = function(receipt) amend_lines(receipt),
  rename = function(receipt) rename_lines(receipt$turn),
  drop = function(receipt) title_line("Dropped: ", name_list(receipt$turn$makes)),
  write = function(receipt) left_out_lines(receipt$turn),
  codebook = function(receipt) unused_lines(receipt$turn),
  open = function(receipt) open_lines(receipt$turn),
  "changed copy" = function(receipt) changed_copy_lines(receipt$turn),
  package = function(receipt) package_lines(receipt$turn),
  formulas = function(receipt) formula_cell_lines(receipt$turn),
  "written as read" = function(receipt) written_as_read_lines(receipt$turn),
  aside = function(receipt) aside_lines(receipt$turn),
  "written within" = function(receipt) within_lines(receipt$turn),
  check = function(receipt) check_receipt_lines(receipt),
  dummy = function(receipt) dummy_lines(receipt)
)

single_lines <- function(part, receipt) {
  c(
    receipt_title(part$name, part$label, receipt$turn$verb, part$from),
    rule_lines(part, receipt$rows),
    item_lines(part),
    validity_line(part, receipt$rows), lacking_line(part$lacking),
    range_line(part),
    learned_lines(part$learned, receipt$recorded),
    boundary_line(part$boundary),
    unreadable_line(part$unreadable),
    if (!all_in_gaps(part)) unmatched_line(part$unmatched), own_remarks(part$remarks),
    receipt_findings(list(part))
  )
}

receipt_title <- function(name, label, verb, from) {
  label <- if (!is.null(label) && label != name) paste0("  ", label)
  title_line(name, shorten(label %||% "", 56), side = paste0(verb, if (length(from)) " of ",
    from_in_words(from)))
}

from_in_words <- function(from) {
  if (length(from) > 3) paste(length(from), "variables") else paste(from, collapse = ", ")
}

rule_lines <- function(part, rows) {
  if (is.null(part$rules)) return(NULL)
  share <- 100 * part$rules$rows / rows
  table <- part$rules[c("code", "label", "caught", "rows")]
  table$percent <- to_percent(share)
  used <- nchar(table_lines(table, width = 200)[1], "width")
  table$share <- bar(share, size = min(16, max(4, page_width() - used - 4)))
  table_lines(table, headings = c("code", "label", "made from", "rows", "%", ""))
}

item_lines <- function(part) {
  items <- part$items
  if (is.null(items) || !sum(items$rows)) return(NULL)
  rows <- items$rows[items$rows > 0]
  scored <- as.integer(names(rows)) >= items$at_least
  table <- data.frame(
    "valid items" = paste(names(rows), "of", items$of), rows = as_row_counts(rows),
    outcome = ifelse(scored, "scored", "too few"),
    "scored if enough" = grouped(cumsum(rows)), check.names = FALSE
  )
  c(table_lines(table), alpha_line(items))
}

alpha_line <- function(items) {
  if (is.null(items$alpha)) return(NULL)
  folded("Cronbach's alpha ", two_digits(items$alpha), " over ",
    counted(items$complete, "complete row"))
}

# One table for many variables.
many_lines <- function(receipt) {
  parts <- receipt$parts
  lowest <- vapply(parts, function(p) as.numeric(p$range[1] %||% NA), 0)
  highest <- vapply(parts, function(p) as.numeric(p$range[2] %||% NA), 0)
  table <- data.frame(
    variable = vapply(parts, `[[`, "", "name"), label = vapply(parts,
      function(p) p$label %||% "", ""),
    from = vapply(parts, function(p) from_in_words(p$from), ""),
    valid = vapply(parts, `[[`, 0, "valid"), missing = vapply(parts, function(p) sum(p$missing), 0),
    lowest = lowest, highest = highest
  )
  shown <- seq_len(min(20, nrow(table)))
  more <- nrow(table) - length(shown)
  c(
    title_line(counted(length(parts), "variable"), " by ", receipt$turn$verb,
      side = paste(grouped(receipt$rows), "rows")),
    table_lines(table[shown, ]), if (more) paste0("  and ", counted(more, "more variable")),
    shared_kinds(parts), shared_remarks(parts),
    noted_parts(parts, receipt), receipt_findings(parts)
  )
}

# What is to be said of single variables, for the first twelve of which there is anything.
noted_parts <- function(parts, receipt) {
  notes <- lapply(parts, shared_notes, receipt = receipt)
  notes <- notes[lengths(notes) > 0]
  more <- length(notes) - 12
  c(unlist(utils::head(notes, 12)), if (more > 0) folded("and likewise for ",
    counted(more, "more variable")))
}

# The remarks of several variables: each of the words once, with the variables that it is said of.
shared_remarks <- function(parts) {
  remarks <- unlist(lapply(parts, `[[`, "remarks"), recursive = FALSE)
  names <- rep(vapply(parts, `[[`, "", "name"), lengths(lapply(parts, `[[`, "remarks")))
  told <- vapply(remarks, is_own_remark, NA)
  remarks <- remarks[told]
  names <- names[told]
  words <- vapply(remarks, `[[`, "", "words")
  each <- vapply(seq_along(remarks), function(i) {
    paste0(names[i], if (length(remarks[[i]]$detail)) paste0(" (", remarks[[i]]$detail, ")"))
  }, "")
  plain <- vapply(remarks, function(remark) isTRUE(remark$plain), NA)
  whole <- vapply(remarks, function(remark) isTRUE(remark$whole), NA)
  remark_lines(vapply(unique(words), function(w) {
    paste0(w, ": ", if (whole[words == w][1]) remarks[words == w][[1]]$detail else
      paste(each[words == w], collapse = ", "))
  }, ""), plain[match(unique(words), words)])
}

shared_kinds <- function(parts) {
  kinds <- unlist(lapply(parts, `[[`, "missing"))
  if (!length(kinds)) return(NULL)
  folded("Missing answers: ", listed(tapply(kinds, names(kinds), sum)))
}

shared_notes <- function(part, receipt) {
  counts <- has_trait(receipt$turn$verb, "shows its counts")
  notes <- c(if (counts) rule_lines(part, receipt$rows),
    learned_lines(part$learned, receipt$recorded), unreadable_line(part$unreadable),
    unmatched_line(part$unmatched), item_lines(part)
  )
  if (length(notes)) c(show_controls(paste0("  ", part$name)), paste0("  ", notes))
}

#' @export
conditionMessage.ableturn_progress <- plainly(function(c) {
  told <- c$progress
  paste0("  ", grouped(told$done), " of ", counted(told$steps, told$what), " done, ",
    round(told$seconds), " s so far\n")
})

# The receipt of dummies: for each variable its levels, their rows, and the column of each.
dummy_lines <- function(receipt) {
  sources <- vapply(receipt$parts, function(p) p$from[1], "")
  unlist(lapply(split_in_order(receipt$parts, sources), one_coding, receipt = receipt))
}

one_coding <- function(parts, receipt) {
  coding <- receipt$turn$coding %||% "indicator"
  coded <- Filter(function(p) !is.null(p$coded), parts)
  levels <- coded[[1]]$coded
  values <- vapply(coded, function(p) as.double(p$coded$value), numeric(nrow(levels)))
  names <- vapply(coded, `[[`, "", "name")
  table <- levels[c("code", "label", "rows")]
  if (all(table$label == "")) table$label <- NULL
  extra <- setdiff(vapply(parts, `[[`, "", "name"), names)
  c(
    title_line(parts[[1]]$from[1], "  ", counted(length(parts), "column"),
      side = paste0("dummy: ", coding)),
    some_lines(table_lines(coding_table(table, values, names, coding)), 31, "level"),
    column_key(coding, names),
    if (length(extra)) folded(extra, ": 1 where there is no valid answer"),
    validity_line(coded[[1]], receipt$rows), receipt_findings(parts)
  )
}

# At most so many lines of a table, and how many more there are.
some_lines <- function(lines, most, what) {
  more <- length(lines) - most
  if (more < 2) return(lines)
  c(utils::head(lines, most), paste0("  and ", counted(more, paste("more", what))))
}

# Names that are too long for the head of a table.
too_wide <- function(names) sum(nchar(names) + 2) > 60

column_key <- function(coding, names) {
  if (coding != "indicator" && too_wide(names)) folded_key(paste0("[", seq_along(names),
    "]\u00a0", names, collapse = ", "))
}

folded_key <- function(text) gsub("\u00a0", " ", folded(text), fixed = TRUE)

# Indicators name the column that is 1 for the level; contrasts show their values.
coding_table <- function(table, values, names, coding) {
  if (coding == "indicator") {
    column <- apply(values == 1, 1,
      function(hit) if (any(hit)) names[hit][1] else "reference: 0 in all")
    return(cbind(table, column = column))
  }
  shown <- as.data.frame(matrix(vapply(values, function(v) show_number(round(v, 3) + 0), ""),
    nrow(values)))
  names(shown) <- names
  if (too_wide(names)) names(shown) <- paste0("[", seq_along(names), "]")
  cbind(table, shown)
}
