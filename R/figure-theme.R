# One look for all figures: few tones that differ in lightness too, words beside what they name.
tones <- c(ink = "#17262e", main = "#0b6b7d", accent = "#d9822b", quiet = "#7d8a91",
  grid = "#e2e6e8", gone = "#c4bba8", soft = "#9cc5cc")

# Tones for categories, in an order in which neighbours differ in lightness.
category_tones <- function(n) {
  own <- c("#0b6b7d", "#e6a23c", "#5c3d7a", "#8fbf5a", "#a8323e", "#6fb1d6", "#3f5f2a", "#d98cb3")
  if (n <= length(own)) own[seq_len(n)] else grDevices::colorRampPalette(own)(n)
}

# From the low end of a scale to the high: one hue from light to dark, as orange marks what looks
# wrong.
scale_tones <- function(n) {
  grDevices::colorRampPalette(c("#e4f0f2", "#9cc5cc", "#4f97a4", "#0b6b7d", "#073f4b"))(n)
}

# What is read on each of them.
on_scale_tones <- function(n) rep(c(tones[["ink"]], "white"), c(ceiling(n / 2), n %/% 2))

need_figures <- function() need_package("ggplot2", "figures")

# Put together once and kept.
figure_theme <- function() {
  if (is.null(made_once$theme)) made_once$theme <- new_theme()
  made_once$theme
}

made_once <- new.env()

new_theme <- function(size = 14) {
  ggplot2::theme_minimal(base_size = size) + ggplot2::theme(
    plot.title = ggplot2::element_text(face = "bold", colour = tones[["ink"]]),
    plot.subtitle = ggplot2::element_text(colour = tones[["quiet"]]),
    plot.caption = ggplot2::element_text(colour = tones[["quiet"]], hjust = 0),
    plot.title.position = "plot", plot.caption.position = "plot",
    plot.margin = ggplot2::margin(14, 18, 12, 14),
    strip.text = ggplot2::element_text(face = "bold", hjust = 0, colour = tones[["ink"]]),
    axis.text = ggplot2::element_text(colour = tones[["ink"]]),
    axis.title = ggplot2::element_text(colour = tones[["quiet"]]),
    panel.grid.minor = ggplot2::element_blank(),
    panel.grid.major = ggplot2::element_line(colour = tones[["grid"]]),
    panel.spacing = ggplot2::unit(1.6, "lines"), legend.position = "none"
  )
}

# How wide a figure is drawn, in inches: as is usual for it, or as there is room for.
drawn_width <- function(usual) {
  room <- getOption("ableturn.room")
  if (length(room)) max(4.4, min(usual, room / 62)) else usual
}

# A figure of ours under its title, which with what stands beneath it is also its text for those who
# do not see it. They are folded as wide letters need it.
titled <- function(figure, title, subtitle = NULL, caption = NULL, x = NULL, y = NULL) {
  inches <- drawn_width(10) - 0.45
  fold <- function(text, each) {
    if (length(text)) paste(wrap_words(show_controls(text), inches * each), collapse = "\n")
  }
  figure <- figure + ggplot2::labs(title = fold(title, 6.4), subtitle = fold(subtitle, 8.4),
    caption = fold(caption, 10.4), x = x, y = y,
    alt = paste0(show_controls(c(title, subtitle, caption)), ".", collapse = " "))
  structure(figure, class = union("ableturn_figure", class(figure)))
}

# The name of a variable with its label, as a title has it.
named_label <- function(book, name) {
  label <- meaning_in(book, name)$label
  if (is.null(label) || label == name) name else paste0(name, ": ", label)
}

# "Valid 1,146 of 1,200; missing: Don't know 34, Refused 20".
validity_words <- function(book, name) {
  variable <- variable_in(book, name)
  missing <- missing_of(variable)
  paste0("Valid ", grouped(facts_of(variable)$valid), " of ", grouped(row_count(book)),
    if (length(missing)) paste0("; missing: ", listed(missing)))
}

# Of data without rows there is nothing to draw, and the figure says so.
empty_figure <- function(book, name) {
  figure <- ggplot2::ggplot() + ggplot2::annotate("text", x = 0, y = 0,
    label = "The data have no rows.", size = 5) +
    ggplot2::theme_void()
  titled(figure, named_label(book, name), validity_words(book, name))
}

# In a document the figure is printed by what makes the document, with its text.
draw <- function(figure) {
  if (isTRUE(getOption("knitr.in.progress"))) return(figure)
  print(figure)
  invisible(figure)
}

# What stands on an axis: short enough to leave room for the figure.
axis_words <- function(text, width = 30) short_words(with_few_figures(text), width)

# Numbers with many decimals are told by four figures.
with_few_figures <- function(text) {
  long <- grepl("^-?[0-9]+[.][0-9]{4,}$", text)
  text[long] <- vapply(as.numeric(text[long]), brief_number, "")
  text
}

# Text cut to a width, with the same sign at its end in every locale, since figures go into files.
short_words <- function(text, width) shorten(text, width, "\u2026")
