# A number put into bands: one histogram in the tones of the bands, with cut points and names; or,
# where the names would meet, the histogram beside a list of the bands.
figure_bands <- function(book, source, name) {
  derived <- derived_in(book, name)
  drawn <- drawn_numbers(book, source, name)
  breaks <- histogram_breaks(drawn)
  names <- band_names(drawn, derived$meaning, row_count(book), diff(range(breaks)))
  bars <- band_bars(drawn, breaks, derived$meaning)
  place <- function(x) on_axis(x, drawn$dates)
  bars[c("low", "high")] <- place(bars[c("low", "high")])
  names$x <- place(names$x)
  figure <- if (nrow(names) > 6 || max(names$level) > 1) listed_bands(bars, names, source) else
    named_bands(bars, names, place(drawn_changes(drawn)), source)
  boundary <- boundary_rows(derived, list(points = drawn$at, x = derived$x))
  told <- c(boundary_words(boundary),
    beyond_words(book, source))
  titled(figure, named_label(book, name), validity_words(book, name),
    if (length(told)) paste(told, collapse = ". "))
}

band_rects <- function(bars) {
  ggplot2::geom_rect(ggplot2::aes(xmin = .data$low, xmax = .data$high, ymin = .data$from,
    ymax = .data$to, fill = .data$band), bars, colour = "white", linewidth = 0.2)
}

named_bands <- function(bars, names, changes, source) {
  step <- 1.5 / drawn_width(7) # as high as two lines, where the figure is small
  names$y <- max(stacked_height(bars)) * (1.04 + step * names$level)
  ggplot2::ggplot() + band_rects(bars) +
    ggplot2::geom_vline(xintercept = changes, linetype = "22", colour = tones[["quiet"]]) +
    ggplot2::geom_text(ggplot2::aes(x = .data$x, y = .data$y, label = .data$text,
      colour = .data$band), names, size = 4.1, lineheight = 0.95, vjust = 0, fontface = "bold") +
    ggplot2::scale_fill_manual(values = names$tone, breaks = names$band,
      na.value = tones[["gone"]]) +
    ggplot2::scale_colour_manual(values = names$dark, breaks = names$band) +
    ggplot2::scale_y_continuous(labels = grouped, expand = ggplot2::expansion(c(0, 0.2))) +
    figure_theme() + band_axis(bars, expand = ggplot2::expansion(0.08)) +
    ggplot2::labs(x = source, y = "rows")
}

band_axis <- function(bars, expand, ...) {
  if (are_days_of_axis(bars$low)) date_axis(expand = expand) else
    ggplot2::scale_x_continuous(..., expand = expand)
}

listed_bands <- function(bars, names, source) {
  panels <- paste(c("before:", "after:"), c(source, "bands and their rows"))
  panel <- function(i) factor(panels[i], panels)
  place <- rev(seq_len(nrow(names)))
  list <- data.frame(low = 0, high = names$rows, from = place - 0.36, to = place + 0.36,
    band = names$band, panel = panel(2), text = sub("\n", "  ", names$text))
  bars$panel <- panel(1)
  room <- data.frame(panel = panel(2), x = max(names$rows) * 2.6, y = 0.4)
  ggplot2::ggplot() + band_rects(bars) + band_rects(list) +
    ggplot2::geom_text(ggplot2::aes(x = .data$high, y = (.data$from + .data$to) / 2,
      label = .data$text), list, hjust = -0.03, size = 3.7, colour = tones[["ink"]]) +
    ggplot2::geom_blank(ggplot2::aes(x = .data$x, y = .data$y), room) +
    ggplot2::scale_fill_manual(values = names$tone, breaks = names$band,
      na.value = tones[["gone"]]) +
    ggplot2::facet_wrap("panel", scales = "free") + figure_theme() +
    band_axis(bars, labels = grouped, expand = ggplot2::expansion(c(0.02, 0.05))) +
    ggplot2::theme(axis.text.y = ggplot2::element_blank(),
      panel.grid.major.y = ggplot2::element_blank()) +
    ggplot2::labs(x = NULL, y = NULL)
}

# Bars of the source, those of one place on top of each other where a band begins inside it.
band_bars <- function(drawn, breaks, meaning) {
  found <- drawn_rows(drawn, breaks)
  band <- band_words(found$code, meaning)
  counts <- stats::aggregate(list(rows = found$rows), list(place = found$place, band = band), sum)
  counts <- counts[order(counts$place, counts$band), ]
  counts$to <- stats::ave(counts$rows, counts$place, FUN = cumsum)
  counts$from <- counts$to - counts$rows
  cbind(counts, low = breaks[counts$place], high = breaks[counts$place + 1])
}

stacked_height <- function(bars) tapply(bars$rows, bars$place, sum)

band_words <- function(code, meaning) {
  values <- category_order(unique(code[!is.na(code)]), meaning$codes)
  words <- label_of(values, meaning$codes) %|% show_value(values)
  factor(ifelse(is.na(code), "(missing)", words[match(code, values)]), c(words, "(missing)"))
}

# Where each band's name stands, with its rows and their share of all: over its middle, higher where
# a neighbour is too close.
band_names <- function(drawn, meaning, all, span) {
  found <- drawn_middles(drawn)
  band <- band_words(found$code, meaning)
  used <- levels(band)[levels(band) %in% band]
  middle <- found$middle[match(used, band)]
  rows <- found$rows[match(used, band)]
  words <- ifelse(used == "(missing)", used, axis_words(used, 24))
  text <- paste0(words, "\n", grouped(rows), " (", to_percent(100 * rows / all), " %)")
  level <- label_levels(middle, nchar(words, "width"), span)
  valid <- used != "(missing)"
  tone <- ifelse(valid, category_tones(length(used))[cumsum(valid)], tones[["gone"]])
  data.frame(band = used, x = middle, rows = rows, level = level, text = text, tone = tone,
    dark = darker(tone))
}

# The lowest level at which a name meets no other; a name is as wide as its letters.
label_levels <- function(middle, letters, span) {
  half <- pmax(letters, 14) * span * 0.0075
  level <- integer(length(middle))
  for (i in order(middle)) {
    others <- setdiff(order(middle)[seq_len(match(i, order(middle)) - 1)], i)
    near <- others[abs(middle[others] - middle[i]) < half[others] + half[i]]
    level[i] <- min(setdiff(0:length(middle), level[near]))
  }
  level
}

darker <- function(tone) grDevices::rgb(t(grDevices::col2rgb(tone) * 0.72), maxColorValue = 255)

boundary_words <- function(rows) {
  if (is.null(rows)) return(NULL)
  paste0("Exactly on a cut point: ",
    paste0(show_number(rows$value), " (", counted(rows$rows, "row"), ", now ", rows$code, ")",
      collapse = ", "))
}
