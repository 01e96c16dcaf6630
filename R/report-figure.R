# The figure of a variable as an image inside the page, with words for those who do not see it.
report_figure <- function(name, book, number) {
  figure <- figure_before_after(book, tidyselect::all_of(name))
  figure_html(figure, paste0("f", number), paste0(named_label(book, name), ". ", validity_words(book, name), "."))
}

figure_html <- function(figure, id, words, width = 9, height = 4.6) {
  drawn <- gsub("(['(]#?)cp", paste0("\\1", id, "cp"), drawn_lines(figure, width, height))
  drawn <- sub("<svg ", paste0("<svg role='img' aria-label=\"", htmltools::htmlEscape(words, TRUE), "\" "), drawn)
  htmltools::tags$figure(htmltools::HTML(drawn))
}

# On a device of its own, which is closed whatever happens; those of the analyst stay open.
drawn_lines <- function(figure, width, height) {
  image <- svglite::svgstring(width = width, height = height, bg = "white", standalone = FALSE, fix_text_size = FALSE)
  device <- grDevices::dev.cur()
  tryCatch(print(figure), finally = grDevices::dev.off(device))
  paste(image(), collapse = "\n")
}
