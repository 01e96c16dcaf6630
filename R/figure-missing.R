#' Draw who lacks what, and what each threshold would score
#'
#' For several variables: how many rows lack each, by reason. For a composite
#' also how many rows would be scored if at least 1, 2, ... items had to be
#' valid, the threshold in force marked.
#'
#' @param book A turnbook, or a data frame.
#' @param vars Variables, or one composite, whose items are taken.
#' @return A ggplot.
#' @examplesIf requireNamespace("ggplot2", quietly = TRUE)
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_composite(book, tr_1:tr_4, as = "trust", at_least = 3)
#' figure_missing(book, trust)
#' @export
figure_missing <- function(book, vars) {
  need_figures()
  book <- as_book(book)
  names <- select_vars(book, rlang::enquo(vars))
  score <- if (length(names) == 1 && length(derived_in(book, names)$counts$with)) names
  if (length(score)) names <- formula_vars(derived_in(book, score)$expr)
  bars <- lacking_bars(book, names)
  if (length(score)) bars <- rbind(bars, threshold_bars(book, score))
  title <- if (length(score)) paste("Missing answers behind", named_label(book, score)) else
    "Missing answers"
  titled(missing_figure(bars), title, paste(grouped(row_count(book)), "rows"))
}

lacking_bars <- function(book, names) {
  do.call(rbind, lapply(names, function(name) {
    kinds <- missing_of(variable_in(book, name))
    if (!length(kinds)) kinds <- c(none = 0)
    data.frame(panel = "rows that lack it, by reason", level = name, kind = names(kinds),
      rows = as.numeric(kinds), told = sum(kinds), marked = FALSE)
  }))
}

# How many rows have at least so many valid items.
threshold_bars <- function(book, score) {
  derived <- derived_in(book, score)
  rows <- rows_with_items(derived)
  least <- seq_along(rows)
  data.frame(panel = "rows scored if so many items must be valid",
    level = ifelse(least == length(rows), paste("all", length(rows)), paste("at least", least)),
    kind = "scored",
    rows = rows, told = rows, marked = least == (as.list(derived$expr)$at_least %||% length(rows)))
}

missing_figure <- function(bars) {
  bars$panel <- factor(bars$panel, unique(bars$panel))
  bars$level <- factor(bars$level, rev(unique(bars$level)))
  kinds <- setdiff(unique(bars$kind), c("none", "scored"))
  fills <- c(setNames(category_tones(length(kinds)), kinds), scored = tones[["soft"]],
    none = tones[["grid"]])
  each <- bars[!duplicated(paste(bars$panel, bars$level)), ]
  reasons <- tapply(bars$kind, list(bars$level), function(k) {
    paste(setdiff(k, c("none", "scored")),
      collapse = ", ")
  })
  each$text <- paste0(grouped(each$told), ifelse(each$kind == "scored",
    ifelse(each$marked, "  in force", ""),
    paste0("  ", short_words(reasons[as.character(each$level)], 26))))
  ggplot2::ggplot(bars, ggplot2::aes(y = .data$level, x = .data$rows)) +
    ggplot2::geom_col(ggplot2::aes(fill = .data$kind), width = 0.7) +
    ggplot2::geom_col(data = bars[bars$marked, ], width = 0.7, fill = tones[["main"]]) +
    ggplot2::geom_text(ggplot2::aes(x = .data$told, label = .data$text), each,
      hjust = -0.06, size = 3.9, colour = tones[["ink"]]) +
    ggplot2::scale_fill_manual(values = fills) +
    ggplot2::scale_x_continuous(labels = grouped, expand = ggplot2::expansion(c(0, 0.55))) +
    ggplot2::facet_wrap("panel", scales = "free") + figure_theme() +
    ggplot2::theme(panel.grid.major.y = ggplot2::element_blank()) +
    ggplot2::labs(x = NULL, y = NULL)
}
