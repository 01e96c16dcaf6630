# The figure of a variable as an image inside the page, with words for those who do not see it.
report_figure <- function(name, book, number) {
  figure <- figure_before_after(book, tidyselect::all_of(name))
  figure_html(figure, paste0("f", number), paste0(named_label(book, name), ". ", validity_words(book, name), "."))
}

figure_html <- function(figure, id, words, width = 9, height = 4.6) {
  image <- svglite::svgstring(width = width, height = height, bg = "white", standalone = FALSE, fix_text_size = FALSE)
  on.exit(if (grDevices::dev.cur() > 1) grDevices::dev.off())
  print(figure)
  grDevices::dev.off()
  drawn <- gsub("(['(]#?)cp", paste0("\\1", id, "cp"), paste(image(), collapse = "\n"))
  drawn <- sub("<svg ", paste0("<svg role='img' aria-label=\"", htmltools::htmlEscape(words, TRUE), "\" "), drawn)
  htmltools::tags$figure(htmltools::HTML(drawn))
}
