# Pieces of the page that several panes use. All text of others goes through htmltools, which
# escapes it; the only markup put in as it is are drawings and colours of our own making.

# What the package says, as it says it elsewhere: lines with our own colours.
said_html <- function(lines, label, class = "said") {
  if (!length(lines)) return(NULL)
  coloured <- cli::ansi_html(for_terminal(lines), csi = "drop")
  htmltools::tags$pre(class = class, tabindex = "0", role = "group", `aria-label` = label,
    htmltools::HTML(paste(coloured, collapse = "\n")))
}

# As on a terminal with colours and all letters, of the width of a pane.
as_on_page <- function(code) {
  withr::local_options(cli.num_colors = 256L, cli.unicode = TRUE, width = 62,
    ableturn.quiet = NULL, ableturn.progress = FALSE)
  code
}

printed_html <- function(x, label) {
  as_on_page(said_html(utils::capture.output(print(x)), label))
}

receipt_html <- function(receipt, label = "Receipt") {
  if (length(receipt)) as_on_page(said_html(receipt_lines(receipt), label))
}

# An error in the words of the package: what is wrong, and what to do. Arguments are called as the
# `fields` of the form call them.
error_words_of <- function(error, fields = list()) {
  if (inherits(error, "ableturn_error_argument_needed")) return(wanted_words(error, fields))
  lines <- strsplit(conditionMessage(error), "\n", fixed = TRUE)[[1]]
  for (argument in names(fields)) {
    lines <- gsub(paste0("`", argument, "`"), paste0("\u201c", fields[[argument]]$label, "\u201d"),
      lines, fixed = TRUE)
  }
  show_controls(trimws(lines[nzchar(trimws(lines))]))
}

wanted_words <- function(error, fields) {
  argument <- error$detail$argument
  paste0("Still to be filled in: ", fields[[argument]]$label %||% "the variables, at the left", ".")
}

error_html <- function(error, class = "error", fields = list()) {
  if (!is.null(error)) error_lines_html(error_words_of(error, fields), class)
}

error_lines_html <- function(lines, class = "error") {
  htmltools::tags$div(class = class, htmltools::tags$strong(lines[1]),
    lapply(lines[-1], htmltools::tags$div))
}

# A button that says something to R: `do` and what goes with it, as data-* of the page has it.
# `called`: its name for screen readers, where its words tell too little.
button_html <- function(words, do, ..., class = NULL, called = NULL, off = FALSE) {
  with <- list(...)
  names(with) <- paste0("data-", names(with), recycle0 = TRUE)
  htmltools::tags$button(type = "button", class = class, `data-do` = do, `aria-label` = called,
    disabled = if (off) NA, !!!with, words)
}

# A drawing, or in words why there is none. `height` and `width` in inches; a small one keeps more
# of its height, and lines of its title that are folded have theirs.
picture_html <- function(figure, id, words, width = 7.4, height = 3.9) {
  fits <- drawn_width(width)
  tryCatch({
    folds <- unlist(gregexpr("\n", unlist(figure$labels[c("title", "subtitle", "caption")])))
    height <- height * max(0.8, fits / width) + 0.22 * sum(folds > 0)
    in_plain_settings(figure_html(figure, id, words, fits, height))
  }, error = function(e) error_html(e, "no-picture"))
}

# Pictures are drawn for the room that the page has for them, in pixels.
with_room <- function(event, code) {
  room <- suppressWarnings(as.numeric(event$wide))
  withr::local_options(ableturn.room = if (length(room) == 1 && isTRUE(room > 100)) room)
  force(code)
}

# What is not shown until it is opened.
folded_html <- function(title, ..., open = FALSE) {
  htmltools::tags$details(open = if (open) NA, htmltools::tags$summary(title), ...)
}

as_html <- function(...) as.character(htmltools::doRenderTags(htmltools::tagList(...)))

as_json <- function(texts) as.character(jsonlite::toJSON(as.character(texts)))
