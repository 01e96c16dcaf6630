#' @export
print.ableturn_look <- function(x, ...) {
  for (subject in attr(x, "subjects")) {
    say(c(look_lines(x[x$variable == subject$name, ], subject, attr(x, "weight"), attr(x, "by")), ""))
  }
  invisible(x)
}

look_lines <- function(table, subject, weight, by) {
  weighted <- if (!is.null(weight)) paste("weighted by", weight)
  groups <- if (is.null(by)) list(table) else split(table, factor(table$group, unique(table$group)))
  c(
    title_line(subject$name, look_label(subject), side = paste(c(subject$meaning$level, subject$meaning$unit, weighted), collapse = ", ")),
    unlist(Map(function(name, rows) group_lines(name, rows, subject, by), names(groups) %||% "", groups)),
    suspect_lines(subject), infinite_line(subject), direction_line(subject), keep_lines(subject)
  )
}

look_label <- function(subject) {
  label <- subject$meaning$label
  if (is.null(label) || label == subject$name) "" else paste0("  ", shorten(label, 50))
}

group_lines <- function(name, table, subject, by) {
  head <- if (!is.null(by)) paste0("  ", by, ": ", name)
  c(head, if (subject$kind == "counts") count_lines(table) else summary_lines(table, subject))
}

count_lines <- function(table) {
  kept <- shown_rows(table)
  cells <- data.frame(value = kept$value, label = kept$label, rows = kept$rows)
  if (!is.null(kept$weighted)) cells$weighted <- round(kept$weighted, 1)
  cells$percent <- percent(kept$percent)
  cells$valid <- percent(kept$valid_percent)
  cells$share <- ifelse(kept$part == "value", bar(kept$valid_percent), "")
  missing <- kept$part == "missing"
  cells$label[missing] <- paste("missing:", cells$value[missing])
  cells$value[missing] <- "."
  c(table_lines(cells, headings = sub("^share$", "", sub("^percent$", "%", sub("^valid$", "valid %", names(cells))))), left_out(table, kept))
}

# Many values: the most frequent ones, all missing ones.
shown_rows <- function(table, most = 25) {
  values <- which(table$part == "value")
  if (length(values) <= most) return(table)
  top <- utils::head(values[order(-table$rows[values])], most)
  table[sort(c(top, which(table$part == "missing"))), ]
}

left_out <- function(table, kept) {
  gone <- nrow(table) - nrow(kept)
  if (gone) paste0("  and ", counted(gone, "value"), " less frequent, ", counted(sum(table$rows) - sum(kept$rows), "row"))
}

summary_lines <- function(table, subject) {
  stats <- table[table$part == "statistic", ]
  shown <- stats$amount
  text <- if (subject$kind == "dates") show_dates(stats) else vapply(shown, show_amount, "")
  wide <- pmax(nchar(text), nchar(stats$value))
  c(
    paste0("  ", paste(sprintf("%*s", wide, stats$value), collapse = "  ")),
    paste0("  ", paste(sprintf("%*s", wide, text), collapse = "  ")),
    if (subject$kind == "summary") shape_line(subject$column$x),
    missing_lines(table)
  )
}

show_dates <- function(stats) {
  ifelse(stats$value == "valid", count(stats$amount), format(as.Date(round(stats$amount), origin = "1970-01-01")))
}

# The shape of a distribution in one line: twenty bands of equal width.
shape_line <- function(x) {
  x <- x[is.finite(x)]
  if (length(unique(x)) < 2 || !cli::is_utf8_output()) return(NULL)
  band <- cut(x, 20, labels = FALSE)
  height <- tabulate(band, 20)
  level <- ceiling(8 * height / max(height))
  signs <- c(" ", "\u2581", "\u2582", "\u2583", "\u2584", "\u2585", "\u2586", "\u2587", "\u2588")[level + 1]
  ends <- vapply(range(x), show_amount, "")
  paste0("  ", ends[1], " ", paste(signs, collapse = ""), " ", ends[2])
}

missing_lines <- function(table) {
  gone <- table[table$part == "missing", ]
  if (!nrow(gone)) return(NULL)
  each <- paste0(gone$value, " ", count(gone$rows), " (", percent(gone$percent), " %)")
  folded("Missing: ", paste(each, collapse = ", "))
}

suspect_lines <- function(subject) {
  codes <- subject$suspects
  if (!length(codes)) return(NULL)
  x <- subject$column$x
  each <- vapply(codes, function(code) paste0(show_number(code), " (", counted(sum(x %in% code), "row"), ")"), "")
  example <- paste0("\"...\" = ", show_number(codes), collapse = ", ")
  c(
    cli::col_yellow(folded(mark("!"), " ", if (length(codes) == 1) "This looks like a missing code: " else "These look like missing codes: ", paste(each, collapse = ", "))),
    paste0("  If so: define(book, ", quote_name(subject$name), ", missing = c(", example, "))")
  )
}

infinite_line <- function(subject) {
  if (subject$infinite > 0) folded(mark("!"), " ", counted(subject$infinite, "row"), " infinite, left out of the statistics")
}

direction_line <- function(subject) {
  said <- direction_words(subject$meaning)
  if (!is.null(said) && is.null(subject$formula)) paste0("  ", sub("^; ", "", said))
}

keep_lines <- function(subject) {
  if (is.null(subject$formula)) return(NULL)
  c(
    learned_lines(subject$learned),
    paste0("  Nothing is recorded. To keep it: turn_compute(book, ", subject$formula, ", as = \"...\")")
  )
}
