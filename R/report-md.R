# The report as Markdown, without figures.
report_markdown <- function(book, title) {
  told <- as.data.frame(findings(book))
  c(
    paste("#", text_markdown(title)), "", facts_markdown(summary_part(book, told)), "",
    "## Findings", "", if (nrow(told)) findings_markdown(told) else "Nothing looks wrong.", "",
    "## Derived variables", "", unlist(lapply(derived_names(book),
      function(name) variable_markdown(variable_part(name, book, told)))),
    "## Methods paragraph", "", text_markdown(paste(methods_words(book), collapse = " ")), "",
    "## The whole script",
    "",
    code_markdown(script_lines(book, scripts_told(book)[1])), "", "## Codebook", "",
    table_markdown(as.data.frame(codebook(book))[c("name", "label", "level", "codes",
      "missing", "source")])
  )
}

facts_markdown <- function(facts) {
  facts <- facts[nzchar(facts)]
  paste0("- ", names(facts), ": ", text_markdown(facts))
}

findings_markdown <- function(told) {
  ends <- ifelse(nzchar(told$accepted), paste("Accepted:", told$accepted), told$todo)
  paste0("- ", ifelse(told$severity == "warn" & !nzchar(told$accepted), "**open** ", ""),
    text_markdown(told$what), " ", text_markdown(ends), " (", told$id, ")")
}

variable_markdown <- function(part) {
  c(
    paste0("### ", text_markdown(part$name), ": ", text_markdown(part$label)), "",
    text_markdown(part$words), "",
    facts_markdown(part$facts), "",
    if (nrow(part$findings)) c(findings_markdown(part$findings),
      ""), table_markdown(part$rules), table_markdown(part$cross),
    "Formula:", "", code_markdown(part$formula), "",
    if (!is.null(part$working)) c(paste("Worked out for", part$working$row), "",
      code_markdown(part$working$lines), ""),
    paste0(part$script$title, ":"), "", code_markdown(part$script$lines), ""
  )
}

code_markdown <- function(lines) paste0("    ", show_controls(lines))

# Text of others in Markdown: no sign in it opens a tag, a link, a heading or anything else.
text_markdown <- function(text) {
  text <- gsub("&", "&amp;", gsub("\\s+", " ", show_controls(as.character(text))), fixed = TRUE)
  text <- gsub("<", "&lt;", gsub(">", "&gt;", text, fixed = TRUE), fixed = TRUE)
  text <- gsub("([\\\\`*|~^$\\[\\]@])", "\\\\\\1", text, perl = TRUE)
  text <- gsub("(?<![A-Za-z0-9])_|_(?![A-Za-z0-9])", "\\\\_", text, perl = TRUE)
  text <- gsub("(^|(?<=\\s))(#+|[-+=]+)(?=\\s|$)", "\\\\\\2", text, perl = TRUE)
  text <- gsub("^([0-9]+)([.)])(?=\\s|$)", "\\1\\\\\\2", text, perl = TRUE)
  gsub("(?i)(www)[.]", "\\1\\\\.", gsub("://", "\\\\://", text, fixed = TRUE), perl = TRUE)
}

table_markdown <- function(table) {
  if (is.null(table)) return(NULL)
  line <- function(cells) paste0("| ", paste(cells, collapse = " | "), " |")
  body <- vapply(seq_len(nrow(table)),
    function(i) line(text_markdown(unlist(lapply(table, function(v) v[i])))), "")
  c(line(text_markdown(names(table))), line(rep("---", ncol(table))), body, "")
}
