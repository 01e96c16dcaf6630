#' @include desk-form.R
NULL

# Help on the page: a line at the field with an example, and the page of each turn, which says what
# it computes, when one wants it, and where that comes from. It is the help page of the function,
# as it was installed.

# Beside the name of a field of a turn.
help_button <- function(at) {
  verb <- at$state$form$verb
  if (is.null(verb)) return(NULL)
  button_html("?", "help", verb = verb, argument = at$argument, class = "ask-help",
    called = paste("Help:", at$field$label))
}

# The dialogue with the page of a turn; of one argument, what is said of that stands on top.
help_html <- function(verb, argument = NULL) {
  tags <- htmltools::tags
  form <- desk_forms[[verb]]
  field <- if (is_one(argument, is.character)) form_fields(verb)[[argument]]
  page <- help_page(verb)
  tags$div(id = "help-page", tags$h2(id = "leave-title", field$label %||% form$ask),
    if (!is.null(field)) tags$div(class = "argument",
      if (field$kind != "rules") argument_html(page, argument),
      if (!is.null(field$help)) tags$p(field$help)),
    tags$p(tags$strong(form$ask), ". ", form$when),
    if (is.null(page)) tags$p(class = "quiet", "The help pages are not installed here.") else
      folded_html("The whole page", tags$div(class = "help-page", htmltools::HTML(page)),
        open = is.null(field)),
    tags$p(class = "buttons", tags$button(type = "button", class = "close-dialog main", "Back")))
}

# The page as a piece of HTML without links; NULL where none is installed. It is our own text.
help_page <- function(verb) {
  name <- function_of_form(verb)
  known <- help_pages[[name]]
  if (!is.null(known)) return(known)
  pages <- tryCatch(tools::Rd_db("ableturn"), error = function(e) list())
  found <- Filter(function(rd) name %in% rd_aliases(rd), pages)
  if (!length(found)) return(NULL)
  path <- tempfile(fileext = ".html")
  on.exit(unlink(path))
  tools::Rd2HTML(found[[1]], path, fragment = TRUE, stages = "render")
  text <- paste(readLines(path, encoding = "UTF-8", warn = FALSE), collapse = "\n")
  text <- gsub("</?a\\b[^>]*>|<h2[^>]*>.*?</h2>", "", text, perl = TRUE)
  assign(name, text, help_pages)
  text
}

help_pages <- new.env(parent = emptyenv())

rd_aliases <- function(rd) {
  unlist(lapply(rd, function(part) {
    if (identical(attr(part, "Rd_tag"), "\\alias")) trimws(paste(unlist(part), collapse = ""))
  }))
}

# What the page says of one argument.
argument_html <- function(page, argument) {
  if (is.null(page)) return(NULL)
  rows <- regmatches(page, gregexpr("(?s)<tr[^>]*>.*?</tr>", page, perl = TRUE))[[1]]
  about <- grepl(paste0("<code[^>]*>[^<]*\\b", argument, "\\b[^<]*</code>\\s*</td>"), rows,
    perl = TRUE)
  if (!any(about)) return(NULL)
  row <- rows[about][1]
  cells <- regmatches(row, gregexpr("(?s)<td>.*?</td>", row, perl = TRUE))[[1]]
  htmltools::HTML(gsub("</?td>", "", cells[length(cells)]))
}
