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
#' @section Errors: Class `ableturn_error`, if `var` is an original or the package ggplot2 is not
#'   installed.
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
  if (!row_count(book)) return(empty_figure(book, name))
  source <- derived_in(book, name)$from
  if (length(source) != 1) return(figure_alone(book, name))
  before <- is_counted(book, source)
  if (!before && is_counted(book, name)) return(figure_bands(book, source, name))
  if (before) figure_codes(book, source, name) else figure_numbers(book, source, name)
}

figure_alone <- function(book, name) {
  derived <- derived_in(book, name)
  counted <- is_counted(book, name)
  figure <- if (counted) bars_figure(value_bars(book, name, "rows")) else
    histogram_figure(histogram_bars(book, name, "rows"))
  titled(figure, named_label(book, name), paste0(validity_words(book, name), ". From ",
    from_in_words(derived$from)), if (!counted) beyond_words(book, name), x = NULL, y = "rows")
}

figure_numbers <- function(book, source, name) {
  bars <- rbind(histogram_bars(book, source, paste0("before: ", source)),
    histogram_bars(book, name, paste0("after: ", name)))
  bars$panel <- factor(bars$panel, unique(bars$panel))
  titled(histogram_figure(bars) + ggplot2::facet_wrap("panel", ncol = 1, scales = "free"),
    named_label(book, name), validity_words(book, name),
    beyond_words(book, c(source, name)), y = "rows")
}

figure_codes <- function(book, source, name) {
  bars <- rbind(before_bars(book, source, name), value_bars(book, name, paste0("after: ", name)))
  bars$panel <- factor(bars$panel, unique(bars$panel))
  titled(bars_figure(bars) + ggplot2::facet_wrap("panel", scales = "free_y"),
    named_label(book, name), validity_words(book, name))
}

# The old values, each in the tones of what became of them.
before_bars <- function(book, source, name) {
  both <- cross_two(source, name, book)
  old <- level_words(both$row, both$row_label, both$row_missing)
  new <- level_words(both$column, both$column_label, both$column_missing)
  joined_bars(data.frame(panel = paste0("before: ", source), level = old, become = new,
    gone = both$column_missing, rows = both$rows))
}
