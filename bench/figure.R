# One figure of the works: how many times faster than base R each is, with and without its receipt
# and findings, and what is aimed at.

figure_of_works <- function(result, path) {
  result$work <- factor(result$work, rev(result$work))
  kinds <- c("the turn, with receipt and findings", "its columns alone")
  points <- data.frame(
    work = rep(result$work, 2), faster = c(result$faster, result$faster_alone),
    kind = factor(rep(kinds, each = nrow(result)), kinds)
  )
  aims <- result[!is.na(result$target), ]
  aims$place <- as.numeric(aims$work)
  ends <- range(c(points$faster, aims$target, 1))
  figure <- ggplot2::ggplot(points, ggplot2::aes(x = .data$faster, y = .data$work)) +
    ggplot2::scale_y_discrete() +
    ggplot2::geom_vline(xintercept = 1, colour = "#8a8f98", linewidth = 0.6) +
    ggplot2::geom_segment(
      ggplot2::aes(x = .data$target, xend = .data$target, y = .data$place - 0.35,
        yend = .data$place + 0.35,
        linetype = "what is aimed at"), aims, linewidth = 1.1, colour = "#1f2430",
      key_glyph = "vpath") +
    ggplot2::geom_point(ggplot2::aes(shape = .data$kind, colour = .data$kind), size = 3.6,
      stroke = 1.2) +
    ggplot2::scale_colour_manual(values = c("#0b6e99", "#d17a00"), name = NULL) +
    ggplot2::scale_shape_manual(values = c(16, 2), name = NULL) +
    ggplot2::scale_linetype_manual(values = "solid", name = NULL) +
    ggplot2::scale_x_log10(breaks = c(0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100),
      labels = times_words, limits = ends * c(0.8, 1.25)) +
    ggplot2::labs(x = "Times as fast as base R (further right is faster)", y = NULL,
      title = paste0("Speed beside base R, ", format(max(result$rows), big.mark = ",",
        scientific = FALSE), " rows"),
      subtitle = "Medians of alternating runs in one process; left of the line base R is faster") +
    ggplot2::theme_minimal(base_size = 15) +
    ggplot2::theme(legend.position = "top", legend.justification = "left",
      panel.grid.minor = ggplot2::element_blank(),
      plot.title.position = "plot", axis.text = ggplot2::element_text(colour = "#1f2430"),
      plot.background = ggplot2::element_rect(fill = "white", colour = NA))
  ggplot2::ggsave(path, figure, width = 12.8, height = 8, dpi = 100)
}

times_words <- function(x) format(x, drop0trailing = TRUE, trim = TRUE)
