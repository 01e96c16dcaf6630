#' @export
conditionMessage.ableturn_receipt <- function(c) paste0(paste(receipt_lines(c$receipt), collapse = "\n"), "\n")

receipt_lines <- function(receipt) {
  verb <- receipt$turn$verb
  if (verb == "define") return(definition_lines(receipt))
  if (verb == "undo") return(undo_lines(receipt))
  if (verb == "replay") return(replay_lines(receipt))
  if (length(receipt$parts) == 1) return(single_lines(receipt$parts[[1]], receipt))
  many_lines(receipt)
}

single_lines <- function(part, receipt) {
  c(
    receipt_title(part$name, part$label, receipt$turn$verb, part$from),
    rule_lines(part, receipt$rows),
    item_lines(part),
    validity_line(part, receipt$rows),
    range_line(part),
    learned_lines(part$learned),
    boundary_line(part$boundary),
    unreadable_line(part$unreadable),
    unmatched_line(part$unmatched)
  )
}

receipt_title <- function(name, label, verb, from) {
  label <- if (!is.null(label) && label != name) paste0("  ", label)
  title_line(name, shorten(label %||% "", 56), side = paste0(verb, " of ", from_in_words(from)))
}

from_in_words <- function(from) if (length(from) > 3) paste(length(from), "variables") else name_list(from)

rule_lines <- function(part, rows) {
  if (is.null(part$rules)) return(NULL)
  share <- 100 * part$rules$rows / rows
  table <- part$rules[c("code", "label", "caught", "rows")]
  table$percent <- to_percent(share)
  used <- nchar(table_lines(table, width = 200)[1], "width")
  table$share <- bar(share, size = min(16, max(4, page_width() - used - 4)))
  table_lines(table, headings = c("code", "label", "made from", "rows", "%", ""))
}

validity_line <- function(part, rows) {
  before <- if (!is.null(part$valid_before)) paste0(" (source: ", grouped(part$valid_before), ")")
  gone <- if (length(part$missing)) paste0("; missing ", grouped(sum(part$missing)), ": ", listed(part$missing))
  folded("Valid ", grouped(part$valid), " of ", grouped(rows), before, gone)
}

range_line <- function(part) {
  if (is.null(part$range) || !is.null(part$rules)) return(NULL)
  shown <- if (inherits(part$range, "Date")) format(part$range) else show_cell(as.numeric(part$range))
  possible <- if (length(part$meaning$limits)) paste0("; possible ",
    paste(show_cell(part$meaning$limits), collapse = " to "))
  folded("From ", paste(shown, collapse = " to "), possible, direction_words(part$meaning))
}

direction_words <- function(meaning) {
  if (!is.null(meaning$high)) return(paste0("; high = ", meaning$high))
  if (!is.null(meaning$low)) paste0("; low = ", meaning$low)
}

boundary_line <- function(boundary) {
  if (is.null(boundary)) return(NULL)
  shown <- utils::head(boundary, 8)
  each <- paste0(show_number(shown$value), " (", grouped(shown$rows), ") ", glyph("->"), " ", shown$code)
  folded("Rows exactly on a boundary: ", paste(each, collapse = ", "))
}

unmatched_line <- function(unmatched) value_line("No rule caught: ", unmatched)

unreadable_line <- function(unreadable) value_line("Text that is no number, so missing: ", unreadable)

# Values with their rows, the first eight of them.
value_line <- function(words, values) {
  if (is.null(values)) return(NULL)
  shown <- utils::head(values, 8)
  more <- nrow(values) - nrow(shown)
  each <- paste0(shown$value, " (", grouped(shown$rows), ")", collapse = ", ")
  warned(folded(glyph("!"), " ", words, each, if (more) paste(", and", more, "more values")))
}

learned_lines <- function(learned) {
  unlist(lapply(learned, function(note) {
    if (grepl("^rare_values", note$of)) return(folded("Too few rows: ", paste(note$is, collapse = ", ")))
    if (is.character(note$is)) return(folded("Spellings that matched: ",
      paste(quote_text(note$is), collapse = ", ")))
    shown <- paste(vapply(note$is, show_amount, ""), collapse = ", ")
    folded("Learned: ", note$of, " = ", shown, " (", grouped(note$rows), " rows)")
  }))
}

item_lines <- function(part) {
  items <- part$items
  if (is.null(items) || !sum(items$rows)) return(NULL)
  rows <- items$rows[items$rows > 0]
  scored <- as.integer(names(rows)) >= items$at_least
  table <- data.frame(
    "valid items" = paste(names(rows), "of", items$of), rows = as.integer(rows),
    outcome = ifelse(scored, "scored", "too few"), check.names = FALSE
  )
  c(table_lines(table), alpha_line(items), against_line(items$against))
}

alpha_line <- function(items) {
  if (is.null(items$alpha)) return(NULL)
  folded("Cronbach's alpha ", formatC(items$alpha, digits = 2, format = "f"), " over ",
    counted(items$complete, "complete row"))
}

against_line <- function(against) {
  if (!length(against)) return(NULL)
  each <- paste0(names(against), " (r = ", formatC(against, digits = 2, format = "f"), ")", collapse = ", ")
  warned(folded(glyph("!"), " Against the rest: ", each, ". Not reversed yet?"))
}

# One table for many variables.
many_lines <- function(receipt) {
  parts <- receipt$parts
  lowest <- vapply(parts, function(p) as.numeric(p$range[1] %||% NA), 0)
  highest <- vapply(parts, function(p) as.numeric(p$range[2] %||% NA), 0)
  table <- data.frame(
    variable = vapply(parts, `[[`, "", "name"), label = vapply(parts, function(p) p$label %||% "", ""),
    from = vapply(parts, function(p) from_in_words(p$from), ""),
    valid = vapply(parts, `[[`, 1L, "valid"), missing = vapply(parts, function(p) sum(p$missing), 0),
    lowest = lowest, highest = highest
  )
  shown <- seq_len(min(20, nrow(table)))
  more <- nrow(table) - length(shown)
  c(
    title_line(counted(length(parts), "variable"), " by ", receipt$turn$verb,
      side = paste(grouped(receipt$rows), "rows")),
    table_lines(table[shown, ]), if (more) paste0("  and ", counted(more, "more variable")),
    shared_kinds(parts), unlist(lapply(parts, shared_notes))
  )
}

shared_kinds <- function(parts) {
  kinds <- unlist(lapply(parts, `[[`, "missing"))
  if (!length(kinds)) return(NULL)
  folded("Missing answers: ", listed(tapply(kinds, names(kinds), sum)))
}

shared_notes <- function(part) {
  notes <- c(
    learned_lines(part$learned), unreadable_line(part$unreadable), unmatched_line(part$unmatched), item_lines(part)
  )
  if (length(notes)) c(paste0("  ", part$name), paste0("  ", notes))
}

definition_lines <- function(receipt) {
  counts <- receipt$parts
  told <- unlist(lapply(names(counts), function(name) {
    gone <- counts[[name]]
    if (length(gone)) folded(name, ": ", counted(sum(gone), "row"), " now missing (", listed(gone), ")")
  }))
  remade <- if (length(receipt$turn$users)) folded("Made again: ", paste(receipt$turn$users, collapse = ", "))
  c(title_line("Defined ", name_list(receipt$turn$makes)), told, remade)
}

undo_lines <- function(receipt) {
  entry <- receipt$turn$entry
  gone <- if (entry$type == "turn") paste0(entry$turn$verb, " of ", name_list(entry$turn$makes))
  else paste0("definition of ", name_list(entry$vars))
  title_line("Undone: ", gone)
}

replay_lines <- function(receipt) {
  learned <- if (receipt$turn$recorded) "learned values as recorded" else "learned values refitted"
  c(title_line("Replayed ", receipt$turn$sheet, side = paste0(grouped(receipt$rows), " rows, ", learned)),
    turns_lines(receipt$turn$made), unlist(lapply(receipt$parts, replay_notes)))
}

replay_notes <- function(part) {
  notes <- c(unreadable_line(part$unreadable), unmatched_line(part$unmatched), against_line(part$items$against))
  if (length(notes)) c(paste0("  ", part$name), paste0("  ", notes))
}
