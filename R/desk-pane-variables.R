# The pane of variables: what is there, a line for each. Lines come a hundred at a time, as they
# scroll into sight; what has to be counted is counted for those that are seen.

variables_at_once <- 100

# The lines from one place on, and where the next ones begin.
variables_html <- function(state, view, from = 1) {
  tags <- htmltools::tags
  found <- names_listed(state$book, view)
  shown <- found[seq_along(found) >= from & seq_along(found) < from + variables_at_once]
  htmltools::tagList(
    if (from == 1 && !length(found)) tags$p(class = "quiet none",
      "No name, label, type or level has this."),
    lapply(shown, variable_row, state = state),
    if (from + variables_at_once <= length(found)) tags$div(class = "more",
      `data-list` = "variables", `data-from` = from + variables_at_once, `data-all` =
        length(found))
  )
}

# One variable, in one line: its name and label; its share of valid rows is filled in when it is
# seen. What it is besides, is told to who points at it, and to screen readers.
variable_row <- function(name, state) {
  tags <- htmltools::tags
  book <- state$book
  label <- meaning_in(book, name)$label
  told <- told_of_variable(name, book)
  tags$div(role = "option", class = paste("variable-row", if (is_derived(book, name)) "derived"),
    `data-name` = name, `aria-selected` = if (name %in% state$chosen) "true" else "false",
    title = show_controls(told),
    tags$span(class = "tick", `aria-hidden` = "true"),
    tags$span(class = "words", tags$span(class = "name", show_controls(name)), " ",
      if (!is.null(label) && label != name) tags$span(class = "label", show_controls(label)),
      tags$span(class = "for-readers", paste0(", ", show_controls(told)))),
    tags$span(class = "share"))
}

# Its label, level, type, set, and what it was made from, in one line.
told_of_variable <- function(name, book) {
  meaning <- meaning_in(book, name)
  from <- derived_in(book, name)$from
  told <- c(meaning$level, kind_in_words(book, name), if (!is.null(meaning$set)) paste("set:",
    meaning$set), if (length(from)) paste("made here from", from_in_words(from)) else
    if (is_derived(book, name)) "made here")
  paste(told, collapse = ", ")
}

# The share of valid rows, as a bar and in words, and a mark where codes look like missing ones.
share_html <- function(name, book) {
  tags <- htmltools::tags
  facts <- desk_variables(book, name)[[1]]
  percent <- round(100 * facts$valid)
  words <- paste0(if (percent == 100 && facts$valid < 1) "almost 100" else percent, " % valid")
  codes <- paste(facts$suspects, collapse = ", ")
  htmltools::tagList(
    if (nzchar(codes)) tags$span(class = "mark", title = paste("codes that look like missing ones:",
      codes), "\u25b2", tags$span(class = "for-readers", paste("missing codes?", codes))),
    tags$span(class = "bar", title = words, tags$span(style = paste0("width:", percent, "%"))),
    tags$span(class = "for-readers percent", words)
  )
}

# What stands above the list: what is looked for, shown and sorted by.
list_tools_html <- function() {
  tags <- htmltools::tags
  choice <- function(id, words, entries) {
    tags$select(id = id, `aria-label` = words, class = "list-tool", Map(function(value, entry) {
      tags$option(value = value, entry$words)
    }, names(entries), unname(entries)))
  }
  htmltools::tagList(
    tags$input(id = "search", type = "search", class = "list-tool", autocomplete = "off",
      spellcheck = "false", placeholder = "Search", `aria-label` =
        "Search: words of the name, label, type or level"),
    tags$div(class = "list-tools", choice("list-show", "Show", list_filters),
      choice("list-sort", "Sort", list_orders)))
}

# What a list that is shown gets, where another book or view has other variables in it: the lines
# that are new or changed, each with the name before it, and the names that are gone.
list_changes <- function(screen, before) {
  now <- names_listed(screen$state$book, screen$view)
  then <- names_listed(before$state$book, before$view)
  kept <- intersect(now, then)
  changed <- c(setdiff(now, then), kept[!same_lines(kept, screen$state$book, before$state$book)])
  moved <- !identical(kept, intersect(then, now))
  if (moved || length(changed) > 40) return(NULL)
  list(do = "lines", list = "variables", gone = as.list(setdiff(then, now)), all = length(now),
    put = lapply(intersect(now, changed), function(name) {
      place <- match(name, now)
      list(key = name, after = if (place > 1) now[place - 1],
        html = as_html(variable_row(name, screen$state)))
    }))
}

# Whether variables have the same line in two books: made by the same object, with the same meaning.
same_lines <- function(names, book, before) {
  objects <- function(of) lapply(names, function(name) derived_in(of, name))
  same_objects(objects(book), objects(before)) &
    same_objects(unname(meanings_of(book)[names]), unname(meanings_of(before)[names]))
}
