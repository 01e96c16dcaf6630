#' Draw what a looking function gives
#'
#' `plot()` draws the result of [look()], [cross()], [item_analysis()],
#' [lineage()], [findings()], [collinearity()], [turns()], [show_working()] and
#' [compare_books()] with the package ggplot2.
#'
#' @param x The result of a looking function.
#' @param ... Not used.
#' @return The ggplot, invisibly, after drawing it.
#' @examplesIf requireNamespace("ggplot2", quietly = TRUE)
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' plot(look(book, island, wait_min))
#' plot(cross(book, island, ticket))
#' @name plot_looks
NULL

#' @rdname plot_looks
#' @export
plot.ableturn_look <- function(x, ...) {
  need_figures()
  names <- vapply(attr(x, "subjects"), `[[`, "", "name")
  draw(structure(look_figure(x) + ggplot2::labs(alt = paste0("Rows of ", name_list(names), ".")),
    class = c("ableturn_figure", "gg", "ggplot")))
}

look_figure <- function(x) {
  need_figures()
  panels <- do.call(rbind, lapply(attr(x, "subjects"), look_bars))
  panels$panel <- factor(panels$panel, unique(panels$panel))
  counted <- !is.na(panels$level)
  facets <- ggplot2::facet_wrap("panel", scales = "free", ncol = min(2, nlevels(panels$panel)))
  if (!any(counted)) return(histogram_figure(panels) + facets)
  ends <- lapply(panels[!counted, c("low", "high")], function(x) {
    ifelse(panels$dates[!counted], format(as.Date(x, origin = "1970-01-01")), show_number(x))
  })
  panels$level[!counted] <- paste(ends$low, "to", ends$high)
  bars_figure(panels) + facets
}

# Bars of one variable that was looked at: its values, or bands of them.
look_bars <- function(subject) {
  panel <- if (is.null(subject$meaning$label)) subject$name else short_words(paste0(subject$name,
    ": ", subject$meaning$label), 40)
  x <- subject$column$x
  times <- subject$column$times
  if (subject$kind %in% c("summary", "dates")) return(look_bands(panel, as.double(x), times,
    subject$kind == "dates"))
  values <- category_order(unique(x[!is.na(x)]), subject$meaning$codes)
  words <- level_words(show_value(values), label_of(values, subject$meaning$codes) %|% "",
    rep(FALSE, length(values)))
  kinds <- count_kinds(subject$column, times)
  level <- c(words, if (length(kinds)) paste0("(", names(kinds), ")"))
  joined_bars(data.frame(panel = panel, level = level,
    become = ifelse(seq_along(level) > length(words), "gone", "value"),
    gone = seq_along(level) > length(words), low = NA, high = NA, dates = FALSE,
    rows = c(rows_at_places(match(x, values), length(values), times), unname(kinds))))
}

look_bands <- function(panel, x, times, dates) {
  finite <- is.finite(x)
  breaks <- if (length(unique(x[finite])) < 2) c(0, 1) + dates * x[finite][1] else
    if (dates) date_breaks(range(x[finite]), 24) else pretty(x[finite], 12)
  rows <- rows_at_places(findInterval(x[finite], breaks, rightmost.closed = TRUE),
    length(breaks) - 1, times[finite])
  data.frame(panel = panel, level = NA, become = "value", gone = FALSE,
    low = utils::head(breaks, -1), high = breaks[-1], dates = dates, rows = rows)
}

#' @rdname plot_looks
#' @export
plot.ableturn_cross <- function(x, ...) {
  need_figures()
  tables <- attr(x, "tables") %||% list(x)
  cells <- do.call(rbind, lapply(tables, cross_cells))
  cells$row <- factor(cells$row, rev(unique(cells$row)))
  cells$column <- factor(cells$column, unique(cells$column))
  wide <- max(nchar(levels(cells$column)))
  figure <- ggplot2::ggplot(cells, ggplot2::aes(x = .data$column, y = .data$row)) +
    ggplot2::geom_tile(ggplot2::aes(fill = .data$share), colour = "white", linewidth = 1) +
    ggplot2::geom_text(ggplot2::aes(label = grouped(.data$rows), colour = .data$share > 60),
      size = 4) +
    ggplot2::scale_fill_gradient(low = "#f3f1ec", high = tones[["main"]], limits = c(0, 100)) +
    ggplot2::scale_colour_manual(values = c("FALSE" = tones[["ink"]], "TRUE" = "white")) +
    ggplot2::facet_wrap("panel", scales = "free") + ggplot2::scale_x_discrete(position = "top") +
    figure_theme() +
    ggplot2::theme(panel.grid.major = ggplot2::element_blank(), axis.text.x.top =
      ggplot2::element_text(angle = if (wide > 12) 30 else 0, hjust = if (wide > 12) 0 else 0.5))
  draw(titled(figure, "Rows in each cell; the tone is the share of its line"))
}

cross_cells <- function(table) {
  wide <- cross_wide(table, most = 30)
  row <- level_words(wide$rows$row, wide$rows$row_label, wide$rows$row_missing)
  column <- level_words(wide$columns$column, wide$columns$column_label, wide$columns$column_missing)
  at <- expand.grid(i = seq_along(row), j = seq_along(column))
  rows <- wide$cells[cbind(at$i, at$j)]
  out <- data.frame(panel = paste(attr(table, "vars"), collapse = " by "),
    row = axis_words(row[at$i]), column = axis_words(column[at$j], 22), rows = rows,
    share = 100 * rows / rowSums(wide$cells)[at$i])
  out[out$rows > 0, ]
}

#' @rdname plot_looks
#' @export
plot.ableturn_items <- function(x, ...) {
  need_figures()
  draw(items_figure(x))
}

#' @rdname plot_looks
#' @export
plot.ableturn_lineage <- function(x, ...) {
  need_figures()
  draw(lineage_figure(as.data.frame(x)))
}

#' @rdname plot_looks
#' @export
plot.ableturn_findings <- function(x, ...) {
  open <- as.data.frame(x)[!nzchar(x$accepted), ]
  told <- ifelse(open$severity == "warn", "finding", "note")
  draw(count_figure(open$variable, told, c(finding = tones[["accent"]], note = tones[["soft"]]),
    "Open findings", open$id))
}

#' @rdname plot_looks
#' @export
plot.ableturn_turns <- function(x, ...) {
  words <- paste0(grouped(x$valid), " valid", ifelse(x$missing > 0,
    paste0(", ", grouped(x$missing), " missing"), ""))
  draw(count_figure(rep(x$name, 2), rep(c("valid", "missing"), each = nrow(x)),
    c(valid = tones[["main"]], missing = tones[["gone"]]),
    "Valid and missing rows of what was made", rep(words, 2), c(x$valid, x$missing), total = FALSE))
}

#' @rdname plot_looks
#' @export
plot.ableturn_comparison <- function(x, ...) {
  draw(count_figure(x$variable, "differs", c(differs = tones[["accent"]]),
    "Rows that differ", "", x$rows))
}

#' @rdname plot_looks
#' @export
plot.ableturn_collinearity <- function(x, ...) {
  vif <- pmin(x$vif, 1000)
  draw(count_figure(x$variable, ifelse(vif >= 5, "high", "low"),
    c(high = tones[["accent"]], low = tones[["main"]]),
    "Variance inflation of each variable (5 and more stands out)", "", round(vif, 2)))
}

# Horizontal bars in stated tones, each with its figure.
count_figure <- function(level, tone, fills, title, text = "", rows = rep(1, length(level)),
                         total = TRUE) {
  need_figures()
  bars <- stats::aggregate(rows ~ level + tone, data.frame(level, tone, rows), sum)
  bars$level <- factor(bars$level, rev(unique(level)))
  ends <- stats::aggregate(rows ~ level, bars, sum)
  told <- tapply(rep_len(text, length(level)), level, function(t) {
    paste(unique(t[nzchar(t)]),
      collapse = ", ")
  })
  ends$text <- paste(if (total) show_number(ends$rows),
    short_words(told[as.character(ends$level)], 60))
  figure <- ggplot2::ggplot(bars, ggplot2::aes(x = .data$rows, y = .data$level)) +
    ggplot2::geom_col(ggplot2::aes(fill = .data$tone), width = 0.7) +
    ggplot2::geom_text(ggplot2::aes(label = .data$text), ends, hjust = -0.05, size = 4,
      colour = tones[["ink"]]) +
    ggplot2::scale_fill_manual(values = fills) +
    ggplot2::scale_y_discrete(labels = axis_words) +
    ggplot2::scale_x_continuous(expand = ggplot2::expansion(c(0, 0.6))) + figure_theme() +
    ggplot2::theme(panel.grid.major.y = ggplot2::element_blank())
  titled(figure, title)
}

#' @rdname plot_looks
#' @export
plot.ableturn_working <- function(x, ...) {
  need_figures()
  steps <- as.data.frame(x)
  steps$place <- stats::ave(seq_len(nrow(steps)), steps$row, FUN = seq_along)
  steps$text <- paste0(steps$variable, " = ", short_words(steps$working, 70), "\n= ", steps$value,
    ifelse(nzchar(steps$reason), paste0(" (", steps$reason, ")"), ""))
  steps$panel <- factor(paste("row", steps$row), unique(paste("row", steps$row)))
  figure <- ggplot2::ggplot(steps, ggplot2::aes(x = 0, y = -.data$place, label = .data$text)) +
    ggplot2::geom_label(size = 4.2, fill = "#dcecef", colour = tones[["ink"]], label.size = 0.2,
      label.padding = ggplot2::unit(0.5, "lines")) +
    ggplot2::facet_wrap("panel") +
    ggplot2::scale_y_continuous(expand = ggplot2::expansion(add = 0.7)) +
    figure_theme() + ggplot2::theme(axis.text = ggplot2::element_blank(),
      panel.grid.major = ggplot2::element_blank())
  draw(titled(figure, "The arithmetic of a row, from the originals down"))
}
