#' Draw how the items of a scale are answered and hang together
#'
#' On the left how the valid answers of each item are spread, the lowest lightest; on the right each
#' item's correlation with the rest of the scale. Items that were reversed are
#' marked, and those that look unreversed stand out.
#'
#' @param book A turnbook, or a data frame.
#' @param items Items of one scale, two or more, or one composite, whose items are taken.
#' @param by A variable: in place of the items, how reliable the scale is in each of its groups,
#'   with the 95 percent interval of alpha.
#' @param omega,ordinal Omega and ordinal alpha beside alpha, with `by`.
#' @return A ggplot.
#' @section Errors: As [item_analysis()].
#' @examplesIf requireNamespace("ggplot2", quietly = TRUE)
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' figure_items(book, st_1:st_6)
#' figure_items(book, tr_1:tr_4, by = island, omega = TRUE)
#' @export
figure_items <- function(book, items, by = NULL, omega = FALSE, ordinal = FALSE) {
  need_figures()
  book <- as_book(book)
  names <- select_vars(book, rlang::enquo(items), "items")
  group <- rlang::enquo(by)
  if (rlang::quo_is_null(group)) return(items_figure(item_analysis(book,
    tidyselect::all_of(names))))
  by <- one_var(book, group, "by")
  reliability_figure(item_analysis(book, tidyselect::all_of(names), by = tidyselect::all_of(by),
    omega = omega, ordinal = ordinal), named_label(book, by))
}

# A row for each group, with alpha and its interval, and the other coefficients below it.
reliability_figure <- function(analysis, by) {
  groups <- attr(analysis, "groups")
  groups$group <- factor(groups$group, rev(groups$group))
  points <- reliability_points(groups)
  intervals <- groups[is.finite(groups$low), ]
  several <- nlevels(points$what) > 1
  figure <- ggplot2::ggplot() + reliability_marks(points, intervals) +
    ggplot2::scale_y_continuous(breaks = seq_along(levels(groups$group)),
      labels = reliability_labels(groups), expand = ggplot2::expansion(add = 0.6)) +
    ggplot2::expand_limits(x = c(floor(10 * min(intervals$low, points$value, 0.9)) / 10, 1)) +
    figure_theme() + ggplot2::theme(panel.grid.major.y = ggplot2::element_blank(),
    legend.position = if (several) "top" else "none", legend.justification = "left")
  titled(figure, paste("Reliability of", nrow(analysis), "items by", by),
    paste(c(paste0("All rows: alpha ", two_digits(attr(analysis, "scale")$alpha), "."),
      attr(analysis, "differ")$words), collapse = " "),
    caption = "Bars: 95 percent interval of alpha.")
}

reliability_words <- c(alpha = "alpha", omega = "omega", ordinal = "ordinal alpha")

# The coefficients, each a little below the one before.
reliability_points <- function(groups) {
  shown <- intersect(names(reliability_words), names(groups))
  points <- do.call(rbind, lapply(shown, function(word) {
    data.frame(group = groups$group, value = groups[[word]], what = reliability_words[[word]])
  }))
  points$what <- factor(points$what, reliability_words[shown])
  points$place <- as.numeric(points$group) - 0.22 * (as.numeric(points$what) - 1)
  points[is.finite(points$value), ]
}

reliability_marks <- function(points, intervals) {
  list(
    ggplot2::geom_segment(ggplot2::aes(x = .data$low, xend = .data$high,
      y = as.numeric(.data$group), yend = as.numeric(.data$group)), intervals,
    colour = tones[["soft"]], linewidth = 2.4),
    ggplot2::geom_point(ggplot2::aes(x = .data$value, y = .data$place, shape = .data$what,
      colour = .data$what), points, size = 3.6),
    ggplot2::geom_text(ggplot2::aes(x = .data$value, y = .data$place,
      label = paste0("  ", two_digits(.data$value))), points, hjust = 0, vjust = -0.6, size = 3.8,
    colour = tones[["ink"]]),
    ggplot2::scale_colour_manual(values = unname(tones[c("main", "accent", "ink")])),
    ggplot2::scale_shape_manual(values = c(16, 17, 15)),
    ggplot2::labs(shape = NULL, colour = NULL)
  )
}

# The groups with their complete rows, from below.
reliability_labels <- function(groups) {
  labels <- paste0(groups$group, "\n", vapply(groups$complete, counted, "", "row"))
  rev(labels)
}

items_figure <- function(analysis) {
  facts <- attr(analysis, "scale")
  answers <- attr(analysis, "answers")
  item <- paste0(analysis$item, ifelse(analysis$item %in% attr(analysis, "turned"),
    " (reversed)", ""))
  words <- paste0(item, "\n", axis_words(ifelse(nzchar(analysis$label), analysis$label, ""), 34))
  words <- factor(words, rev(words))
  against <- analysis$item %in% names(facts$reversed)
  rest <- data.frame(item = words, r = analysis$item_rest, against = against,
    panel = "correlation with the other items")
  answers$item <- words[match(answers$item, analysis$item)]
  answers$panel <- "answers, percent of the valid"
  panels <- c("answers, percent of the valid", "correlation with the other items")
  answers$panel <- factor(answers$panel, panels)
  rest$panel <- factor(rest$panel, panels)
  figure <- ggplot2::ggplot(mapping = ggplot2::aes(y = .data$item)) + answer_bars(answers) +
    rest_points(rest) +
    ggplot2::facet_wrap("panel", scales = "free_x", drop = FALSE) +
    ggplot2::labs(x = NULL, y = NULL) +
    figure_theme() + ggplot2::theme(panel.grid.major.y = ggplot2::element_blank())
  titled(figure, paste("Item analysis of", nrow(analysis), "items"), items_words(facts, analysis))
}

items_words <- function(facts, analysis) {
  against <- names(facts$reversed)
  paste0("Cronbach's alpha ", two_digits(facts$alpha), " over ", rows_of_items(analysis),
    if (length(against)) paste0("; looks unreversed: ", paste(against, collapse = ", ")))
}

answer_bars <- function(answers) {
  values <- sort(unique(answers$value))
  fills <- setNames(scale_tones(length(values)), as.character(values))
  answers$value <- factor(answers$value, rev(values))
  light <- answers$percent >= 7 & length(values) <= 12
  list(
    ggplot2::geom_col(ggplot2::aes(x = .data$percent, fill = .data$value), answers, width = 0.7,
      colour = "white", linewidth = 0.3),
    ggplot2::geom_text(ggplot2::aes(x = .data$percent, group = .data$value,
      label = ifelse(light, as.character(.data$value), "")), answers,
    position = ggplot2::position_stack(vjust = 0.5),
    size = 3.6, colour = on_scale_tones(length(values))[match(answers$value, values)]),
    ggplot2::scale_fill_manual(values = fills)
  )
}

rest_points <- function(rest) {
  all <- rest
  rest <- rest[!is.na(rest$r), ] # an item without spread has none
  tone <- ifelse(rest$against, tones[["accent"]], tones[["main"]])
  nudge <- ifelse(rest$r < 0, -0.06, 0.06)
  list(
    ggplot2::geom_vline(ggplot2::aes(xintercept = 0), all[1, ], colour = tones[["quiet"]]),
    ggplot2::geom_segment(ggplot2::aes(x = 0, xend = .data$r, yend = .data$item), rest,
      colour = tone, linewidth = 1.2),
    ggplot2::geom_point(ggplot2::aes(x = .data$r), rest, colour = tone, size = 4,
      shape = ifelse(rest$against, 17, 16)),
    ggplot2::geom_text(ggplot2::aes(x = .data$r + nudge, label = two_digits(.data$r)), rest,
      hjust = ifelse(rest$r < 0, 1, 0), size = 4, colour = tones[["ink"]]),
    ggplot2::geom_blank(ggplot2::aes(x = .data$x), data.frame(item = all$item[1],
      panel = all$panel[1],
      x = c(min(-0.1, rest$r * 1.35, na.rm = TRUE), max(1, rest$r, na.rm = TRUE))))
  )
}
