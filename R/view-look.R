#' @export
print.ableturn_look <- plainly(function(x, ...) {
  for (subject in attr(x, "subjects")) {
    say(c(look_lines(x[x$variable == subject$name, ], subject, attr(x, "weight"), attr(x, "by")),
      ""))
  }
  invisible(x)
})

look_lines <- function(table, subject, weight, by) {
  weighted <- if (!is.null(weight)) paste("weighted by", weight)
  side <- paste(c(subject$meaning$level, subject$meaning$unit, weighted), collapse = ", ")
  c(
    title_line(subject$name, look_label(subject), side = side),
    if (is.null(by)) group_lines(table, subject) else by_lines(table, subject, by),
    suspect_lines(subject), spelling_line(table, subject), offer_line(subject),
    infinite_line(subject), direction_line(subject),
    keep_lines(subject)
  )
}

# A column of numbers or dates that are typed in another way.
offer_line <- function(subject) {
  if (isTRUE(subject$derived) || !is.null(subject$meaning$read) ||
    !is.character(subject$column$x)) return(NULL)
  offers <- reading_offers(subject$column$x)
  if (length(offers)) c(warned(folded(glyph("!"), " ", offered_kind(offers))),
    show_controls(paste0("  ", offered_call(subject$name, offers))))
}

# Answers that differ in case, outer blanks or accents alone.
spelling_line <- function(table, subject) {
  if (subject$kind != "counts" || !is.character(subject$column$x)) return(NULL)
  alike <- texts_alike(unique(table$value[table$part == "value"]))
  if (length(alike)) warned(folded(glyph("!"), " May be one answer each: ", name_list(alike, 4),
    "."))
}

look_label <- function(subject) {
  label <- subject$meaning$label
  if (is.null(label) || label == subject$name) "" else paste0("  ", shorten(label, 50))
}

group_lines <- function(table, subject) {
  if (subject$kind == "counts") count_lines(table) else summary_lines(table, subject)
}

# Groups beside each other: a row for each group of a number, a column for each group of a count.
by_lines <- function(table, subject, by) {
  groups <- split_in_order(table, table$group)
  if (subject$kind == "counts") {
    by_count_lines(table, groups, by)
  } else {
    by_summary_lines(groups, subject, by)
  }
}

by_summary_lines <- function(groups, subject, by) {
  body <- by_summary_table(groups, subject, by)
  block_lines(Map(pad_column, body, names(body), c(FALSE, rep(TRUE, length(body) - 1))), 1)
}

# A row for each group.
by_summary_table <- function(groups, subject, by) {
  stats <- lapply(groups, function(g) g[g$part == "statistic", ])
  cell <- function(s) statistic_words(s, subject$kind)
  amounts <- as.data.frame(do.call(rbind, unname(lapply(stats, cell))))
  missing <- vapply(groups, function(g) sum(g$rows[g$part == "missing"]), 0)
  body <- cbind(data.frame(group = names(groups)), amounts, data.frame(missing = grouped(missing)))
  setNames(body, c(by, sub("three quarters", "3 quarters", stats[[1]]$value), "missing"))
}

by_count_lines <- function(table, groups, by) {
  body <- by_count_table(table, groups)
  c(show_controls(paste0("  By ", by, ": rows and percent of the valid")),
    right_aligned(body, names(body), 2))
}

# A row for each value, a column for each group.
by_count_table <- function(table, groups) {
  keys <- unique(table[c("part", "value", "label")])
  keys <- keys[order(keys$part == "missing"), ]
  columns <- lapply(groups, function(g) {
    at <- match(key_texts(keys[c("part", "value")]), key_texts(g[c("part", "value")]))
    share <- ifelse(keys$part == "missing", "", paste0(to_percent(g$valid_percent[at]), " %"))
    ifelse(is.na(at), glyph("*"), paste(grouped(g$rows[at]), formatC(share, width = 7)))
  })
  missing <- keys$part == "missing"
  labels <- data.frame(
    value = ifelse(missing, ".", keys$value), label = ifelse(missing,
      paste("missing:", keys$value), keys$label)
  )
  setNames(cbind(labels, as.data.frame(columns)), c("", "", names(groups)))
}

count_lines <- function(table) {
  if (!nrow(table)) return("  no rows")
  kept <- shown_rows(table)
  cells <- count_table(kept)
  cells$share <- ifelse(kept$part == "value", bar(kept$valid_percent), "")
  c(table_lines(cells, headings = sub("^share$", "", names(cells))), left_out(table, kept))
}

# A row for each value, and for each reason why there is none.
count_table <- function(kept) {
  cells <- quick_table(value = with_visible_blanks(kept$value), label = kept$label,
    rows = kept$rows)
  if (!is.null(kept$weighted)) cells$weighted <- to_percent(kept$weighted)
  cells$percent <- to_percent(kept$percent)
  cells$valid <- to_percent(kept$valid_percent)
  missing <- kept$part == "missing"
  cells$label[missing] <- paste("missing:", cells$value[missing])
  cells$value[missing] <- "."
  if (!any(nzchar(cells$label))) cells$label <- NULL
  setNames(cells, sub("^percent$", "%", sub("^valid$", "valid %", names(cells))))
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
  if (gone) paste0("  and ", counted(gone, "value"), " less frequent, ",
    counted(sum(table$rows) - sum(kept$rows), "row"))
}

summary_lines <- function(table, subject) {
  stats <- table[table$part == "statistic", ]
  text <- statistic_words(stats, subject$kind)
  cells <- Map(pad_column, text, sub("three quarters", "3 quarters", stats$value), TRUE)
  c(
    block_lines(cells, 0),
    if (subject$kind == "summary") shape_line(subject$column$x, subject$column$times),
    missing_lines(table)
  )
}

statistic_words <- function(stats, kind) {
  switch(kind, dates = show_dates(stats),
    times = ifelse(stats$value == "valid", grouped(stats$amount), substr(stats$label, 1, 16)),
    vapply(stats$amount, show_amount, ""))
}

show_dates <- function(stats) {
  ifelse(stats$value == "valid", grouped(stats$amount),
    format(as.Date(round(stats$amount), origin = "1970-01-01")))
}

# The shape of a distribution in one line: twenty bands of equal width.
shape_line <- function(x, times = NULL) {
  times <- times[is.finite(x)]
  x <- x[is.finite(x)]
  if (length(unique(x)) < 2 || !cli::is_utf8_output()) return(NULL)
  band <- cut(x, 20, labels = FALSE)
  height <- rows_at_places(band, 20, times)
  level <- ceiling(8 * height / max(height))
  signs <- c(" ", "\u2581", "\u2582", "\u2583", "\u2584", "\u2585", "\u2586", "\u2587",
    "\u2588")[level + 1]
  ends <- vapply(range(x), show_amount, "")
  paste0("  ", ends[1], " ", paste(signs, collapse = ""), " ", ends[2])
}

missing_lines <- function(table) {
  gone <- table[table$part == "missing", ]
  if (!nrow(gone)) return(NULL)
  each <- paste0(gone$value, " ", grouped(gone$rows), " (", to_percent(gone$percent), " %)")
  folded("Missing: ", paste(each, collapse = ", "))
}

suspect_lines <- function(subject) {
  codes <- subject$suspects
  if (!length(codes)) return(NULL)
  times <- subject$column$times %||% 1L
  rows <- vapply(codes, function(code) sum((subject$column$x %in% code) * as.double(times)), 0)
  each <- paste0(show_number(codes), " (", vapply(rows, counted, "", one = "row"), ")",
    collapse = ", ")
  start <- if (length(codes) ==
    1) "This looks like a missing code: " else "These look like missing codes: "
  example <- paste0("\"...\" = ", show_number(codes), collapse = ", ")
  c(
    warned(folded(glyph("!"), " ", start, each)),
    show_controls(paste0("  If so", for_reader(
      paste0(": define(book, ", quote_name(subject$name), ", missing = c(", example, "))"),
      paste0(", under define: ", subject$name, ": {missing: {",
        gsub("\" = ", "\": ", example, fixed = TRUE), "}}"), ", say that they are no answers")))
  )
}

infinite_line <- function(subject) {
  if (subject$infinite > 0) folded(glyph("!"), " ", counted(subject$infinite, "row"),
    " infinite, left out of the statistics")
}

direction_line <- function(subject) {
  said <- direction_words(subject$meaning)
  if (!is.null(said) && is.null(subject$formula)) show_controls(paste0("  ", sub("^; ", "", said)))
}

keep_lines <- function(subject) {
  if (is.null(subject$formula)) return(NULL)
  c(
    learned_lines(subject$learned),
    show_controls(paste0("  Nothing is recorded. To keep it: ", for_reader(
      paste0("turn_compute(book, ", subject$formula, ", as = \"...\")"),
      paste0("a turn compute: NAME, formula: ", quote_text(subject$formula)), "A formula")))
  )
}

#' @export
print.ableturn_cross <- plainly(function(x, ...) {
  tables <- attr(x, "tables") %||% list(x)
  for (i in seq_along(tables)) say(c(if (i > 1) "", cross_lines(tables[[i]])))
  invisible(x)
})

cross_lines <- function(x) {
  vars <- attr(x, "vars")
  wide <- cross_wide(x)
  body <- cross_table(wide)
  c(title_line(vars[1], " by ", vars[2], side = counted(sum(x$rows), "row")),
    right_aligned(body, names(body), 2))
}

# Rows of the printed table; long runs of values with the same single result are one row.
cross_wide <- function(x, most = 12) {
  rows <- unique(x[c("row", "row_label", "row_missing")])
  columns <- unique(x[order(x$column_missing, match(x$column, x$column[order_columns(x)])),
    c("column", "column_label", "column_missing")])
  cells <- matrix(0L, nrow(rows), nrow(columns))
  row <- c("row", "row_missing")
  cells[cbind(match(key_texts(x[row]), key_texts(rows[row])),
    match(paste(x$column, x$column_missing), paste(columns$column,
      columns$column_missing)))] <- x$rows
  if (nrow(rows) > most) {
    join_runs(rows, columns, cells)
  } else {
    list(rows = rows, columns = columns, cells = cells)
  }
}

order_columns <- function(x) {
  number <- suppressWarnings(as.numeric(x$column))
  if (anyNA(number[!x$column_missing])) order(x$column, method = "radix") else order(number)
}

join_runs <- function(rows, columns, cells) {
  only <- ifelse(rowSums(cells > 0) == 1 & !rows$row_missing, max.col(cells > 0),
    -seq_len(nrow(rows)))
  run <- cumsum(c(TRUE, only[-1] != only[-length(only)]))
  first <- match(unique(run), run)
  last <- length(run) + 1 - match(unique(run), rev(run))
  joined <- rows[first, ]
  several <- last > first
  joined$row[several] <- paste(rows$row[first[several]], "to", rows$row[last[several]])
  joined$row_label[several] <- paste(last[several] - first[several] + 1, "values")
  list(rows = joined, columns = columns, cells = unname(rowsum(cells, run)))
}

cross_table <- function(wide) {
  body <- as.data.frame(wide$cells)
  body[] <- lapply(body, function(n) ifelse(n == 0, glyph("*"), grouped(n)))
  value <- ifelse(wide$rows$row_missing, ".", wide$rows$row)
  label <- ifelse(wide$rows$row_missing, paste("missing:", wide$rows$row), wide$rows$row_label)
  heads <- ifelse(wide$columns$column_missing, paste("missing:", wide$columns$column),
    trimws(paste(wide$columns$column, wide$columns$column_label)))
  setNames(cbind(data.frame(value = value, label = label), body), c("", "", heads))
}

# A summary shows as many variables as fit on a screen.
most_summarised <- 30

#' @export
print.ableturn_summary <- plainly(function(x, ...) {
  columns <- c("variable", "label", "valid", "missing", "values")
  shown <- utils::head(as.data.frame(x), most_summarised)[columns]
  shown$label <- shorten(shown$label, 20)
  more <- nrow(x) - nrow(shown)
  say(c(
    title_line(counted(nrow(x), "variable"), side = counted(attr(x, "rows"), "row")),
    table_lines(shown),
    if (more > 0) paste0("  and ", grouped(more), " more; look(book, ...) shows some of them")
  ))
  invisible(x)
})
