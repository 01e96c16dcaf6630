# Lines that receipts share.
remark_lines <- function(texts, plain = FALSE) {
  unlist(Map(function(text, plain) {
    if (plain) folded(text) else warned(folded(glyph("!"), " ", text))
  }, texts, plain), use.names = FALSE)
}

# Findings that other lines of a receipt tell already.
told_elsewhere <- c("unmatched", "key-unmatched", "boundary", "text-number", "must-hold",
  "no-spread", "group-boundary")

# What is a finding as well is said there, but for those that are told by their remark alone.
is_own_remark <- function(remark) {
  is.null(remark$finding) || isTRUE(remark$plain) || remark$finding %in% told_elsewhere
}

# The remarks of one variable, a line each.
own_remarks <- function(remarks) {
  remarks <- Filter(is_own_remark, remarks)
  remark_lines(lapply(remarks, function(remark) {
    paste(c(remark$words, remark$detail),
      collapse = ": ")
  }), vapply(remarks, function(remark) isTRUE(remark$plain), NA))
}

validity_line <- function(part, rows) {
  before <- if (!is.null(part$valid_before)) paste0(" (source: ", grouped(part$valid_before), ")")
  gone <- if (length(part$missing)) paste0("; missing ", grouped(sum(part$missing)), ": ",
    listed(part$missing))
  folded("Valid ", grouped(part$valid), " of ", grouped(rows), before, gone)
}

# Which of several sources lack an answer, and why.
lacking_line <- function(lacking) {
  if (!length(lacking)) return(NULL)
  shown <- utils::head(lacking, 6)
  each <- vapply(names(shown), function(name) paste0(name, " (", listed(shown[[name]]), ")"), "")
  more <- length(lacking) - length(shown)
  folded("Without an answer: ", paste(each, collapse = ", "),
    if (more) paste0(" and ", more, " more"))
}

range_line <- function(part) {
  if (is.null(part$range) || !is.null(part$rules)) return(NULL)
  shown <- if (inherits(part$range,
    "Date")) format(part$range) else show_cell(as.numeric(part$range))
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
  each <- paste0(show_number(shown$value), " (", grouped(shown$rows), ") ", glyph("->"),
    " ", shown$code)
  folded("Rows exactly on a boundary: ", paste(each, collapse = ", "))
}

unmatched_line <- function(unmatched) {
  value_line(if (isTRUE(attr(unmatched, "table"))) "Not in the table: " else "No rule caught: ",
    unmatched)
}

unreadable_line <- function(unreadable) {
  value_line(paste0("Text that is no ", attr(unreadable, "what"), ", so missing: "), unreadable)
}

# Values with their rows, the first eight of them.
value_line <- function(words, values) {
  if (is.null(values)) return(NULL)
  shown <- utils::head(values, 8)
  more <- nrow(values) - nrow(shown)
  each <- paste0(brief_text(shown$value), " (", grouped(shown$rows), ")", collapse = ", ")
  warned(folded(glyph("!"), " ", words, each, if (more) paste(", and", more, "more values")))
}

# What a turn learned of the data, in a line each.
learned_lines <- function(learned, recorded = FALSE) {
  if (!length(learned)) return(NULL)
  by <- split_in_order(learned, vapply(learned, `[[`, "", "of"))
  unlist(lapply(by, function(notes) {
    learned_words(notes,
      if (recorded) "On record: " else "Learned: ")
  }))
}

learned_words <- function(notes, start) {
  note <- notes[[1]]
  if (startsWith(note_word(note), "component_")) return(component_learned(note, start))
  own <- switch(note_word(note), categories = "", split_entries = "",
    distribution = distribution_words(notes, start),
    rare_values = folded("Too few rows: ", if (length(note$is)) first_of_many(note$is) else "none"),
    spelled = if (is_split_note(note)) "" else folded("Texts that matched ", sought_words(note),
      ": ",
      if (length(note$is)) first_of_many(quote_text(note$is)) else "none"))
  if (!is.null(own)) return(own[nzchar(own)])
  shown <- paste(vapply(note$is, show_learned, ""), collapse = ", ")
  if (length(note$groups)) shown <- group_values(note)
  folded(start, note$of, " = ", shown, " (", grouped(sum(note$rows)), " rows)")
}

# Of a component the receipt shows the loadings; here from how many rows they are.
component_learned <- function(note, start) {
  if (note_word(note) %in% c("component_means", "component_size")) {
    folded(start, if (note_word(note) == "component_size") "the SD of the score, from " else
      "means, SDs and loadings, from ", counted(note$rows, "row"), " with every item")
  }
}

show_learned <- function(x) if (is.numeric(x)) show_amount(x) else x

# What was looked for: the first three texts.
sought_words <- function(note) {
  sought <- unlist(row_items(parse_formula(note$of))[-1])
  paste0(paste(quote_text(utils::head(sought, 3)), collapse = ", "), if (length(sought) > 3) " ...")
}

# Twelve texts, and how many more there are.
first_of_many <- function(texts) {
  more <- length(texts) - 12
  paste0(paste(utils::head(texts, 12), collapse = ", "),
    if (more > 0) paste0(" and ", grouped(more), " more"))
}

# The values of at most eight groups, each after its group: with several grouping variables that of
# each, in their order.
group_values <- function(note) {
  some <- !is.na(note$is)
  known <- note$is[some]
  each <- vapply(utils::head(known, 8), show_learned, "")
  cells <- expand.grid(lapply(unname(note$groups), show_value), stringsAsFactors = FALSE)
  groups <- do.call(paste, c(unname(cells), sep = ", "))
  if (length(groups) == length(some)) each <- paste(each, "in", utils::head(groups[some], 8))
  shown <- paste(each, collapse = if (length(note$groups) > 1) "; " else ", ")
  if (length(known) > 8) paste0(shown, " and ", grouped(length(known) - 8), " more") else shown
}

distribution_words <- function(notes, start) {
  values <- sum(vapply(notes, function(note) length(note$is), 1L))
  rows <- sum(vapply(notes, function(note) as.double(note$rows), 0))
  groups <- if (length(notes) > 1) paste0(" in ", length(notes), " groups")
  folded(start, notes[[1]]$of, ", ", grouped(values), " distinct values", groups, " (",
    grouped(rows), " rows)")
}
