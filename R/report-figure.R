# The figure of a variable as an image inside the page, with words for those who do not see it.
report_figure <- function(name, book, number) {
  figure <- figure_before_after(book, tidyselect::all_of(name))
  figure_html(figure, paste0("f", number), paste0(named_label(book, name), ". ", validity_words(book, name), "."))
}

figure_html <- function(figure, id, words, width = 9, height = 4.6) {
  drawn <- own_ids(drawn_lines(figure, width, height), id)
  drawn <- sub("<svg ", paste0("<svg role='img' aria-label=\"", htmltools::htmlEscape(words, TRUE), "\" "), drawn)
  htmltools::tags$figure(htmltools::HTML(drawn))
}

# Names of parts of a drawing, told apart from those of the other drawings of the page. Inside a tag
# only: what words of others say is not touched, as no tag can begin in them.
own_ids <- function(drawn, id) {
  drawn <- gsub("(<clipPath id=')cp", paste0("\\1", id, "cp"), drawn)
  gsub("(<[a-zA-Z][^<>]*clip-path='url\\(#)cp", paste0("\\1", id, "cp"), drawn)
}

# On a device of its own, which is closed whatever happens; those of the analyst stay open.
drawn_lines <- function(figure, width, height) {
  # Fonts are looked for by language, too; a figure is to look alike wherever it is drawn.
  language <- Sys.getenv("FC_LANG", NA)
  Sys.setenv(FC_LANG = "en")
  on.exit(if (is.na(language)) Sys.unsetenv("FC_LANG") else Sys.setenv(FC_LANG = language))
  image <- svglite::svgstring(width = width, height = height, bg = "white", standalone = FALSE, fix_text_size = FALSE)
  device <- grDevices::dev.cur()
  tryCatch(print(figure), finally = grDevices::dev.off(device))
  paste(image(), collapse = "\n")
}
