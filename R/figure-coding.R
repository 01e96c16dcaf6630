#' Draw the coding of dummies or contrasts
#'
#' A row for each level with its number of rows, a column for each variable,
#' and in the cells what a row of that level has there. The reference, whose
#' cells are all 0 (or all -1), is named.
#'
#' @param book A turnbook.
#' @param vars Variables made by [turn_dummy()], of one or several sources.
#' @return A ggplot.
#' @section Errors: `ableturn_error_not_dummies`, if a variable was not made by [turn_dummy()].
#' @examplesIf requireNamespace("ggplot2", quietly = TRUE)
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_dummy(book, island, reference = "Northholm")
#' figure_coding(book, starts_with("island_"))
#' @export
figure_coding <- function(book, vars) {
  need_figures()
  book <- as_book(book)
  names <- select_vars(book, rlang::enquo(vars))
  others <- names[verbs_in(book, names) != "dummy"]
  if (length(others)) fail("not-dummies", name = others)
  cells <- do.call(rbind, lapply(names, coding_cells, book = book))
  titled(coding_figure(cells), paste("Coding of", name_list(unique(cells$source))),
    paste(grouped(row_count(book)), "rows; a row with a missing answer is missing in every column"))
}

# What each level of the source is in this column: every level has one value.
coding_cells <- function(name, book) {
  source <- derived_in(book, name)$from[1]
  found <- drawn_levels(book, source, name)
  used <- found$levels$rows > 0
  words <- with(found$levels[used, ], level_words(value, label, missing))
  data.frame(source = source, column = name, level = paste0(axis_words(words, 34), "  ",
    grouped(found$levels$rows[used])), value = found$first[[1]][used])
}

coding_figure <- function(cells) {
  cells$level <- factor(cells$level, rev(unique(cells$level)))
  cells$column <- factor(cells$column, unique(cells$column))
  cells$text <- ifelse(is.na(cells$value), ".", show_number(signif(cells$value, 3)))
  top <- max(abs(cells$value), na.rm = TRUE)
  wide <- nlevels(cells$column) > 8 || max(nchar(levels(cells$column))) > 18
  angle <- if (nlevels(cells$column) > 14) 65 else if (wide) 35 else 0
  size <- if (length(unique(cells$level)) > 14 || nlevels(cells$column) > 14) 3 else 4.4
  ggplot2::ggplot(cells, ggplot2::aes(x = .data$column, y = .data$level)) +
    ggplot2::geom_tile(ggplot2::aes(fill = .data$value), colour = "white", linewidth = 1) +
    ggplot2::geom_text(ggplot2::aes(label = .data$text, colour = .data$value > 0.6 * top),
      size = size) +
    ggplot2::scale_fill_gradient2(low = tones[["accent"]], mid = "#f3f1ec", high = tones[["main"]],
      na.value = tones[["gone"]], limits = c(-top, top)) +
    ggplot2::scale_colour_manual(values = c("FALSE" = tones[["ink"]], "TRUE" = "white"),
      na.value = tones[["ink"]]) +
    ggplot2::facet_wrap("source", scales = "free", ncol = 1) +
    ggplot2::scale_x_discrete(position = "top", labels = function(x) axis_words(x, 26)) +
    figure_theme() +
    ggplot2::theme(panel.grid.major = ggplot2::element_blank(),
      strip.text = ggplot2::element_blank(),
      plot.margin = ggplot2::margin(14, if (angle) 90 else 18, 12,
        14), axis.text.x.top = ggplot2::element_text(angle = angle,
        hjust = if (angle) 0 else 0.5)) +
    ggplot2::labs(x = NULL, y = NULL)
}
