#' Draw how old codes became new ones
#'
#' Each band runs from an old value to a new one, as wide as it has rows.
#' Missing answers have streams of their own, one for each reason. Where the
#' source has many values, neighbours that went the same way share a band.
#'
#' @inheritParams figure_before_after
#' @param var A variable made from one other.
#' @return A ggplot.
#' @section Errors: `ableturn_error_cross_one` for a variable made from several.
#' @examplesIf requireNamespace("ggplot2", quietly = TRUE)
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_collapse(book, ticket, as = "ticket4", rarer_than = 0.05)
#' figure_flow(book, ticket4)
#' @export
figure_flow <- function(book, var) {
  need_figures()
  book <- as_book(book)
  name <- derived_var(book, rlang::enquo(var), "drawn as a flow")
  source <- one_source(name, book)
  if (!row_count(book)) return(empty_figure(book, name))
  wide <- cross_wide(cross_two(source, name, book), most = 12)
  scale <- flow_scale(dim(wide$cells))
  left <- flow_nodes(level_words(wide$rows$row, wide$rows$row_label, wide$rows$row_missing),
    rowSums(wide$cells), wide$rows$row_missing, scale)
  right <- flow_nodes(level_words(wide$columns$column, wide$columns$column_label,
    wide$columns$column_missing), colSums(wide$cells), wide$columns$column_missing, scale)
  right$tone <- ifelse(right$gone, tones[["gone"]],
    category_tones(sum(!right$gone))[cumsum(!right$gone)])
  titled(flow_figure(left, right, flow_bands(left, right, wide$cells, scale)),
    named_label(book, name), paste0("From ", source, " on the left. ", validity_words(book, name)))
}

# Every node has room for its words; what is left of the height is for the rows, alike on both
# sides.
flow_scale <- function(sizes) 1 - max(sizes * flow_gap(sizes))

flow_gap <- function(size) pmin(0.055, 0.75 / size)

# Places of the nodes of one side, from the top, with gaps between them.
flow_nodes <- function(words, rows, gone, scale) {
  height <- scale * rows / sum(rows)
  gap <- flow_gap(length(rows))
  used <- sum(height) + gap * length(rows)
  top <- 1 - (1 - used) / 2 - gap / 2 - c(0, cumsum(height + gap))[seq_along(rows)]
  data.frame(words = words, rows = rows, gone = gone, top = top, bottom = top - height)
}

# One band for each pair that has rows, as points around its edge.
flow_bands <- function(left, right, cells, scale) {
  at <- which(cells > 0, arr.ind = TRUE)
  at <- at[order(at[, 1], at[, 2]), , drop = FALSE]
  share <- scale * cells[at] / sum(cells)
  start <- left$top[at[, 1]] - stats::ave(share, at[, 1], FUN = function(s) cumsum(s) - s)
  order <- order(at[, 2], at[, 1])
  end <- numeric(nrow(at))
  end[order] <- right$top[at[order, 2]] - stats::ave(share[order], at[order, 2],
    FUN = function(s) cumsum(s) - s)
  step <- seq(0, 1, length.out = 25)
  bend <- (1 - cos(pi * step)) / 2
  do.call(rbind, lapply(seq_len(nrow(at)), function(i) {
    upper <- start[i] + (end[i] - start[i]) * bend
    data.frame(band = i, x = c(step, rev(step)), y = c(upper, rev(upper - share[i])),
      tone = right$tone[at[i, 2]])
  }))
}

flow_figure <- function(left, right, bands) {
  size <- if (max(nrow(left), nrow(right)) > 16) 3.3 else 4.2
  node_words <- function(side) paste0(axis_words(side$words, 28), "  ", grouped(side$rows))
  ggplot2::ggplot() +
    ggplot2::geom_polygon(ggplot2::aes(x = .data$x, y = .data$y, group = .data$band,
      fill = .data$tone), bands, alpha = 0.62) +
    ggplot2::geom_rect(ggplot2::aes(xmin = -0.02, xmax = 0, ymin = .data$bottom, ymax = .data$top),
      left, fill = ifelse(left$gone, tones[["gone"]], tones[["ink"]])) +
    ggplot2::geom_rect(ggplot2::aes(xmin = 1, xmax = 1.02, ymin = .data$bottom, ymax = .data$top),
      right, fill = right$tone) +
    ggplot2::geom_text(ggplot2::aes(x = -0.035, y = (.data$top + .data$bottom) / 2), left,
      label = node_words(left), hjust = 1, size = size, colour = tones[["ink"]]) +
    ggplot2::geom_text(ggplot2::aes(x = 1.035, y = (.data$top + .data$bottom) / 2), right,
      label = node_words(right), hjust = 0, size = size, colour = tones[["ink"]]) +
    ggplot2::scale_fill_identity() + ggplot2::xlim(-0.62, 1.62) + figure_theme() +
    ggplot2::theme(axis.text = ggplot2::element_blank(),
      panel.grid.major = ggplot2::element_blank())
}
