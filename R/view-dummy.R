# The receipt of dummies: for each variable its levels, their rows, and the column of each.
dummy_lines <- function(receipt) {
  sources <- vapply(receipt$parts, function(p) p$from[1], "")
  unlist(lapply(split(receipt$parts, factor(sources, unique(sources))), one_coding, receipt = receipt))
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
    title_line(parts[[1]]$from[1], "  ", counted(length(parts), "column"), side = paste0("dummy: ", coding)),
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
  if (coding != "indicator" && too_wide(names)) folded_key(paste0("[", seq_along(names), "]\u00a0", names,
    collapse = ", "))
}

folded_key <- function(text) gsub("\u00a0", " ", folded(text), fixed = TRUE)

# Indicators name the column that is 1 for the level; contrasts show their values.
coding_table <- function(table, values, names, coding) {
  if (coding == "indicator") {
    column <- apply(values == 1, 1, function(hit) if (any(hit)) names[hit][1] else "reference: 0 in all")
    return(cbind(table, column = column))
  }
  shown <- as.data.frame(matrix(vapply(values, function(v) show_number(round(v, 3) + 0), ""), nrow(values)))
  names(shown) <- names
  if (too_wide(names)) names(shown) <- paste0("[", seq_along(names), "]")
  cbind(table, shown)
}
