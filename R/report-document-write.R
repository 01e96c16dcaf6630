# What is printed in a document, in the language that it is written in.

# The parts in Markdown, which pandoc turns into whatever the document is; or in the language of the
# document where it is written in that.
written_parts <- function(parts, form) {
  parts <- Filter(function(part) length(part) && (!is.data.frame(part) || nrow(part)), parts)
  writer <- document_writers[[form]]
  paste0("\n", paste(vapply(parts, function(part) {
    if (is.data.frame(part)) writer$table(part) else
      if (inherits(part, "ableturn_part_title")) writer$heading(part) else writer$text(part)
  }, ""), collapse = "\n\n"), "\n")
}

document_writers <- list(
  markdown = list(
    table = function(table) paste(pipe_table(table), collapse = "\n"),
    heading = function(text) paste0("**", text_markdown(trimws(text)), "**"),
    text = function(text) text_markdown(text)
  ),
  html = list(
    table = function(table) written_by_knitr(table, "html"),
    heading = function(text) paste0("<p><strong>", htmltools::htmlEscape(text), "</strong></p>"),
    text = function(text) paste0("<p>", htmltools::htmlEscape(text), "</p>")
  ),
  latex = list(
    table = function(table) written_by_knitr(table, "latex"),
    heading = function(text) paste0("\\textbf{", text_latex(text), "}\n"),
    text = function(text) text_latex(text)
  )
)

written_by_knitr <- function(table, form) {
  paste(knitr::kable(shown_cells(table), format = form, align = sides_of(shown_cells(table)),
    row.names = FALSE), collapse = "\n")
}

# Numbers stand at the right. Where a table is wider than a page, its columns are as wide in
# relation as the line below the names.
pipe_table <- function(table) {
  line <- function(cells) paste0("| ", paste(cells, collapse = " | "), " |")
  shown <- shown_cells(table)
  wide <- pmin(40, pmax(4, unlist(Map(widest, names(table), shown))))
  dashes <- strrep("-", wide - 1)
  cells <- lapply(shown, text_markdown)
  c(line(text_markdown(names(table))),
    line(ifelse(sides_of(shown) == "r", paste0(dashes, ":"), paste0(":", dashes))),
    do.call(paste0, c("| ", unname(c(cells[1], lapply(cells[-1], function(x) {
      paste0(" | ", x)
    }))), " |")))
}

shown_cells <- function(table) {
  cells <- lapply(table, function(x) {
    text <- if (is.numeric(x)) show_cell(x) else as.character(x)
    ifelse(is.na(text), "", show_controls(text))
  })
  structure(cells, names = names(table), class = "data.frame",
    row.names = .set_row_names(nrow(table)))
}

sides_of <- function(cells) {
  ifelse(vapply(cells, function(x) {
    any(grepl("[0-9]", x)) && all(grepl("^[-+0-9., %\u00b7]*$", x))
  }, NA), "r", "l")
}

# Text of others in LaTeX: no sign in it is a command.
text_latex <- function(text) {
  plain <- c("\\" = "\\textbackslash{}", "{" = "\\{", "}" = "\\}", "$" = "\\$", "&" = "\\&",
    "#" = "\\#", "%" = "\\%", "_" = "\\_", "^" = "\\textasciicircum{}",
    "~" = "\\textasciitilde{}")
  signs <- strsplit(as.character(text), "")[[1]]
  paste(ifelse(signs %in% names(plain), plain[signs], signs), collapse = "")
}

form_of_document <- function() {
  out <- knitr::opts_knit$get("out.format")
  if (identical(out, "html") && is.null(knitr::pandoc_to())) return("html")
  if (out %in% c("latex", "sweave", "listings")) "latex" else "markdown"
}
