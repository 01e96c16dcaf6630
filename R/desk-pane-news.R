# The pane that tells what is new in other data.

# What is new in data that the steps of others were applied to, and what was learned from these.
news_html <- function(book) {
  tags <- htmltools::tags
  made_on <- info_of(book)$recorded
  if (is.null(made_on)) return(NULL)
  news <- as.data.frame(new_in_data(book))
  users <- recorded_names(book)
  other <- !identical(basename(made_on$file %||% ""), basename(info_of(book)$file %||% ""))
  if (!nrow(news) && !(other && length(users))) return(NULL)
  tags$div(class = "lesson news", role = "status",
    tags$p(tags$strong(paste("These steps were made on", show_controls(made_on$file %||%
      "other data"))), if (!is.null(made_on$rows)) paste0(" (", counted(made_on$rows, "row"),
      ").")),
    if (length(users)) tags$p(paste0("As on record: what was learned there for ",
      name_list(users, 6), ".")),
    if (nrow(news)) news_list_html(news),
    if (length(users)) tags$p(class = "buttons", button_html("Learn anew from these data",
      "relearn", name = "")))
}

news_list_html <- function(news) {
  tags <- htmltools::tags
  tags$ul(lapply(seq_len(min(6, nrow(news))), function(i) {
    tags$li(show_controls(paste0(news$variable[i], ": ", news$what[i], " ", news$detail[i], " (",
      counted(news$rows[i], "row"), ")")))
  }), if (nrow(news) > 6) tags$li(paste("and", nrow(news) - 6, "more: see Findings")))
}
