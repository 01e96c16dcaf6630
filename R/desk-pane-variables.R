# The pane of variables: what is there. Rows come a hundred at a time, as they scroll into sight;
# what has to be counted is counted for those that are seen.

variables_at_once <- 100

# Names that hold all the words that are looked for, in the name or the label; what was made
# here first.
names_found <- function(book, search) {
  names <- c(derived_names(book), original_names(book))
  words <- strsplit(lower_case(trimws(search)), "[[:space:]]+")[[1]]
  if (!any(nzchar(words))) return(names)
  text <- vapply(names, described_shortly, "", book = book)
  names[Reduce(`&`, lapply(words, function(word) grepl(word, text, fixed = TRUE)))]
}

# The rows from one place on, and where the next ones begin.
variables_html <- function(state, search, from = 1) {
  found <- names_found(state$book, search)
  shown <- found[seq_along(found) >= from & seq_along(found) < from + variables_at_once]
  derived <- vapply(shown, is_derived, NA, book = state$book)
  htmltools::tagList(
    if (from == 1 && !length(found)) htmltools::tags$p(class = "quiet",
      "No name or label has this."),
    group_html("Made here", shown[derived], state),
    group_html("Originals", shown[!derived], state),
    if (from + variables_at_once <= length(found)) htmltools::tags$div(class = "more",
      `data-list` = "variables", `data-from` = from + variables_at_once)
  )
}

group_html <- function(title, names, state) {
  if (!length(names)) return(NULL)
  htmltools::tags$div(role = "group", `aria-label` = title, `data-group` = title,
    htmltools::tags$div(class = "group-title", `aria-hidden` = "true", title),
    lapply(names, variable_row, state = state))
}

# One variable: its name, label, what it is; the share of its valid rows is filled in when it is
# seen. Its place in the book is its id, as names may hold anything.
variable_row <- function(name, state) {
  tags <- htmltools::tags
  book <- state$book
  meaning <- meaning_in(book, name)
  from <- derived_in(book, name)$from
  tags$div(role = "option", id = variable_id(name, book), class = "variable-row",
    `data-name` = name, `aria-selected` = if (name %in% state$chosen) "true" else "false",
    tags$span(class = "tick", `aria-hidden` = "true"),
    tags$span(class = "name", show_controls(name)),
    tags$span(class = "kind", paste(c(meaning$level, kind_in_words(book, name)), collapse = ", ")),
    if (!is.null(meaning$label) && meaning$label != name) tags$span(class = "label",
      show_controls(meaning$label)),
    if (length(from)) tags$span(class = "from", paste("from", from_in_words(from))),
    tags$span(class = "share"))
}

variable_id <- function(name, book) paste0("v", match(name, names(book)))

# The share of valid rows, as a bar and in words, and a mark where codes look like missing ones.
share_html <- function(name, book) {
  tags <- htmltools::tags
  facts <- desk_variables(book, name)[[1]]
  percent <- round(100 * facts$valid)
  htmltools::tagList(
    tags$span(class = "bar", `aria-hidden` = "true", tags$span(style = paste0("width:", percent,
      "%"))),
    tags$span(class = "percent", paste0(if (percent == 100 && facts$valid < 1) "almost 100" else
      percent, " % valid")),
    if (length(facts$suspects)) tags$span(class = "mark", paste("\u25b2 missing codes?",
      paste(facts$suspects, collapse = ", ")))
  )
}
