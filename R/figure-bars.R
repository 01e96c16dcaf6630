# Histograms, and bars for values, which the figures share.

histogram_bars <- function(book, name, panel) {
  drawn <- drawn_numbers(book, name)
  breaks <- histogram_breaks(drawn)
  counted <- drawn_rows(drawn, breaks)
  rows <- rows_at_places(counted$place, length(breaks) - 1, counted$rows)
  data.frame(panel = panel, low = utils::head(breaks, -1), high = breaks[-1], rows = rows,
    dates = drawn$dates)
}

# One bar a value for whole numbers that lie close, else about forty bars; where few values lie far
# out, the bars at the ends hold them.
histogram_breaks <- function(drawn) {
  shape <- drawn_shape(drawn)
  if (is.null(shape)) return(c(0, 1))
  ends <- shape$ends
  if (shape$whole && diff(ends) <= 80) return(seq(ends[1] - 0.5, ends[2] + 0.5, 1))
  if (diff(ends) == 0) return(ends + c(-0.5, 0.5))
  main <- shape$main()
  ends <- if (diff(ends) > 2.5 * diff(main) && diff(main) > 0) main else ends
  if (drawn$dates) date_breaks(ends, 40) else pretty(ends, 40)
}

# What the bars at the ends hold besides.
beyond_words <- function(book, names) {
  told <- vapply(names, function(name) {
    drawn <- drawn_numbers(book, name)
    beyond <- rows_beyond(drawn, range(histogram_breaks(drawn)))
    if (beyond) {
      paste0("The end bars of ", name, " hold ", counted(beyond, "row"), " from further out.")
    } else {
      ""
    }
  }, "")
  if (any(nzchar(told))) paste(told[nzchar(told)], collapse = " ")
}

histogram_figure <- function(bars) {
  bars[c("low", "high")] <- on_axis(bars[c("low", "high")], bars$dates)
  ggplot2::ggplot(bars) +
    ggplot2::geom_rect(ggplot2::aes(xmin = .data$low, xmax = .data$high, ymin = 0,
      ymax = .data$rows), fill = tones[["main"]], colour = "white", linewidth = 0.2) +
    ggplot2::scale_y_continuous(labels = grouped, expand = ggplot2::expansion(c(0, 0.06))) +
    figure_theme() + (if (any(bars$dates)) date_axis())
}

# Whether a variable is shown value by value: text, labelled, or few values.
is_counted <- function(book, name) {
  facts <- facts_of(variable_in(book, name))
  meaning <- meaning_in(book, name)
  has_text(variable_in(book, name)) || length(meaning$codes) > 0 ||
    identical(meaning$level, "nominal") ||
    (facts$few && length(facts$values) <= 12)
}

value_bars <- function(book, name, panel) {
  levels <- drawn_levels(book, name)$levels
  words <- level_words(levels$value, levels$label, levels$missing)
  joined_bars(data.frame(panel = panel, level = words, become = words, gone = levels$missing,
    rows = levels$rows))
}

level_words <- function(value, label, missing) {
  label <- sub("^([0-9]+ values)$", "(\\1)", label)
  ifelse(missing, paste0("(", value, ")"), ifelse(nzchar(label) & label != value,
    paste(value, label), value))
}

# Beyond two dozen values the least frequent ones share a bar.
joined_bars <- function(bars, most = 24) {
  bars <- bars[bars$rows > 0, ]
  total <- sort(tapply(bars$rows, bars$level, sum), decreasing = TRUE)
  if (length(total) <= most) return(bars)
  rest <- names(total)[-seq_len(most - 1)]
  bars$level[bars$level %in% rest] <- paste(length(rest), "others")
  joined <- stats::aggregate(rows ~ panel + level + become + gone, bars, sum)
  joined[setdiff(names(bars), names(joined))] <- bars[1, setdiff(names(bars), names(joined))]
  joined
}

bars_figure <- function(bars) {
  bars$key <- factor(paste(bars$panel, bars$level), rev(unique(paste(bars$panel, bars$level))))
  becomes <- unique(bars$become[!bars$gone])
  fills <- c(setNames(category_tones(length(becomes)), becomes),
    setNames(rep(tones[["gone"]], length(unique(bars$become[bars$gone]))),
      unique(bars$become[bars$gone])))
  totals <- stats::aggregate(rows ~ panel + key, bars, sum)
  totals$share <- 100 * totals$rows / stats::ave(totals$rows, totals$panel, FUN = sum)
  words <- setNames(axis_words(bars$level), paste(bars$panel, bars$level))
  totals$told <- paste0(grouped(totals$rows), " (", to_percent(totals$share), " %)")
  # room for what stands at the end of the longest bar
  room <- max(nchar(totals$told)) * (if (length(unique(bars$panel)) > 1) 0.068 else 0.037)
  ggplot2::ggplot(bars, ggplot2::aes(y = .data$key, x = .data$rows)) +
    ggplot2::geom_col(ggplot2::aes(fill = .data$become), width = 0.72) +
    ggplot2::geom_text(ggplot2::aes(label = .data$told), totals,
    hjust = -0.08, size = 3.7, colour = tones[["ink"]]) +
    ggplot2::scale_fill_manual(values = fills) +
    ggplot2::scale_y_discrete(labels = words) +
    ggplot2::scale_x_continuous(labels = grouped, expand = ggplot2::expansion(c(0, room))) +
    figure_theme() + ggplot2::theme(panel.grid.major.y = ggplot2::element_blank()) +
    ggplot2::labs(x = "rows", y = NULL)
}
