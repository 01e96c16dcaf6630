# What a turn learned of the data, in a line each.
learned_lines <- function(learned, recorded = FALSE) {
  if (!length(learned)) return(NULL)
  by <- split(learned, factor(vapply(learned, `[[`, "", "of"), unique(vapply(learned, `[[`, "", "of"))))
  unlist(lapply(by, function(notes) learned_words(notes, if (recorded) "On record: " else "Learned: ")))
}

learned_words <- function(notes, start) {
  note <- notes[[1]]
  if (grepl("^categories", note$of)) return(NULL)
  if (grepl("^distribution", note$of)) return(distribution_words(notes, start))
  if (grepl("^rare_values", note$of)) return(folded("Too few rows: ", first_of_many(note$is)))
  if (grepl("^spelled", note$of)) return(folded("Spellings that matched: ",
    if (length(note$is)) first_of_many(quote_text(note$is)) else "none"))
  shown <- paste(vapply(note$is, function(x) if (is.numeric(x)) show_amount(x) else x, ""), collapse = ", ")
  if (length(note$groups)) shown <- group_values(note)
  folded(start, note$of, " = ", shown, " (", grouped(sum(note$rows)), " rows)")
}

# Twelve texts, and how many more there are.
first_of_many <- function(texts) {
  more <- length(texts) - 12
  paste0(paste(utils::head(texts, 12), collapse = ", "), if (more > 0) paste0(" and ", grouped(more), " more"))
}

# The values of at most eight groups.
group_values <- function(note) {
  known <- note$is[!is.na(note$is)]
  shown <- paste(vapply(utils::head(known, 8), show_amount, ""), collapse = ", ")
  if (length(known) > 8) paste0(shown, " and ", grouped(length(known) - 8), " more") else shown
}

distribution_words <- function(notes, start) {
  values <- sum(vapply(notes, function(note) length(note$is), 1L))
  rows <- sum(vapply(notes, function(note) as.double(note$rows), 0))
  groups <- if (length(notes) > 1) paste0(" in ", length(notes), " groups")
  folded(start, notes[[1]]$of, ", ", grouped(values), " distinct values", groups, " (", grouped(rows), " rows)")
}
