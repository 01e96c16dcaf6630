#' Draw a variable before and after its turn
#'
#' Numbers that stay numbers are two histograms; numbers put into bands one
#' histogram with the cut points and the bands named; codes that become other
#' codes two sets of bars, the old ones in the tone of the new ones. The figure
#' of a variable made from several is its own distribution.
#'
#' @param book A turnbook.
#' @param var A derived variable.
#' @return A ggplot, which can be printed, changed or saved with `ggplot2::ggsave()`.
#' @section Errors: Class `ableturn_error`, if `var` is an original or the package ggplot2 is not installed.
#' @examplesIf requireNamespace("ggplot2", quietly = TRUE)
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_bin(book, wait_min, as = "wait3", at = c(10, 30))
#' figure_before_after(book, wait3)
#' @export
figure_before_after <- function(book, var) {
  need_figures()
  book <- as_book(book)
  name <- derived_var(book, rlang::enquo(var), "drawn beside its source")
  source <- held(book, "columns")[[name]]$from
  if (length(source) != 1) return(figure_alone(book, name))
  before <- is_counted(book, source)
  if (!before && is_counted(book, name)) return(figure_bands(book, source, name))
  if (before) figure_codes(book, source, name) else figure_numbers(book, source, name)
}

# Whether a variable is shown value by value: text, labelled, or few values.
is_counted <- function(book, name) {
  facts <- facts_of(book, name)
  has_text(book, name) || length(meaning_in(book, name)$codes) > 0 || (facts$few && length(facts$values) <= 12)
}

figure_alone <- function(book, name) {
  made <- held(book, "columns")[[name]]
  title <- figure_words(named_label(book, name), paste0(validity_words(book, name), ". From ", from_in_words(made$from)),
    x = NULL, y = "rows")
  if (is_counted(book, name)) return(bars_figure(value_bars(book, name, "rows")) + title)
  histogram_figure(histogram_bars(book, name, "rows")) + title
}

figure_numbers <- function(book, source, name) {
  bars <- rbind(histogram_bars(book, source, paste0("before: ", source)), histogram_bars(book, name, paste0("after: ", name)))
  bars$panel <- factor(bars$panel, unique(bars$panel))
  histogram_figure(bars) + ggplot2::facet_wrap("panel", ncol = 1, scales = "free") +
    figure_words(named_label(book, name), validity_words(book, name), y = "rows")
}

histogram_bars <- function(book, name, panel) {
  x <- as.numeric(column_in(book, name)$x)
  x <- x[is.finite(x)]
  breaks <- histogram_breaks(x)
  rows <- tabulate(findInterval(x, breaks, all.inside = TRUE), length(breaks) - 1)
  data.frame(panel = panel, low = utils::head(breaks, -1), high = breaks[-1], rows = rows)
}

# One bar a value for whole numbers that lie close, else about forty bars; where few values lie
# far out, the bars at the ends hold them.
histogram_breaks <- function(x) {
  if (!length(x)) return(c(0, 1))
  ends <- range(x)
  if (is_whole(x) && diff(ends) <= 80) return(seq(ends[1] - 0.5, ends[2] + 0.5, 1))
  if (diff(ends) == 0) return(ends + c(-0.5, 0.5))
  main <- stats::quantile(x, c(0.01, 0.99), names = FALSE)
  pretty(if (diff(ends) > 2.5 * diff(main) && diff(main) > 0) main else ends, 40)
}

histogram_figure <- function(bars) {
  ggplot2::ggplot(bars) +
    ggplot2::geom_rect(ggplot2::aes(xmin = .data$low, xmax = .data$high, ymin = 0, ymax = .data$rows),
      fill = tones[["main"]], colour = "white", linewidth = 0.2) +
    ggplot2::scale_y_continuous(labels = grouped, expand = ggplot2::expansion(c(0, 0.06))) + figure_theme()
}

#' @importFrom rlang .data
figure_codes <- function(book, source, name) {
  bars <- rbind(before_bars(book, source, name), value_bars(book, name, paste0("after: ", name)))
  bars$panel <- factor(bars$panel, unique(bars$panel))
  bars_figure(bars) + ggplot2::facet_wrap("panel", scales = "free_y") +
    figure_words(named_label(book, name), validity_words(book, name))
}

# The old values, each in the tones of what became of them.
before_bars <- function(book, source, name) {
  both <- cross_two(source, name, book)
  old <- level_words(both$row, both$row_label, both$row_missing)
  new <- level_words(both$column, both$column_label, both$column_missing)
  joined_bars(data.frame(panel = paste0("before: ", source), level = old, become = new, gone = both$column_missing,
    rows = both$rows))
}

value_bars <- function(book, name, panel) {
  levels <- cross_levels(book, name)
  rows <- tabulate(levels$place, nrow(levels$levels))
  words <- level_words(levels$levels$value, levels$levels$label, levels$levels$missing)
  joined_bars(data.frame(panel = panel, level = words, become = words, gone = levels$levels$missing, rows = rows))
}

level_words <- function(value, label, missing) {
  label <- sub("^([0-9]+ values)$", "(\\1)", label)
  ifelse(missing, paste0("(", value, ")"), ifelse(nzchar(label) & label != value, paste(value, label), value))
}

# Beyond two dozen values the least frequent ones share a bar.
joined_bars <- function(bars, most = 24) {
  bars <- bars[bars$rows > 0, ]
  total <- sort(tapply(bars$rows, bars$level, sum), decreasing = TRUE)
  if (length(total) <= most) return(bars)
  rest <- names(total)[-seq_len(most - 1)]
  bars$level[bars$level %in% rest] <- paste(length(rest), "others")
  stats::aggregate(rows ~ panel + level + become + gone, bars, sum)
}

bars_figure <- function(bars) {
  bars$key <- factor(paste(bars$panel, bars$level), rev(unique(paste(bars$panel, bars$level))))
  becomes <- unique(bars$become[!bars$gone])
  fills <- c(self_numbered(becomes, category_tones(length(becomes))),
    self_numbered(unique(bars$become[bars$gone]), rep(tones[["gone"]], length(unique(bars$become[bars$gone])))))
  totals <- stats::aggregate(rows ~ panel + key, bars, sum)
  totals$share <- 100 * totals$rows / stats::ave(totals$rows, totals$panel, FUN = sum)
  words <- self_numbered(paste(bars$panel, bars$level), axis_words(bars$level))
  ggplot2::ggplot(bars, ggplot2::aes(y = .data$key, x = .data$rows)) +
    ggplot2::geom_col(ggplot2::aes(fill = .data$become), width = 0.72) +
    ggplot2::geom_text(ggplot2::aes(label = paste0(grouped(.data$rows), " (", to_percent(.data$share), " %)")), totals,
      hjust = -0.08, size = 3.7, colour = tones[["ink"]]) +
    ggplot2::scale_fill_manual(values = fills) +
    ggplot2::scale_y_discrete(labels = words) +
    ggplot2::scale_x_continuous(labels = grouped, expand = ggplot2::expansion(c(0, 0.42))) +
    figure_theme() + ggplot2::theme(panel.grid.major.y = ggplot2::element_blank()) +
    ggplot2::labs(x = "rows", y = NULL)
}
