#' @export
print.ableturn_together <- plainly(function(x, ...) {
  of <- attr(x, "of")
  weight <- attr(x, "weight")
  table <- data.frame(answer = x$variable, label = x$label, rows = shown_weight(x$rows, weight),
    "% of rows" = to_percent(x$percent), "% of answers" = to_percent(x$percent_answers),
    check.names = FALSE)
  used <- nchar(table_lines(table, width = 200)[1], "width")
  table$share <- bar(x$percent, size = min(16, max(4, page_width() - used - 4)))
  say(c(title_line("Answers together", side = paste0(shown_weight(of, weight),
    " rows with an answer",
    if (!is.null(weight)) paste(", weighted by", show_controls(weight)))),
  table_lines(table, headings = c(names(table)[1:5], "")),
  folded("None of them: ", shown_weight(attr(x, "none"), weight), "; without an answer: ",
    counted(attr(x, "missing"), "row"))))
  invisible(x)
})

shown_weight <- function(x, weight) if (is.null(weight)) grouped(x) else vapply(x, show_amount, "")

#' @export
print.ableturn_disagreements <- plainly(function(x, ...) {
  coders <- attr(x, "coders")
  shown <- utils::head(as.data.frame(x), 20)
  shown[coders] <- Map(function(values, codes) {
    label <- label_of(values, codes)
    ifelse(is.na(values), "", ifelse(is.na(label), show_value(values),
      paste0(show_value(values), " ", label)))
  }, shown[coders], attr(x, "codes")[coders])
  shown[setdiff(names(shown), coders)] <- lapply(shown[setdiff(names(shown), coders)], show_value)
  more <- nrow(x) - nrow(shown)
  say(c(title_line("Disagreements of ", counted(length(coders), "coder"),
    side = paste(counted(attr(x, "rows"), "row"), "of", grouped(attr(x, "of")))),
  if (nrow(x)) table_lines(shown) else "  They agree wherever two have given a code.",
  if (more) paste0("  and ", counted(more, "more row"))))
  invisible(x)
})

rows_of_items <- function(x) {
  weight <- attr(x, "weight")
  paste0(counted(attr(x, "scale")$complete, "complete row"),
    if (!is.null(weight)) paste(", weighted by", show_controls(weight)))
}

items_shown <- function(x) {
  table <- as.data.frame(x)
  table$missing <- to_percent(table$missing)
  names(table) <- c("item", "label", "n", "% missing", "mean", "sd", "item-rest r", "alpha without")
  table[7:8] <- lapply(table[7:8], function(v) ifelse(is.na(v), "", two_digits(v)))
  table
}

alpha_words <- function(facts) {
  shown <- function(x) if (is.finite(x)) two_digits(x) else "none"
  interval <- if (length(facts$interval)) paste0(" (95 % ", two_digits(facts$interval[1]), " to ",
    two_digits(facts$interval[2]), ")")
  folded("Cronbach's alpha ", shown(facts$alpha), interval, "; standardized ",
    shown(facts$standardized), "; mean r between items ", shown(facts$mean_r))
}

constant_words <- function(facts) {
  if (length(facts$constant)) warned(folded(glyph("!"),
    " The same answer in every row, so without any correlation: ",
    paste(facts$constant, collapse = ", ")))
}

reversed_words <- function(facts) {
  each <- facts$reversed
  if (!length(each)) return(NULL)
  told <- paste0(names(each), " looks unreversed: with it reversed alpha would be ",
    two_digits(each))
  if (length(facts$all_reversed)) {
    told <- c(told, paste("With all of them reversed alpha would be",
      two_digits(facts$all_reversed)))
  }
  unlist(lapply(told, function(text) warned(folded(glyph("!"), " ", text))))
}

#' @export
print.ableturn_lineage <- plainly(function(x, ...) {
  if (!nrow(x)) say("Nothing is made from anything yet.")
  x[] <- lapply(x, function(column) if (is.character(column)) show_controls(column) else column)
  label <- ifelse(nzchar(x$label) & x$label != x$name, paste0("  ", x$label), "")
  lines <- paste0(strrep("   ", x$depth), ifelse(x$depth > 0, paste0(glyph("-"), " "), ""),
    x$name, label)
  by <- ifelse(x$by == "original", "original", paste("by", x$by))
  space <- pmax(2, page_width() - nchar(lines, "width") - nchar(by, "width"))
  say(paste0(shorten(lines, page_width() - 16), strrep(" ", pmin(space, page_width())),
    cli::col_grey(by)))
  invisible(x)
})

#' @export
print.ableturn_collinearity <- plainly(function(x, ...) {
  table <- as.data.frame(x)
  table[3:4] <- lapply(table[3:4], function(v) ifelse(is.infinite(v), "exact", two_digits(v)))
  trap <- attr(x, "trap")
  say(c(
    title_line("Overlap of ", counted(nrow(x), "variable"),
      side = counted(attr(x, "complete"), "complete row")),
    table_lines(table),
    if (length(trap)) remark_lines(paste0("All levels of ", paste(trap, collapse = ", "),
      " are in the set, so they add up to one: leave the reference out."))
  ))
  invisible(x)
})
